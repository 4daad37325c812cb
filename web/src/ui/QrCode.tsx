import { create } from 'qrcode'

interface Props {
  readonly text: string
  readonly label: string
  /** In pixels. */
  readonly size: number
}

/** A text as a QR code (ISO/IEC 18004), dark on white whatever the theme, with the quiet zone it needs. */
export function QrCode({ text, label, size }: Props) {
  const { modules } = create(text, { errorCorrectionLevel: 'M' })
  const quiet = 4
  const width = modules.size + 2 * quiet
  let path = ''
  for (let row = 0; row < modules.size; row++)
    for (let column = 0; column < modules.size; column++)
      if (modules.get(row, column)) path += `M${column + quiet} ${row + quiet}h1v1h-1z`
  return (
    <svg className="qr" width={size} height={size} viewBox={`0 0 ${width} ${width}`} role="img" aria-label={label}>
      <rect width={width} height={width} fill="#fff" />
      <path d={path} fill="#000" shapeRendering="crispEdges" />
    </svg>
  )
}
