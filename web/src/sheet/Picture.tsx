import { type PictureBlock, pictureLayout } from '@gavrin/core'
import { useSheet } from './surroundings'

/** A picture as it is cut, turned and placed. */
export function Picture({ block }: { readonly block: Omit<PictureBlock, 'id' | 'kind'> }) {
  const { mediaUrl } = useSheet()
  const { aspect, frame, picture } = pictureLayout(block)
  return (
    <figure
      className={`sheet-picture place-${block.place}`}
      style={{ width: `${block.width}%`, aspectRatio: String(aspect) }}
    >
      <span
        className="turned"
        style={{
          width: `${frame.width}%`,
          height: `${frame.height}%`,
          transform: `translate(-50%, -50%) rotate(${block.turn}deg)`,
        }}
      >
        <img
          src={mediaUrl(block.media)}
          alt={block.alt}
          draggable={false}
          loading="lazy"
          style={{
            left: `${picture.left}%`,
            top: `${picture.top}%`,
            width: `${picture.width}%`,
            height: `${picture.height}%`,
          }}
        />
      </span>
    </figure>
  )
}
