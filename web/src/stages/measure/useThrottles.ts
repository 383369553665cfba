import { useEffect, useState } from 'react'
import {
  mayKeepLive,
  mayRecordLive,
  parseTyped,
  roundToFill,
  spreadOf,
  takenOf,
  throttleAdvice,
  type ThrottleLayoutId,
  type ThrottlesTaken,
  type VisitFile,
} from '@uvula/core'
import { useNow } from '../../parts/Timers.js'
import { newId } from '../../store/database.js'
import { useUnit } from '../../store/settings.js'
import { beep } from '../../store/sound.js'
import { useShop, useWriter } from '../../store/visit.js'
import { useGauges } from './useGauges.js'

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

/** What is read of the throttles and what hands do at them: one row at a speed, kept with the turn before it. */
export function useThrottles(file: VisitFile) {
  const { write, remove } = useWriter(file)
  const shop = useShop()
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
  const gates = [mayKeepLive(practise, shop?.demo === true), mayRecordLive(file, practise, now)]
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
  return {
    gauges,
    n,
    unit,
    slot,
    choose,
    layout,
    setLayout,
    rows,
    advice,
    /** Figures of the gauges as they stand now; undefined without them. */
    live,
    /** What the bars show: live, else the last row. */
    shown,
    practise,
    refusals,
    typed,
    setTyped,
    problem,
    turned,
    turn,
    tone,
    setTone,
    keep,
    leaveOut: (id: string): void => remove('balances', id),
  }
}
