import { stationInfo } from '../engine/index.js'
import { codeWords } from './codes.js'
import { discreteEvidence, isPlaced } from './discrete.js'
import type { Evidence, Finding } from './evidence.js'
import type { FaultId } from './faults.js'
import { LOOKS } from './looks.js'
import { NEEDLES } from './needles.js'
import { inSentence } from './nextTest.js'
import type { ObservationSet, ReadingGroup } from './observations.js'
import type { Prepared } from './densities.js'
import { posterior } from './posterior.js'
import { CONDITIONS, SIGNS } from './signs.js'
import { stillValve } from './stillValve.js'
import { findKind, testInfo } from './tests.js'

/** What one piece of evidence does to a cause. */
export interface Reason {
  readonly text: string
  /** Change of the log odds of the cause by this piece, all else kept [bits]; > 0 speaks for it. */
  readonly bits: number
  readonly source: ReadingGroup | 'sign' | 'code' | 'finding' | 'work'
}

const GROUPS: readonly ReadingGroup[] = [
  'trims',
  'airflow',
  'pressure',
  'full-load',
  'mixture',
  'charge',
  'opening',
  'plate',
  'idle-speed',
  'wander',
  'barometer',
  'temperature',
]
/** Reasons that move a cause by less than this are not told [bits]. */
const WORTH_TELLING = 0.15

/** Leave-one-out: how far each kind of reading, sign and finding moves the leading causes. */
export function explain(
  causes: readonly FaultId[],
  prepared: Prepared,
  e: Evidence,
): Partial<Record<FaultId, readonly Reason[]>> {
  const { set } = prepared
  const every = set.observations.map((_, i) => i)
  const odds = (kept: readonly number[], ev: Evidence): Map<FaultId, number> => {
    const { intent, dies, outcomes, done } = ev
    const p = posterior(prepared, { intent, dies, outcomes, done, discrete: discreteEvidence(ev), kept, sizes: false })
    return new Map(causes.map((c) => [c, logOdds(p.marginal.get(c) ?? 0)]))
  }
  const full = odds(every, e)
  const out = new Map<FaultId, Reason[]>(causes.map((c) => [c, []]))
  const put = (without: Map<FaultId, number>, text: string, source: Reason['source']): void => {
    for (const c of causes) {
      const bits = full.get(c)! - without.get(c)!
      if (Math.abs(bits) >= WORTH_TELLING) out.get(c)!.push({ text, bits, source })
    }
  }
  for (const g of GROUPS) {
    const kept = every.filter((i) => set.observations[i].group !== g)
    if (kept.length === every.length) continue
    put(odds(kept, e), readingText(g, set), g)
  }
  const still = stillValve(e.points)
  if (still !== undefined)
    put(odds(every, { ...e, points: [] }), `idle valve stands at ${still.toFixed(0)} %, whatever the load`, 'opening')
  for (const s of e.signs) {
    const label = SIGNS.find((x) => x.id === s)?.label
    if (label) put(odds(every, { ...e, signs: e.signs.filter((x) => x !== s) }), label, 'sign')
  }
  for (const id of e.conditions ?? []) {
    const label = CONDITIONS.find((x) => x.id === id)?.label
    if (label) put(odds(every, { ...e, conditions: e.conditions?.filter((x) => x !== id) }), label, 'sign')
  }
  for (const code of new Set((e.codes ?? []).map((c) => c.code))) {
    const words = codeWords(code)
    const others = (e.codes ?? []).filter((c) => c.code !== code)
    const codes = others.length ? others : undefined
    if (words) put(odds(every, { ...e, codes }), `code ${code}: ${words}`, 'code')
  }
  if (e.codes?.length === 0) put(odds(every, { ...e, codes: undefined }), 'codes read, none stands', 'code')
  e.findings.forEach((f, i) => {
    if (f.outcome === 'unclear') return
    const alone = f.item !== undefined && LOOKS[f.item]?.alone === true
    const walk = f.test === 'look' && f.outcome === 'pass' && !alone
    const first = (x: Finding): boolean =>
      x.test === 'look' && x.outcome === 'pass' && !(x.item && LOOKS[x.item]?.alone)
    // places that count together are left out together: one of many would change nothing
    const passed = (x: Finding): boolean => x.test === f.test && x.outcome === 'pass' && isPlaced(x)
    const together = walk ? first : passed(f) ? passed : undefined
    if (together && e.findings.findIndex(together) !== i) return
    const dropped = e.findings.filter((x, j) => (together ? !together(x) : j !== i))
    const what =
      f.test === 'look'
        ? f.outcome === 'fail'
          ? 'seen'
          : alone
            ? 'looked at, in order'
            : 'the walk found nothing'
        : f.test === 'needle'
          ? `needle: ${NEEDLES.find((n) => n.id === f.item)?.label ?? 'seen'}`
          : findSaid(f)
    const verdict = f.outcome === 'fail' ? '' : f.test === 'look' ? '' : ': nothing'
    const place = f.station && f.station !== 'beyond' ? stationInfo(f.station).label : undefined
    // a test that names its place need not be told twice where it was
    const isSaid = f.outcome === 'fail' && findKind(f.test, f.item) !== undefined
    const placed = place && !isSaid && !what.includes(place) && (f.outcome === 'fail' || alone) ? `, ${place}` : ''
    put(odds(every, { ...e, findings: dropped }), `${what}${placed}${verdict}`, 'finding')
  })
  const done = e.done ?? []
  for (const w of done) put(odds(every, { ...e, done: done.filter((x) => x !== w) }), `${w.words}, already`, 'work')
  for (const list of out.values()) list.sort((a, b) => Math.abs(b.bits) - Math.abs(a.bits))
  return Object.fromEntries(out)
}

/** A test's name in a sentence, with what it found where that was said. */
function findSaid(f: Finding): string {
  const kind = f.outcome === 'fail' ? findKind(f.test, f.item) : undefined
  return `${inSentence(testInfo(f.test).label)}${kind ? `, ${kind.label}` : ''}`
}

const logOdds = (p: number): number => Math.log2(Math.max(p, 1e-9) / Math.max(1 - p, 1e-9))

/** A reading in words: how trims run with flow, how airflow stands to the swallow. */
function readingText(g: ReadingGroup, set: ObservationSet): string {
  // where nobody knows the load, a figure says nothing by itself
  const all = set.observations.filter((o) => o.group === g)
  const unloaded = all.filter((o) => ['idle', 'hold'].includes(set.points[o.point].kind))
  const of = ['airflow', 'pressure'].includes(g) && unloaded.length ? unloaded : all
  const pct = (r: number): number => 100 * (Math.exp(r) - 1)
  const say = (x: number): string => {
    const whole = Math.round(x)
    return whole === 0 ? '0 %' : `${whole < 0 ? '\u2212' : '+'}${Math.abs(whole)} %`
  }
  const against = (r: number, what: string): string => {
    const whole = Math.round(pct(r))
    return whole === 0 ? `as ${what}` : `${Math.abs(whole)} % ${whole < 0 ? 'below' : 'above'} ${what}`
  }
  const points = (x: number): string => Math.abs(x).toFixed(1)
  const byFlow = [...of].sort((a, b) => set.contexts[a.point].airKgS - set.contexts[b.point].airKgS)
  const [first, last] = [byFlow[0], byFlow[byFlow.length - 1]]
  switch (g) {
    case 'trims': {
      const [a, b] = [pct(first.residual), pct(last.residual)]
      if (first.point === last.point) return `trim ${say(a)}`
      if (Math.abs(a) < 4 && Math.abs(b) < 4) return 'trims within ±4 %'
      if (Math.abs(b) < 0.6 * Math.abs(a)) return `trim fades ${say(a)} to ${say(b)} with flow`
      if (Math.abs(a) < 0.6 * Math.abs(b)) return `trim grows ${say(a)} to ${say(b)} with flow`
      return `trim stays, ${say(a)} and ${say(b)}`
    }
    case 'airflow':
      return `airflow ${against(first.residual, `what ${set.points[first.point].kind === 'idle' ? 'idle' : 'the work'} needs`)}`
    case 'pressure': {
      // a technician reads a gauge as vacuum: less of it is more pressure
      const byGauge = of.every((o) => o.vacuumLog !== undefined)
      const [a, b] = [first, last].map((o) => (byGauge ? o.vacuumLog! : o.residual))
      const what = byGauge ? 'vacuum' : 'pressure'
      return first.point === last.point
        ? `${what} ${against(a, 'a sound engine’s')}`
        : `${what} ${say(pct(a))}, with flow ${say(pct(b))}`
    }
    case 'full-load':
      return `full load ${say(pct(Math.min(...of.map((o) => o.residual))))}`
    case 'mixture': {
      const worst = of.reduce((a, b) => (Math.abs(b.residual) > Math.abs(a.residual) ? b : a))
      const fuel = Math.round(pct(-worst.residual))
      return Math.abs(fuel) < 4
        ? 'pull fuelled as commanded'
        : `pull gets ${Math.abs(fuel)} % ${fuel < 0 ? 'less' : 'more'} fuel than commanded`
    }
    case 'charge':
      return `charge pressure sinks ${say(-pct(Math.min(...of.map((o) => o.residual)))).replace('+', '')}`
    case 'wander':
      return first.residual < 0.4
        ? 'idle is calm'
        : `idle wanders ±${set.points[first.point].sds.rpm?.toFixed(0) ?? '?'} rpm`
    case 'barometer':
      return Math.abs(first.residual) < 0.02
        ? 'barometer as the altitude has it'
        : `barometer ${say(pct(first.residual))} off the altitude`
    case 'temperature':
      return first.residual === 0 ? 'temperatures plausible' : 'a temperature that no car shows'
    case 'opening':
      return `idle opening ${against(first.residual, 'the expected')}`
    case 'plate': {
      const off = first.residual
      if (first.point === last.point) return 'where the plate stands at idle'
      const steeper = last.residual - off
      return Math.abs(steeper) < 0.5
        ? 'plate opens as a clean one does'
        : `plate’s curve ${steeper < 0 ? 'steeper' : 'flatter'} by ${points(steeper)} %`
    }
    case 'idle-speed':
      return Math.abs(first.residual) < 0.01
        ? 'idle speed in its band'
        : `idle speed ${against(first.residual, 'its band')}`
  }
}
