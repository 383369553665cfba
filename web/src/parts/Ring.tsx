import type { StationState } from '@uvula/core'

/** The ring of a station: its state as a shape. */
export function Ring({ x, y, r = 11, state }: { x: number; y: number; r?: number; state: StationState }) {
  const face = <circle cx={x} cy={y} r={r} className="ring-face" />
  switch (state) {
    case 'unseen':
      return (
        <g>
          {face}
          <circle cx={x} cy={y} r={r} className="ring dotted" />
        </g>
      )
    case 'begun':
      return (
        <g>
          {face}
          <circle cx={x} cy={y} r={r} className="ring dotted" />
          <path d={`M ${x} ${y - r} A ${r} ${r} 0 0 1 ${x} ${y + r}`} className="ring" />
        </g>
      )
    case 'sound':
      return (
        <g>
          {face}
          <circle cx={x} cy={y} r={r} className="ring" />
        </g>
      )
    case 'suspect':
      return (
        <g>
          {face}
          <path d={`M ${x} ${y - r} A ${r} ${r} 0 0 1 ${x} ${y + r} Z`} className="ring-fill" />
          <circle cx={x} cy={y} r={r} className="ring" />
        </g>
      )
    case 'failed':
      return (
        <g>
          {face}
          <path
            d={`M ${x} ${y} L ${x - r * 0.9} ${y - r * 1.15} L ${x + r * 0.9} ${y - r * 1.15} Z`}
            className="ring-fill"
          />
          <path
            d={`M ${x + r * 0.72} ${y - r * 0.72} A ${r} ${r} 0 1 1 ${x - r * 0.72} ${y - r * 0.72}`}
            className="ring thick"
          />
        </g>
      )
    case 'mended':
      return (
        <g>
          <circle cx={x} cy={y} r={r + 5} className="ring-face" />
          <circle cx={x} cy={y} r={r + 4} className="ring thin" />
          <circle cx={x} cy={y} r={r - 1} className="ring" />
        </g>
      )
  }
}

/** What a ring says, for those who hear the page. */
export const RING_WORDS: Readonly<Record<StationState, string>> = {
  unseen: 'not looked at',
  begun: 'begun',
  sound: 'sound',
  suspect: 'suspect',
  failed: 'failed',
  mended: 'mended',
}
