import { describeEngine, stationInfo } from '../engine/index.js'
import { compareRuns, type Change } from '../proof/index.js'
import { faultOf, SIGNS, type Diagnosis } from '../diagnosis/index.js'
import { lastRound, pointsOfRound } from './evidence.js'
import { live, type RepairRecord, type VisitFile } from './records.js'
import { methodInfo, PRODUCTS, SURFACES } from '../cleaning/index.js'
import { expectedCode } from './codes.js'
import { openThings, stateOfRun } from './service.js'
import { visitLedger, type UnmeteredAir } from './unmetered.js'

/** The hand-over sheet: found with evidence, done, left, advised, before and after. */
export interface Sheet {
  readonly title: string
  readonly plate: string
  readonly customer: string
  readonly engine: string
  readonly odometerKm?: number
  readonly place: string
  readonly complaint: string
  /** One line for the customer, without a technical word. */
  readonly plain: string
  readonly found: readonly string[]
  readonly done: readonly string[]
  readonly left: readonly string[]
  readonly advised: readonly string[]
  readonly changes: readonly Change[]
  readonly unmetered?: { readonly before: UnmeteredAir; readonly after: UnmeteredAir }
  readonly labourMinutes: number
  readonly partsPrice: number
  readonly labourPrice: number
}

/** Composes the sheet of a visit as it stands. */
export function sheetOf(f: VisitFile, d: Diagnosis, labourPerHour: number): Sheet {
  const last = lastRound(f)
  const done = live(f.repairs).filter((r) => r.state === 'done')
  const account = visitLedger(f)
  const changes = last > 0 ? compareRuns(pointsOfRound(f, 0), pointsOfRound(f, last)) : []
  const labourMinutes = done.reduce((s, r) => s + r.minutes, 0)
  const v = f.vehicle
  return {
    title: v.spec.name,
    plate: v.plate,
    customer: v.customer,
    engine: describeEngine(v.spec),
    odometerKm: f.visit.odometerKm,
    place: `${f.visit.altitudeM} m, ${f.visit.ambientC} °C`,
    complaint: f.visit.complaint || f.visit.signs.map((id) => SIGNS.find((s) => s.id === id)?.label ?? id).join(', '),
    plain: plainLine(done, changes, d),
    found: foundLines(f, d),
    done: [...done.map(doneLine), ...serviceLines(f)],
    left: [...leftLines(f, account?.accounted), ...openThings(f).map((x) => x.message), ...missedLines(f)],
    advised: done
      .filter((r) => r.temporary)
      .map(
        (r) =>
          `Look at the ${stationInfo(r.station).label} again${r.recheckOn ? ` by ${r.recheckOn}` : ''}: the ${r.kind} is temporary.`,
      ),
    changes,
    unmetered: account && last > 0 ? { before: account.before, after: account.now } : undefined,
    labourMinutes,
    partsPrice: done.reduce((s, r) => s + r.partsPrice, 0),
    labourPrice: (labourPerHour * labourMinutes) / 60,
  }
}

function foundLines(f: VisitFile, d: Diagnosis): string[] {
  const seen = live(f.findings)
    .filter((x) => x.outcome === 'fail' && x.test !== 'note')
    .map(
      (x) => `${cap(stationInfo(x.station).label)}: ${x.note ?? 'failed'}${x.test === 'look' ? '' : ` (${x.test})`}.`,
    )
  const lead = d.ranking[0]
  const cause =
    lead && lead.fault !== 'none' && lead.probability > 0.3
      ? [
          `${faultOf(lead.fault).label}, ${lead.probability > 0.99 ? 'over 99' : (100 * lead.probability).toFixed(0)} % by the readings. ${lead.sentence}`,
        ]
      : []
  const notes = live(f.findings)
    .filter((x) => x.test === 'note' && x.note)
    .map((x) => `${cap(stationInfo(x.station).label)}: ${x.note}.`)
  if (!seen.length && !cause.length) return ['Everything measured stands in its band.', ...notes]
  return [...cause, ...seen, ...notes]
}

const cap = (s: string): string => s[0].toUpperCase() + s.slice(1)

function doneLine(r: RepairRecord): string {
  const what = { refit: 'refitted', wrap: 'wrapped', replace: 'renewed', clean: 'cleaned' }[r.kind]
  return `${cap(stationInfo(r.station).label)} ${what}${r.temporary ? ' (temporary)' : ''}${r.note ? `: ${r.note}` : ''}.${r.againstRule ? ' Done against the rule, as recorded.' : ''}`
}

/** What the service did: surfaces, feeds, relearns, codes. */
function serviceLines(f: VisitFile): string[] {
  const steps = live(f.steps).map((x) => {
    const [surface, product, method] = [
      SURFACES.find((y) => y.id === x.surface)!,
      PRODUCTS.find((y) => y.id === x.product)!,
      methodInfo(x.method),
    ]
    return `${cap(surface.label)} cleaned, ${product.label}, ${method.label}${x.passed ? `; ends: ${surface.doneWhen}` : '; not ended yet'}.${x.againstRule ? ' Against the rule, as recorded.' : ''}`
  })
  const runs = live(f.runs).flatMap((r) => {
    const state = stateOfRun(f, r)
    if (!state || state.status === 'ready') return []
    const what =
      r.procedure === 'feed'
        ? `Fed ${r.feed?.doseMl ?? 0} mL, ${methodInfo(r.feed!.method).label}`
        : `Idle taught, attempt ${r.attempt}`
    return [
      `${what}: ${state.status === 'passed' ? 'went through' : (state.reason ?? state.status)}`.replace(/\.?$/, '.'),
    ]
  })
  const codes = live(f.codes)
    .filter((c) => c.when !== 'before')
    .map((c) => {
      const own = expectedCode(c.code)
      return `Code ${c.code}, ${c.state}: ${own ? `set by this work (${own.label})` : 'not of this work'}${c.cleared ? ', cleared' : ''}.`
    })
  return [...steps, ...runs, ...codes]
}

/** Surfaces that the methods used do not reach. */
function missedLines(f: VisitFile): string[] {
  const used = new Set([
    ...live(f.steps).map((x) => x.method),
    ...live(f.runs).flatMap((r) => (r.feed ? [r.feed.method] : [])),
  ])
  const reached = new Set([...used].flatMap((m) => methodInfo(m).reaches))
  const missed = [...new Set([...used].flatMap((m) => methodInfo(m).misses))].filter((x) => !reached.has(x))
  return missed.length ? [`Not reached: ${missed.join(', ')}.`] : []
}

function leftLines(f: VisitFile, accounted: boolean | undefined): string[] {
  const mended = new Set(
    live(f.repairs)
      .filter((r) => r.state === 'done')
      .map((r) => r.station),
  )
  const open = live(f.findings).filter((x) => x.outcome === 'fail' && x.test !== 'note' && !mended.has(x.station))
  const out = [...new Set(open.map((x) => `${cap(stationInfo(x.station).label)}, not mended.`))]
  if (accounted === false) out.push('Not all of the unmetered air is accounted for.')
  return out
}

function plainLine(done: readonly RepairRecord[], changes: readonly Change[], d: Diagnosis): string {
  if (!done.length)
    return d.ranking[0]?.fault === 'none'
      ? 'We measured your engine and found nothing wrong with the way it breathes.'
      : 'We measured your engine and found where to look; nothing has been mended yet.'
  const better = changes.some((c) => c.verdict === 'better')
  const worse = changes.some((c) => c.verdict === 'worse')
  const place = stationInfo(done[0].station).label
  const temporary = done.some((r) => r.temporary)
    ? ' It is a repair for the time being: please come back on the day we noted.'
    : ''
  if (better && !worse)
    return `Your engine was drawing air it could not measure, at the ${place}. That is mended, and the readings show it.${temporary}`
  if (worse)
    return `We worked at the ${place}; some readings are worse than before and we want to see the car again.${temporary}`
  return `We mended the ${place}. The readings do not show a difference yet.${temporary}`
}
