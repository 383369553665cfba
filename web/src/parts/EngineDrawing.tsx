import { describeEngine, hasCable, hasIdleValve, hasMaf, inletsOf, type Vehicle } from '@uvula/core'
import './engine.css'

/** Where the intake pipes run into the plenum [drawing units]. */
const PLENUM = { x: 150, right: 322, top: 30, bottom: 76 } as const

/** The engine drawn from the vehicle, whatever it is: inlets, plates, plenum, runners, cylinders as they stand. */
export function EngineDrawing({
  vehicle: v,
  className = 'max-h-210 w-full',
}: {
  vehicle: Vehicle
  className?: string
}) {
  const cylinders = placeCylinders(v)
  const own = v.plenum === 'individual'
  const two = inletsOf(v) === 2
  const pipes = two
    ? [
        { y: 32, h: 17 },
        { y: 57, h: 17 },
      ]
    : [{ y: 40, h: 26 }]
  return (
    <figure className="engine">
      <svg className={className} viewBox="0 0 340 210" role="img" aria-label={describeEngine(v)}>
        {pipes.map((p) => (
          <Inlet key={p.y} v={v} y={p.y} h={p.h} plate={!own} />
        ))}
        {hasCable(v) && <path d="M 140 30 q 20 -26 60 -22" className="thin" />}
        {hasIdleValve(v) && <path d="M 118 66 v 24 h 46 v -24" className="part" />}
        <path
          d={`M ${PLENUM.x} ${PLENUM.top} H ${PLENUM.right} V ${PLENUM.bottom} H ${PLENUM.x} Z`}
          className={own ? 'thin' : 'pipe'}
        />
        {v.plenum === 'per-bank' && <path d={`M ${PLENUM.x} 53 H ${PLENUM.right}`} className="thin" />}
        {(v.metering === 'map' || v.metering === 'maf+map') && (
          <rect x="270" y="14" width="26" height="18" className="part filled" />
        )}
        {v.egr === 'valve' && <path d="M 322 53 h 12 v 120 h -20" className="thin" />}
        {v.egr === 'valve' && v.egrCooler && <rect x="326" y="98" width="14" height="40" className="part" />}
        {cylinders.map((c) => (
          <path key={`r${c.n}`} d={c.runner} className="runner" />
        ))}
        {cylinders.map((c) => (
          <g key={c.n}>
            {own && <line x1={c.x - 12} x2={c.x + 12} y1="86" y2="98" className="thick" />}
            {v.flaps && <line x1={c.x - 7} x2={c.x + 7} y1="104" y2="96" className="thin" />}
            <circle cx={c.x} cy={c.y} r={c.r} className="part" />
            {v.injection === 'direct' && <circle cx={c.x} cy={c.y} r="4" className="ring-fill" />}
            {v.fuel === 'diesel' && <circle cx={c.x} cy={c.y} r={c.r * 0.55} className="thin" />}
          </g>
        ))}
      </svg>
    </figure>
  )
}

/** One pipe from outside to the plenum, with its sensor, compressor and plate. */
function Inlet({ v, y, h, plate }: { v: Vehicle; y: number; h: number; plate: boolean }) {
  const middle = y + h / 2
  return (
    <g>
      <path d={`M 10 ${y} H ${PLENUM.x} V ${y + h} H 10 Z`} className="pipe" />
      {hasMaf(v) && (
        <g>
          <rect x="34" y={y - 5} width="26" height={h + 10} className="part" />
          <path d={`M 41 ${middle} h 12 M 47 ${y + 1} v ${h - 2}`} className="thin" />
        </g>
      )}
      {v.induction === 'turbo' && (
        <path
          d={`M 92 ${middle} m ${-h * 0.7} 0 a ${h * 0.7} ${h * 0.7} 0 1 1 ${h * 0.7} ${h * 0.7} h 20`}
          className="part"
        />
      )}
      {plate && v.injection === 'carburettor' && <rect x="124" y={y + h} width="30" height="18" className="part" />}
      {plate && (v.fuel === 'gasoline' || v.throttleFlap !== false) && (
        <line x1="132" x2="148" y1={y} y2={y + h} className="thick" />
      )}
    </g>
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
    return { n, x, y, r, runner: `M ${x} ${PLENUM.bottom} V ${y}` }
  })
}
