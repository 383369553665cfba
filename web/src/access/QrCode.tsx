import { useMemo } from 'react'
import { encode } from 'uqr'

/** Light cells around it that a camera needs. */
const MARGIN = 4

/** A text as a square that a camera reads; dark on light by night too, since many cameras read no other. */
export function QrCode({ text, label }: { text: string; label: string }) {
  const { size, path } = useMemo(() => {
    const { size, data } = encode(text, { border: MARGIN, ecc: 'M' })
    const path = data.flatMap((row, y) => row.map((dark, x) => (dark ? `M${x} ${y}h1v1h-1z` : ''))).join('')
    return { size, path }
  }, [text])
  return (
    <svg role="img" aria-label={label} viewBox={`0 0 ${size} ${size}`} className="size-180" shapeRendering="crispEdges">
      <rect width={size} height={size} fill="#fff" />
      <path d={path} fill="#000" />
    </svg>
  )
}
