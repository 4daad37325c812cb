import { useState } from 'react'
import { Button } from 'react-bootstrap'
import { CropPicture } from './CropPicture'
import { ChoiceSetting, NumberSetting, TextSetting } from './fields'
import type { PictureAttrs } from './printNodes'

interface Props {
  readonly picture: PictureAttrs
  readonly mediaUrl: (id: string) => string
  readonly change: (picture: PictureAttrs) => void
  readonly makeDrawing: () => void
}

/** What can be set about the picture that is selected. */
export function PictureSettings({ picture, mediaUrl, change, makeDrawing }: Props) {
  const [cutting, setCutting] = useState(false)
  const turn = (by: number) => change({ ...picture, turn: ((picture.turn + by + 360) % 360) as PictureAttrs['turn'] })
  return (
    <section aria-label="Picture">
      <h2>Picture</h2>
      <TextSetting
        label="Alternative text"
        rows={2}
        limit={1_000}
        value={picture.alt}
        change={(alt) => change({ ...picture, alt })}
        hint="What it shows, for those who do not see it. Empty if it only decorates."
      />
      <NumberSetting
        label="Width, in percent of the page"
        least={5}
        most={100}
        value={picture.width}
        change={(width) => width !== null && change({ ...picture, width })}
      />
      <ChoiceSetting
        label="Place"
        value={picture.place}
        change={(place: PictureAttrs['place']) => change({ ...picture, place })}
        choices={[
          ['start', 'at the start of the line'],
          ['middle', 'in the middle'],
          ['end', 'at the end'],
        ]}
      />
      <div className="setting-acts">
        <Button size="sm" variant="outline-dark" onClick={() => turn(-90)}>
          Turn left
        </Button>
        <Button size="sm" variant="outline-dark" onClick={() => turn(90)}>
          Turn right
        </Button>
        <Button size="sm" variant="outline-dark" onClick={() => setCutting(!cutting)} aria-expanded={cutting}>
          Cut
        </Button>
        {picture.crop && (
          <Button size="sm" variant="outline-dark" onClick={() => change({ ...picture, crop: null })}>
            Whole picture
          </Button>
        )}
        <Button size="sm" variant="outline-dark" onClick={makeDrawing}>
          Let students draw on it
        </Button>
      </div>
      {cutting && (
        <CropPicture
          url={mediaUrl(picture.media)}
          aspect={picture.pixelWidth / picture.pixelHeight}
          crop={picture.crop}
          change={(crop) => change({ ...picture, crop })}
        />
      )}
    </section>
  )
}
