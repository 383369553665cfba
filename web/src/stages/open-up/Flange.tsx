import { isFastener, isThere, piecesOf, placesOf, tighteningOrder, type ItemRecord, type Piece } from '@uvula/core'
import './flange.css'

const SIZE = 380
const C = SIZE / 2

/** A fastener in its place: which entry, which of its pieces. */
export interface Placed {
  readonly item: ItemRecord
  readonly k: number
  readonly piece: Piece
}

/** Fasteners of a joint in the order they were entered; a state never moves one. */
export const placedOf = (items: readonly ItemRecord[]): readonly Placed[] =>
  items.filter(isFastener).flatMap((item) => piecesOf(item).map((piece, k) => ({ item, k, piece })))

/** An open joint with every fastener in its place: empty holes are what is off, half ones are loose on purpose. */
export function Flange({
  items,
  chosen,
  numbered = false,
  onTap,
  label,
}: {
  items: readonly ItemRecord[]
  chosen?: string
  /** The order in which they are drawn down, written on them. */
  numbered?: boolean
  onTap: (p: Placed) => void
  label: string
}) {
  const placed = placedOf(items)
  const shape = items.find((i) => i.more?.shape)?.more?.shape ?? 'round'
  const places = placesOf(placed.length, shape)
  const order = tighteningOrder(placed.length, shape)
  const round = shape === 'round'
  const r = Math.min(24, Math.max(13, 300 / Math.max(1, placed.length)))
  const at = (i: number): { x: number; y: number } =>
    round
      ? { x: C + 134 * places[i].x, y: C + 134 * places[i].y }
      : { x: C + 150 * places[i].x, y: C + 190 * places[i].y }
  const off = placed.filter((p) => p.piece.state === 'off').length
  return (
    <svg className="flange" viewBox={`0 0 ${SIZE} ${SIZE}`} role="group" aria-label={`joint at the ${label}`}>
      {round ? (
        <>
          <circle cx={C} cy={C} r={170} className="flange-body" />
          <circle cx={C} cy={C} r={96} className="flange-hole" />
        </>
      ) : (
        <>
          <rect x={6} y={C - 130} width={SIZE - 12} height={260} className="flange-body" />
          <rect x={40} y={C - 58} width={SIZE - 80} height={116} className="flange-hole" />
        </>
      )}
      <text x={C} y={C - 4} textAnchor="middle" className="flange-name">
        {label}
      </text>
      <text x={C} y={C + 26} textAnchor="middle" className="flange-sum">
        {off} off
      </text>
      {placed.map((p, i) => {
        const { x, y } = at(i)
        const { state, arrival } = p.piece
        const marked = arrival !== 'present' && !p.piece.renewed
        const key = `${p.item.id}:${p.k}`
        return (
          <g
            key={key}
            role="button"
            tabIndex={0}
            aria-label={`${p.item.name} ${p.k + 1}: ${isThere(p.piece) ? state : 'missing'}${numbered ? `, number ${order.indexOf(i) + 1}` : ''}`}
            aria-pressed={chosen === key}
            className={`fastener ${state} ${arrival}`}
            onClick={() => onTap(p)}
            onKeyDown={(e) => (e.key === 'Enter' || e.key === ' ') && (e.preventDefault(), onTap(p))}
          >
            <circle cx={x} cy={y} r={Math.max(26, r)} fill="transparent" />
            {chosen === key && <circle cx={x} cy={y} r={r + 6} className="fastener-chosen" />}
            <circle cx={x} cy={y} r={r} className="fastener-face" />
            {state === 'loose' && (
              <path d={`M ${x} ${y - r} A ${r} ${r} 0 0 1 ${x} ${y + r} Z`} className="ring-fill" />
            )}
            {marked && (
              <path d={`M ${x - r * 0.6} ${y - r * 0.6} L ${x + r * 0.6} ${y + r * 0.6}`} className="fastener-cross" />
            )}
            {numbered && (
              <text x={x} y={y + 7} textAnchor="middle" className={`fastener-number ${state}`}>
                {order.indexOf(i) + 1}
              </text>
            )}
          </g>
        )
      })}
    </svg>
  )
}
