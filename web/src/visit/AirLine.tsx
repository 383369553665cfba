import { memo, useEffect, useLayoutEffect, useMemo, useRef, useState } from 'react'
import {
  holdingStations,
  LETS_AIR_IN,
  siteShares,
  stationFigures,
  stationStates,
  live,
  type Diagnosis,
  type StationId,
  type VisitFile,
} from '@uvula/core'
import { useFormat } from '../words/format.js'
import { drawAirLine, type DrawnStation } from './airLineLayout.js'
import { Ring, RING_WORDS } from '../parts/Ring.js'
import './airline.css'

/** The visit drawn as this engine's own intake path: map, progress and summary in one. */
export const AirLine = memo(function AirLine({
  file,
  diagnosis,
  open,
  onOpen,
}: {
  file: VisitFile
  diagnosis?: Diagnosis
  open?: StationId
  onOpen: (id: StationId) => void
}) {
  const box = useRef<HTMLDivElement>(null)
  const [available, setAvailable] = useState(1280)
  useLayoutEffect(() => {
    const el = box.current!
    const watch = new ResizeObserver(() => setAvailable(el.clientWidth))
    watch.observe(el)
    setAvailable(el.clientWidth)
    return () => watch.disconnect()
  }, [])
  const d = useMemo(() => drawAirLine(file.vehicle.spec, available), [file.vehicle.spec, available])
  const states = useMemo(() => stationStates(file), [file])
  const values = useValues(file)
  // a gap in the pipe where something is off the car
  const opened = useMemo(
    () =>
      new Set(
        live(file.items)
          .filter((i) => i.state === 'off')
          .map((i) => i.station),
      ),
    [file.items],
  )
  const sites = useMemo(() => {
    const findings = live(file.findings).filter((x) => x.test !== 'note')
    return diagnosis ? siteShares(d.path, diagnosis.ranking, findings, holdingStations(file)) : []
  }, [d.path, diagnosis, file])
  const most = Math.max(0, ...sites.map((s) => s.probability))
  const airMass = diagnosis
    ? diagnosis.ranking.reduce((s, r) => s + (LETS_AIR_IN.includes(r.fault) ? r.probability : 0), 0)
    : 0
  const lead = sites.find((s) => s.probability === most)
  // on a phone the strip stands at what matters: the open station, else what is off, failed, or likeliest
  const failed = [...states].find(([, state]) => state === 'failed')?.[0]
  const centre = open ?? [...opened][0] ?? failed ?? (airMass > 0.3 ? lead?.station : undefined)
  useEffect(() => {
    const target = d.stations.find((s) => s.placed.info.id === centre)
    if (target && box.current && d.width > available) box.current.scrollTo({ left: target.x - available / 2 })
  }, [centre, d, available])
  const siteBase = d.height - 3
  const showSites = airMass > 0.3 && most > 0 && states.size > 0
  return (
    <div className="airline" role="region" aria-label="air line" ref={box}>
      <svg width={d.width} height={d.height} role="group" aria-label="stations">
        {d.second && (
          <path
            d={`M ${d.from} ${d.second.y} H ${d.second.turnX} C ${d.second.turnX + 34} ${d.second.y}, ${d.second.meetsX - 30} ${d.trunkY + 12}, ${d.second.meetsX} ${d.trunkY}`}
            className="bank"
          />
        )}
        <path d={pipePath(d.from, d.to, d.trunkY, 10)} className="pipe" />
        <path d={pipePath(d.plateX, d.to, d.trunkY, 14)} className="pipe" />
        {d.stations
          .filter((s) => s.placed.lane === 'bank')
          .map((s) => (
            <path
              key={s.placed.info.id}
              d={`M ${d.to - 4} ${d.trunkY} C ${d.to + 34} ${d.trunkY}, ${d.to + 26} ${s.y}, ${d.to + 62} ${s.y} L ${s.x + 60} ${s.y}`}
              className="bank"
            />
          ))}
        {d.stations
          .filter((s) => s.join !== undefined)
          .map((s) => (
            <line
              key={s.placed.info.id}
              x1={s.join!.x}
              x2={s.x}
              // from the skin of the pipe, or from the branch that it hangs on
              y1={s.join!.y === s.y ? s.y : s.join!.y + (s.y < s.join!.y ? -14 : 14)}
              y2={s.y}
              className="branch"
            />
          ))}
        {d.stations
          .filter((s) => opened.has(s.placed.info.id))
          .map((s) => (
            <g key={s.placed.info.id} className="gap">
              <rect x={s.x - 20} y={s.y - 16} width="40" height="32" className="ring-face" />
              <path d={`M ${s.x - 20} ${s.y - 18} v 36 M ${s.x + 20} ${s.y - 18} v 36`} className="ring" />
            </g>
          ))}
        {showSites && (
          <g>
            <line x1={d.from} x2={d.to + 150} y1={siteBase} y2={siteBase} className="site-base" />
            {sites
              .filter((s) => s.probability > 0.01)
              .map((s) => {
                const at = d.stations.find((x) => x.placed.info.id === s.station)!
                const h = 3 + (SITE_HEIGHT * s.probability) / most
                return <rect key={s.station} x={at.x - 4} y={siteBase - h} width="8" height={h} className="site" />
              })}
          </g>
        )}
        {d.stations.map((s) => (
          <Station
            key={s.placed.info.id}
            s={s}
            open={open === s.placed.info.id}
            state={states.get(s.placed.info.id) ?? 'unseen'}
            value={values.get(s.placed.info.id)}
            onOpen={onOpen}
          />
        ))}
      </svg>
      {showSites && lead && (
        <p className="airline-note text-small">
          bars below: where air may come in unmeasured; most likely the{' '}
          {d.stations.find((x) => x.placed.info.id === lead.station)!.placed.info.label}
        </p>
      )}
    </div>
  )
})

/** Tallest bar that says where air may come in; they stand on a line near the lower edge [px]. */
const SITE_HEIGHT = 17

/** The pointer under the open station; above it where its name stands below. */
function pointerPath(s: DrawnStation): string {
  const by = s.side === 'below' ? -1 : 1
  return `M ${s.x - 9} ${s.y + 26 * by} L ${s.x + 9} ${s.y + 26 * by} L ${s.x} ${s.y + 15 * by} Z`
}

const pipePath = (a: number, b: number, y: number, half: number): string =>
  `M ${a} ${y - half} H ${b} V ${y + half} H ${a} Z`

/** One of the line: drawn anew when what it shows differs. */
const Station = memo(function Station({
  s,
  state,
  value,
  open,
  onOpen,
}: {
  s: DrawnStation
  state: Parameters<typeof Ring>[0]['state']
  value?: string
  open: boolean
  onOpen: (id: StationId) => void
}) {
  const { id, label } = s.placed.info
  const text = {
    above: { x: s.x, y: s.y - 20, anchor: 'middle' as const },
    below: { x: s.x, y: s.y + 30, anchor: 'middle' as const },
    right: { x: s.x + 20, y: s.y + 6, anchor: 'start' as const },
  }[s.side]
  const go = (): void => onOpen(id)
  return (
    <g
      className="station"
      role="button"
      tabIndex={0}
      aria-description={RING_WORDS[state]}
      data-station={id}
      data-state={state}
      onClick={go}
      onKeyDown={(e) => {
        if (e.key === 'Enter' || e.key === ' ') {
          e.preventDefault()
          go()
        }
      }}
    >
      <rect x={s.x - 30} y={s.y - 26} width="60" height="52" className="hit" />
      <text x={text.x} y={text.y} textAnchor={text.anchor}>
        {label.replace('runners, ', '')}
      </text>
      <Ring x={s.x} y={s.y} state={state} />
      {value && (
        <text
          x={s.placed.lane === 'branch' ? s.x + 17 : s.x}
          // the pointer of an open station stands between
          y={s.placed.lane === 'branch' ? s.y + 9 : s.y + (open ? 50 : 41)}
          textAnchor={s.placed.lane === 'branch' ? 'start' : 'middle'}
          className="value"
        >
          {value}
        </text>
      )}
      {open && <path d={pointerPath(s)} className="pointer" />}
    </g>
  )
})

/** Latest idle figures at the stations that show them, in this device's units. */
function useValues(file: VisitFile): ReadonlyMap<StationId, string> {
  const format = useFormat()
  return new Map([...stationFigures(file)].map(([id, f]) => [id, format(f.quantity, f.value)]))
}
