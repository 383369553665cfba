import { useEffect, useState } from 'react'
import {
  formatIn,
  handTurn,
  LINKAGE_FIRST,
  linkageBalanced,
  LIVE_STOPS,
  mayKeepLive,
  mayRecordLive,
  parseTyped,
  roundToFill,
  SPREAD_LIMIT_KPA,
  spreadOf,
  takenOf,
  throttleAdvice,
  turnWords,
  type ThrottleAdvice,
  type ThrottleLayoutId,
  type ThrottlesTaken,
  type Unit,
  type VisitFile,
} from '@uvula/core'
import { Choose } from '../../kit/Choose.js'
import { FieldRow } from '../../kit/FieldRow.js'
import { Stop, stopSeen } from '../../parts/Stop.js'
import { useNow } from '../../parts/Timers.js'
import { newId } from '../../store/database.js'
import { useUnit } from '../../store/settings.js'
import { beep } from '../../store/sound.js'
import { useBay, useCard, useWriter } from '../../store/visit.js'
import { sayDay } from '../../words/format.js'
import { GaugeLink } from './GaugeLink.js'
import { ThrottlesBig } from './ThrottlesBig.js'
import { ThrottleRows } from './ThrottleRows.js'
import { useGauges } from './useGauges.js'

const SLOT_WORDS = { idle: 'at idle', 'hold-2500': 'at 2500' } as const
/** Time between two tones [ms], pitch at the limit and what each kPa over it adds [Hz]. */
const TONE_EVERY_MS = 600
const TONE_HZ = 320
const TONE_PER_KPA = 55

/** A tone as long as the throttles pull unlike: higher the further they are apart, silent at balance. */
function useTone(on: boolean, over: number | undefined): void {
  useEffect(() => {
    if (!on || over === undefined || !(over > 0)) return undefined
    const timer = setInterval(() => beep(TONE_HZ + Math.min(900, TONE_PER_KPA * over)), TONE_EVERY_MS)
    return () => clearInterval(timer)
  }, [on, over])
}

/** Throttles against each other: the row that was read, how far it is out, which screw, which way, about how far. */
export function ThrottleBench({ file }: { file: VisitFile }) {
  const { write, remove } = useWriter(file)
  const { bay } = useBay()
  const gauges = useGauges()
  const now = useNow(10_000)
  const n = Math.min(12, file.vehicle.spec.throttleBodies)
  const unit = useUnit('pressure')
  const all = takenOf(file.balances, 'throttles')
  const [slot, setSlot] = useState<ThrottlesTaken['slot']>('hold-2500')
  const [layout, setLayout] = useState<ThrottleLayoutId>(all.at(-1)?.taken.layout ?? 'each')
  const [typed, setTyped] = useState<readonly string[]>([])
  const [problem, setProblem] = useState<string>()
  const [turned, setTurned] = useState<number>()
  const [tone, setTone] = useState(false)
  const [big, setBig] = useState(false)
  const rows = all.filter((b) => b.taken.slot === slot && b.taken.layout === layout && b.taken.vacuumKpa.length === n)
  const advice = rows.length
    ? throttleAdvice(
        layout,
        rows.map((r) => r.taken),
      )
    : undefined

  const link = gauges.state?.visitId === file.visit.id && gauges.state.phase !== 'off' ? gauges.state : undefined
  const live = link?.vacuumKpa?.length === n ? link.vacuumKpa : undefined
  const shown = live ?? rows.at(-1)?.taken.vacuumKpa
  const spread = live && spreadOf(live)
  useTone(tone, spread === undefined ? undefined : spread - (advice?.limitKpa ?? 0))
  const practise = link?.standIn === true
  // practice is kept in the demo shop only; a real engine runs only after its STOPs, whoever reads its gauges
  const gates = [mayKeepLive(practise, bay?.shop.demo === true), mayRecordLive(file, practise, now)]
  const refusals = gates.flatMap((g) => (g.ok ? [] : g.refusals))

  const typedRow = (): number[] | string => {
    const row: number[] = []
    for (let i = 0; i < n; i++) {
      const read = parseTyped(typed[i] ?? '', 'pressure', unit)
      if (!read.ok) return `Throttle ${i + 1}: ${read.message}`
      if (!(read.value >= 0 && read.value <= 105)) return `Throttle ${i + 1}: 0 to 105 kPa is a vacuum.`
      row.push(read.value)
    }
    return row
  }
  const keep = (): void => {
    const row = live ? live.map((x) => Number(Math.max(0, x).toFixed(2))) : typedRow()
    if (typeof row === 'string') return setProblem(row)
    setProblem(undefined)
    setTyped([])
    setTurned(undefined)
    const turn = turned !== undefined && advice?.adjuster && { adjuster: advice.adjuster.id, turns: turned }
    write('balances', `${file.visit.id}:throttles:${newId()}`, {
      visitId: file.visit.id,
      round: roundToFill(file),
      taken: {
        kind: 'throttles',
        slot,
        layout,
        vacuumKpa: row,
        ...(turn ? { turned: turn } : {}),
        ...(practise ? { practice: true } : {}),
      },
    })
  }
  const choose = (to: ThrottlesTaken['slot']): void => {
    setSlot(to)
    setTurned(undefined)
    if (practise) void gauges.ask('speed', { speed: to })
  }
  const turn = (turns: number): void => {
    if (practise) {
      // it is turned at once and stands turned: another word for it would be a turn that nobody made
      if (turned !== undefined || !advice?.adjuster) return
      void gauges.ask('turn', { layout, adjuster: advice.adjuster.id, turns })
    }
    setTurned(turned === turns ? undefined : turns)
  }
  return (
    <div className="grid grid-cols-[minmax(0,1fr)_minmax(300px,0.8fr)] gap-gap py-8 narrow:grid-cols-1">
      <section>
        <div className="mb-8 flex flex-wrap gap-8">
          <Choose
            label="speed"
            look="box"
            className="flex gap-4"
            value={slot}
            choices={[
              { value: 'hold-2500', label: '1. linkage, 2500' },
              { value: 'idle', label: '2. bypass, idle' },
            ]}
            onChange={choose}
          />
          {n === 4 && (
            <Choose
              label="linkage"
              look="box"
              className="flex gap-4"
              value={layout}
              choices={[
                { value: 'each', label: 'own screws' },
                { value: 'pairs', label: 'pairs' },
              ]}
              onChange={setLayout}
            />
          )}
        </div>
        {slot === 'idle' && !linkageBalanced(file.balances) ? (
          <p className="wrong" role="alert">
            {LINKAGE_FIRST}
          </p>
        ) : (
          <>
            {advice && <Advice advice={advice} />}
            {!practise &&
              LIVE_STOPS.filter((id) => !stopSeen(file, id)).map((id) => <Stop key={id} file={file} id={id} />)}
            <Bars
              n={n}
              shown={shown}
              live={live !== undefined}
              unit={unit}
              typed={typed}
              onType={setTyped}
              onEnter={keep}
            />
            {problem && (
              <p className="wrong" role="alert">
                {problem}
              </p>
            )}
            {advice?.adjuster && <Turns advice={advice} turned={turned} onTurn={turn} />}
            {refusals.map((r) => (
              <p key={r.rule} className="wrong" data-rule={r.rule}>
                {r.message}
              </p>
            ))}
            <div className="sticky bottom-0 z-1 bg-face py-8">
              <button
                type="button"
                className="act strong w-full justify-center"
                disabled={refusals.length > 0 || (!live && typed.every((x) => !x.trim()))}
                onClick={keep}
              >
                keep this row, {SLOT_WORDS[slot]}
              </button>
            </div>
          </>
        )}
      </section>
      <section>
        <GaugeLink file={file} gauges={gauges} tone={tone} onTone={setTone} />
        {live && (slot === 'hold-2500' || linkageBalanced(file.balances)) && (
          <button type="button" className="act strong mb-14 w-full justify-center" onClick={() => setBig(true)}>
            big bars: both hands at the screws
          </button>
        )}
        {big && live && (
          <ThrottlesBig
            vacuumKpa={live}
            unit={unit}
            advice={advice}
            limitKpa={advice?.limitKpa ?? SPREAD_LIMIT_KPA}
            turned={turned !== undefined}
            may={refusals.length === 0}
            onTurned={() => advice?.turns !== undefined && turn(advice.turns)}
            onKeep={keep}
            onClose={() => setBig(false)}
          />
        )}
        <Drift file={file} slot={slot} unit={unit} now={rows.at(-1)?.taken.vacuumKpa} />
        <ThrottleRows rows={rows} unit={unit} where={SLOT_WORDS[slot]} onLeaveOut={(id) => remove('balances', id)} />
      </section>
    </div>
  )
}

/** How far apart they were left the last time, and how far they have gone since. */
function Drift({
  file,
  slot,
  unit,
  now,
}: {
  file: VisitFile
  slot: ThrottlesTaken['slot']
  unit: Unit
  now: readonly number[] | undefined
}) {
  const { card } = useCard(file.vehicle.id)
  const last = card?.balances?.find((b) => b.visitId !== file.visit.id && b.slot === slot)
  if (!last) return null
  const by = now && spreadOf(now) - last.spreadKpa
  return (
    <p className="mb-14 border-l-6 border-l-line pl-10" data-testid="drift">
      Left {formatIn(last.spreadKpa, unit)} {unit.symbol} apart on {sayDay(last.openedAt)}
      {by === undefined
        ? '.'
        : `; now ${formatIn(spreadOf(now!), unit)}: ${by > 0 ? `${formatIn(by, unit)} further` : 'no further'} apart.`}
    </p>
  )
}

/** Which screw, which way, about how far: the biggest thing of the bench. */
function Advice({ advice }: { advice: ThrottleAdvice }) {
  return (
    <div
      className={`mb-8 border-l-6 pl-12 ${advice.balanced ? 'border-l-line' : 'border-l-ink'}`}
      role="status"
      data-balanced={advice.balanced}
      data-adjuster={advice.adjuster?.id}
      data-turns={advice.turns}
    >
      <p className="text-figure leading-tight">{advice.say}</p>
      {advice.why && <p className="text-small">{advice.why}</p>}
    </div>
  )
}

/** A bar a throttle, from the least to the greatest: what is read now, or the last row behind what is typed. */
function Bars({
  n,
  shown,
  live,
  unit,
  typed,
  onType,
  onEnter,
}: {
  n: number
  shown: readonly number[] | undefined
  live: boolean
  unit: Unit
  typed: readonly string[]
  onType: (typed: readonly string[]) => void
  onEnter: () => void
}) {
  const low = shown ? Math.min(...shown) : 0
  const high = shown ? Math.max(...shown) : 1
  return (
    <ol className="mb-8 grid" aria-label="throttles">
      {Array.from({ length: n }, (_, i) => (
        <FieldRow
          key={i}
          id={`throttle-${i}`}
          label={`throttle ${i + 1}`}
          unit={unit.symbol}
          output={live && shown ? formatIn(shown[i], unit) : undefined}
          value={typed[i] ?? ''}
          placeholder={shown ? formatIn(shown[i], unit) : ''}
          onText={(text) => onType(Array.from({ length: n }, (_, j) => (j === i ? text : (typed[j] ?? ''))))}
          onEnter={onEnter}
        >
          {shown && (
            <svg className="h-24 w-full" preserveAspectRatio="none" viewBox="0 0 100 10" aria-hidden="true">
              <rect
                className="fill-ink"
                x="0"
                y="1"
                height="8"
                width={12 + (88 * (shown[i] - low)) / Math.max(1, high - low)}
              />
            </svg>
          )}
        </FieldRow>
      ))}
    </ol>
  )
}

/** What was turned since the last row: as advised, half of it, or half as much again. */
function Turns({
  advice,
  turned,
  onTurn,
}: {
  advice: ThrottleAdvice
  turned: number | undefined
  onTurn: (turns: number) => void
}) {
  const offered = [0.5, 1, 1.5].map((share) => (share === 1 ? advice.turns! : handTurn(advice.turns! * share)))
  return (
    <div className="mb-8 flex flex-wrap items-center gap-8">
      <span className="w-full text-small">turned {advice.adjuster!.label}:</span>
      {[...new Set(offered)].map((turns) => (
        <button
          key={turns}
          type="button"
          className="act"
          aria-pressed={turned === turns}
          data-advised={turns === advice.turns}
          onClick={() => onTurn(turns)}
        >
          {turns > 0 ? 'opened' : 'closed'} {turnWords(turns)}
        </button>
      ))}
    </div>
  )
}
