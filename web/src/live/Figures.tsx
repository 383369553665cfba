import { useMemo } from 'react'
import {
  formatIn,
  maybeChannel,
  standing,
  wantedChannels,
  type BandPlace,
  type ChannelId,
  type SoundPoints,
} from '@uvula/core'
import { Scale } from '../parts/Scale.js'
import { useUnit } from '../store/settings.js'
import { useFormat } from '../words/format.js'
import { figuresOf, STRIP_SPAN, type Figure } from './liveReadings.js'
import type { LiveView } from './liveStore.js'
import { Strip, STRIP_S } from './Strip.js'

/** Rows that fit the bench large; the rest stand small below. */
const LARGE = 6
const WORDS = { inside: '', low: 'low', high: 'high', unknown: '' } as const

/** Large figures with their bands and the last minute beside; every other channel small below. */
export function Figures({
  live,
  values,
  place,
  sound,
  marks,
  fresh,
}: {
  live: LiveView
  values: Partial<Record<ChannelId, number>>
  place: BandPlace
  sound: readonly SoundPoints[]
  marks: readonly number[]
  fresh: boolean
}) {
  const given = live.state?.channels ?? []
  const figures = figuresOf(values, given, place, sound).slice(0, LARGE)
  const large = new Set(figures.flatMap((f) => [f.id, f.id.replace('trim', 'stft'), f.id.replace('trim', 'ltft')]))
  const small = given.filter((id) => !large.has(id) && id !== 'rpm')
  const format = useFormat()
  const now = live.samples.at(-1)?.t ?? 0
  const lacks = wantedChannels(place.vehicle).filter(([id]) => !given.includes(id))
  const idleValve = place.vehicle.idleControl === 'idle-valve'
  return (
    <section
      className="figures px-gap pt-0 pb-10 phone:px-12 phone:pt-0 phone:pb-10"
      aria-label="live readings"
      data-fresh={fresh}
    >
      {!live.samples.length && <p className="max-w-340 border-l-6 border-l-line py-8 pl-12">No row has come yet.</p>}
      {live.samples.length > 0 &&
        figures.map((f) => <FigureRow key={f.id} figure={f} live={live} now={now} marks={marks} fresh={fresh} />)}
      <dl className="pt-8 gap-y-2 gap-x-16 grid grid-cols-[repeat(auto-fill,minmax(132px,1fr))]">
        {small.map((id) => (
          <div key={id}>
            <dt className="text-soft text-small">{maybeChannel(id)!.label}</dt>
            <dd className="fig text-name leading-tight">
              {values[id] === undefined || !fresh
                ? '·'
                : id === 'fuel_status'
                  ? values[id] >= 0.5
                    ? 'closed'
                    : 'open'
                  : format(maybeChannel(id)!.quantity, values[id])}
            </dd>
          </div>
        ))}
      </dl>
      {idleValve && (
        <p className="text-soft text-small">
          The idle valve’s opening is in no standard channel: read it in the maker’s list and type it under “measure”.
        </p>
      )}
      {given.length > 0 && lacks.length > 0 && (
        <p className="wrong text-small">
          This vehicle does not give {lacks.map(([, label]) => label).join(', ')} over the link: type it from another
          tool.
        </p>
      )}
    </section>
  )
}

function FigureRow({
  figure,
  live,
  now,
  marks,
  fresh,
}: {
  figure: Figure
  live: LiveView
  now: number
  marks: readonly number[]
  fresh: boolean
}) {
  const unit = useUnit(figure.quantity)
  const { of } = figure
  const points = useMemo(() => {
    const from = now - STRIP_S
    let at = live.samples.length
    while (at > 0 && live.samples[at - 1].t >= from) at--
    const out: [number, number][] = []
    for (const s of live.samples.slice(at)) {
      const y = of(s.values)
      if (y !== undefined) out.push([s.t, y])
    }
    return out
    // eslint-disable-next-line react-hooks/exhaustive-deps -- a new row moves `now`; the array itself stays the same
  }, [now])
  const word = figure.value === undefined ? '' : WORDS[standing(figure.value, figure.band)]
  const range = figure.band ? `${formatIn(figure.band.low, unit)} to ${formatIn(figure.band.high, unit)}` : ''
  const every = live.state?.rateHz ? 1 / live.state.rateHz : 0.1
  return (
    <div
      className="figure-row border-b border-b-line gap-x-10 grid grid-cols-[150px_92px_34px_150px_minmax(0,1fr)] items-center min-h-52 phone:grid-cols-[118px_84px_34px_minmax(0,1fr)]"
      data-figure={figure.id}
      data-word={word}
    >
      <p className="leading-tight text-small">
        <span className="text-soft">{figure.label}</span>
        <br />
        {word ? (
          <b>
            {word}: {range}
          </b>
        ) : (
          <span className="text-soft">{figure.note ?? range}</span>
        )}
      </p>
      <p className={`fig figure-value leading-tight text-reading text-right ${fresh ? '' : 'text-soft'}`}>
        {figure.value === undefined || !fresh ? '·' : formatIn(figure.value, unit)}
      </p>
      <span className="text-small">{unit.symbol}</span>
      {figure.band ? (
        <Scale
          band={figure.band}
          value={fresh ? figure.value : undefined}
          label={`${figure.label} ${range} ${unit.symbol}`}
        />
      ) : (
        <span />
      )}
      <Strip
        points={points}
        now={now}
        span={STRIP_SPAN[figure.quantity]}
        band={figure.band}
        marks={marks}
        gapS={Math.max(1.5, 6 * every)}
        label={`${figure.label} over the last minute`}
        say={(y) => formatIn(y, unit)}
      />
    </div>
  )
}
