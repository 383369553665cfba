import { describeEngine, hasMaf, type Vehicle } from '@uvula/core'
import './engine.css'

/** One part of the drawing that a tap changes: what it says now and what it says next. */
interface Turn {
  readonly id: string
  readonly label: string
  readonly next: (v: Vehicle) => Partial<Vehicle>
}

const cycle = <T,>(list: readonly T[], now: T): T => list[(list.indexOf(now) + 1) % list.length]

const TURNS = {
  metering: {
    id: 'metering',
    label: 'metering',
    next: (v) => ({ metering: cycle(['maf', 'map', 'maf+map'] as const, v.metering as 'maf') }),
  },
  throttle: {
    id: 'throttle',
    label: 'throttle',
    next: (v) =>
      v.throttle === 'electronic'
        ? { throttle: 'cable', idleControl: 'idle-valve' }
        : { throttle: 'electronic', idleControl: 'electronic-throttle' },
  },
  cylinders: {
    id: 'cylinders',
    label: 'cylinders',
    next: (v) => ({ cylinders: cycle(v.banks === 2 ? [6, 8] : [3, 4, 5, 6], v.cylinders) }),
  },
  banks: {
    id: 'banks',
    label: 'banks',
    next: (v) => (v.banks === 2 ? { banks: 1, cylinders: 4 } : { banks: 2, cylinders: 6 }),
  },
  induction: {
    id: 'induction',
    label: 'induction',
    next: (v) => ({ induction: v.induction === 'turbo' ? 'natural' : 'turbo' }),
  },
  injection: {
    id: 'injection',
    label: 'injection',
    next: (v) => ({ injection: v.injection === 'port' ? 'direct' : 'port' }),
  },
  egr: { id: 'egr', label: 'EGR', next: (v) => ({ egr: v.egr === 'valve' ? 'none' : 'valve' }) },
} satisfies Record<string, Turn>

const METERING = {
  maf: 'airflow sensor',
  map: 'pressure sensor',
  'maf+map': 'airflow and pressure',
  none: 'not metered',
} as const

/** The engine drawn from the vehicle; where it differs, a tap turns that part. */
export function EngineDrawing({
  vehicle: v,
  onChange,
  plain = false,
}: {
  vehicle: Vehicle
  onChange?: (part: Partial<Vehicle>) => void
  /** The drawing alone, without what can be turned. */
  plain?: boolean
}) {
  const cylinders = placeCylinders(v)
  const turn = (t: Turn): { onClick?: () => void; disabled: boolean } => ({
    disabled: !onChange,
    onClick: onChange && (() => onChange(t.next(v))),
  })
  return (
    <figure className="engine">
      <svg
        className={plain ? 'h-130 w-full' : 'max-h-210 w-full'}
        viewBox="0 0 340 210"
        role="img"
        aria-label={describeEngine(v)}
      >
        <path d="M 10 40 H 150 V 66 H 10 Z" className="pipe" />
        {hasMaf(v) && (
          <g>
            <rect x="34" y="30" width="26" height="46" className="part" />
            <path d="M 41 53 h 12 M 47 40 v 26" className="thin" />
          </g>
        )}
        {v.induction === 'turbo' && <path d="M 92 53 m -20 0 a 20 20 0 1 1 20 20 h 24" className="part" />}
        <line x1="132" x2="148" y1="40" y2="66" className="thick" />
        {v.throttle === 'cable' && <path d="M 140 30 q 20 -26 60 -22" className="thin" />}
        {v.idleControl === 'idle-valve' && <path d="M 118 66 v 24 h 46 v -24" className="part" />}
        <path d="M 150 30 H 322 V 76 H 150 Z" className="pipe" />
        {v.metering !== 'maf' && v.metering !== 'none' && (
          <rect x="270" y="14" width="26" height="18" className="part filled" />
        )}
        {v.egr === 'valve' && <path d="M 322 53 h 12 v 120 h -20" className="thin" />}
        {cylinders.map((c) => (
          <path key={`r${c.n}`} d={c.runner} className="runner" />
        ))}
        {cylinders.map((c) => (
          <g key={c.n}>
            <circle cx={c.x} cy={c.y} r={c.r} className="part" />
            {v.injection === 'direct' && <circle cx={c.x} cy={c.y} r="4" className="ring-fill" />}
          </g>
        ))}
      </svg>
      {!plain && (
        <ul className="grid grid-cols-2 gap-x-16 text-small">
          <TurnRow name="metering" value={METERING[v.metering]} {...turn(TURNS.metering)} />
          <TurnRow
            name="throttle"
            value={v.throttle === 'cable' ? 'cable, idle valve' : 'electronic'}
            {...turn(TURNS.throttle)}
          />
          <TurnRow name="cylinders" value={`${v.cylinders}`} {...turn(TURNS.cylinders)} />
          <TurnRow name="banks" value={v.banks === 2 ? 'two' : 'one'} {...turn(TURNS.banks)} />
          <TurnRow name="induction" value={v.induction} {...turn(TURNS.induction)} />
          <TurnRow name="injection" value={v.injection} {...turn(TURNS.injection)} />
          <TurnRow name="EGR" value={v.egr === 'valve' ? 'fitted' : 'none'} {...turn(TURNS.egr)} />
          <Litres v={v} onChange={onChange} />
        </ul>
      )}
    </figure>
  )
}

/** Cylinders and the runners to them; a second bank stands below the first, its runners between. */
function placeCylinders(v: Vehicle): { n: number; x: number; y: number; r: number; runner: string }[] {
  const per = Math.ceil(v.cylinders / v.banks)
  const step = 160 / (per + (v.banks === 2 ? 0.5 : 0))
  return Array.from({ length: v.cylinders }, (_, n) => {
    const second = n >= per
    const x = 158 + step * ((n % per) + 0.5 + (second ? 0.5 : 0))
    const y = v.banks === 1 ? 146 : second ? 184 : 122
    const r = Math.min(24, step * (v.banks === 2 ? 0.34 : 0.42))
    return { n, x, y, r, runner: `M ${x} 76 V ${y}` }
  })
}

function TurnRow({ name, value, ...button }: { name: string; value: string; onClick?: () => void; disabled: boolean }) {
  return (
    <li className="border-b border-b-line">
      <button className="w-full leading-tight" type="button" {...button} aria-label={`${name}: ${value}`}>
        <span className="text-soft">{name}</span> <b>{value}</b>
      </button>
    </li>
  )
}

function Litres({ v, onChange }: { v: Vehicle; onChange?: (part: Partial<Vehicle>) => void }) {
  const step = (by: number): void =>
    onChange?.({ displacementL: Math.round(10 * Math.min(8, Math.max(0.6, v.displacementL + by))) / 10 })
  return (
    <li className="flex items-center justify-between border-b border-b-line">
      <button
        className="w-tap text-center text-name"
        type="button"
        disabled={!onChange}
        aria-label="displacement down"
        onClick={() => step(-0.1)}
      >
        −
      </button>
      <b>{v.displacementL.toFixed(1)} L</b>
      <button
        className="w-tap text-center text-name"
        type="button"
        disabled={!onChange}
        aria-label="displacement up"
        onClick={() => step(0.1)}
      >
        +
      </button>
    </li>
  )
}
