import type { ItemRecord } from '@uvula/core'
import './flange.css'

const SIZE = 380
const C = SIZE / 2

/** An open joint with every fastener in its place: empty holes are what is off, half ones are loose on purpose. */
export function Flange({
  items,
  onTap,
  label,
}: {
  items: readonly ItemRecord[]
  onTap: (i: ItemRecord) => void
  label: string
}) {
  const places = items.flatMap((item) => Array.from({ length: item.count }, (_, k) => ({ item, k })))
  const n = Math.max(1, places.length)
  return (
    <svg className="flange" viewBox={`0 0 ${SIZE} ${SIZE}`} role="group" aria-label={`joint at the ${label}`}>
      <circle cx={C} cy={C} r={170} className="flange-body" />
      <circle cx={C} cy={C} r={96} className="flange-hole" />
      <text x={C} y={C - 4} textAnchor="middle" className="flange-name">
        {label}
      </text>
      <text x={C} y={C + 26} textAnchor="middle" className="flange-sum">
        {places.filter((p) => p.item.state === 'off').length} off
      </text>
      {places.map(({ item, k }, i) => {
        const a = (2 * Math.PI * i) / n - Math.PI / 2
        const [x, y] = [C + 134 * Math.cos(a), C + 134 * Math.sin(a)]
        const r = Math.min(24, 300 / n)
        return (
          <g
            key={`${item.id}${k}`}
            role="button"
            tabIndex={k === 0 ? 0 : -1}
            aria-label={`${item.name}: ${item.state}`}
            className={`fastener ${item.state} ${item.arrival}`}
            onClick={() => onTap(item)}
            onKeyDown={(e) => (e.key === 'Enter' || e.key === ' ') && (e.preventDefault(), onTap(item))}
          >
            <circle cx={x} cy={y} r={r} className="fastener-face" />
            {item.state === 'loose' && (
              <path d={`M ${x} ${y - r} A ${r} ${r} 0 0 1 ${x} ${y + r} Z`} className="ring-fill" />
            )}
            {item.arrival !== 'present' && (
              <path d={`M ${x - r * 0.6} ${y - r * 0.6} L ${x + r * 0.6} ${y + r * 0.6}`} className="fastener-cross" />
            )}
          </g>
        )
      })}
    </svg>
  )
}
