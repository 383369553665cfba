import type { Diagnosis, FaultId } from '../diagnosis/index.js'
import { testInfo } from '../diagnosis/index.js'
import { airPathOf, lookItemsOf, stationInfo } from '../engine/index.js'
import { lastRound } from './evidence.js'
import { isIdleMeasured, isProved, type StageId } from './stages.js'
import { live, type VisitFile } from './records.js'
import { openThings, restartLocked, runsGoingOn, stateOfRun } from './service.js'
import { visitLedger } from './unmetered.js'

/** What to do now, why, and on which bench. */
export interface NowAct {
  readonly stage: StageId
  readonly title: string
  readonly why: string
  readonly then: readonly string[]
}

/** Above this a cause is worth acting on without another test. */
const SURE_ENOUGH = 0.85

/** The one next act of a visit. The diagnosis may still be on its way: then acts that need none come first. */
export function nowAct(f: VisitFile, d?: Diagnosis): NowAct {
  // what is to be done now is not told again as what comes then
  const act = (stage: StageId, title: string, why: string, then: string[] = []): NowAct => ({
    stage,
    title,
    why,
    then: then.filter((x) => !x.startsWith(title)),
  })
  const repairs = live(f.repairs)
  const planned = repairs.find((r) => r.state === 'planned')
  const done = repairs.filter((r) => r.state === 'done')
  if (live(f.reports).length && f.visit.state === 'handed-over')
    return act('hand-over', 'Handed over', 'The sheet is issued. A later word on it is an amendment.')
  if (restartLocked(f))
    return act(
      'first-start',
      'Do not crank',
      'It stalled while liquid was fed: plugs out, turn it by hand, then tick it.',
    )
  const going = runsGoingOn(f)[0]
  if (going)
    return act(
      going.procedure === 'feed' ? 'decarbonize' : 'learn',
      going.procedure === 'feed' ? 'Go on feeding' : 'Go on teaching',
      'A timed step is running.',
    )
  if (!f.visit.signs.length && f.visit.intent === 'complaint')
    return act('arrive', 'Tap what the customer feels', 'The signs set which causes come first.', [
      'Read the idle',
      'Walk the pipe',
    ])
  if (!isIdleMeasured(f, 0))
    return act(
      'arrive',
      'Read the warm idle',
      'Nothing is touched before it is measured: later this is the "before".',
      ['Walk the pipe'],
    )
  if (planned)
    return act(
      'trace',
      `${verb(planned.kind)} the ${stationInfo(planned.station).label}`,
      'Planned; the proof comes after.',
      ['Measure the same points again'],
    )
  const open = openThings(f)
  const cleaning = live(f.steps).find((x) => !x.passed)
  if (open.length && cleaning)
    return act(
      'clean',
      `Clean the ${stationInfo(cleaning.station).label} to its end`,
      'Open on the bench; it ends at its test, not at shine.',
      ['Close up', 'First start'],
    )
  if (open.length)
    return act('close-up', 'Close up', `${open[0].message}${open.length > 1 ? ` And ${open.length - 1} more.` : ''}`, [
      'First start',
      'Teach the idle',
    ])
  const failedRun = live(f.runs)
    .filter((x) => x.procedure !== 'feed')
    .at(-1)
  if (failedRun && stateOfRun(f, failedRun)?.status === 'failed')
    return act('learn', 'Teach the idle again', stateOfRun(f, failedRun)?.reason ?? 'The last attempt failed.')
  if (done.length && !isProved(f))
    return act('prove', 'Measure the same points again', 'Mended is not proved: idle, warm, with the same loads.', [
      'Hand over',
    ])
  const mended = new Set(done.map((r) => r.station))
  const failed = live(f.findings).find((x) => x.outcome === 'fail' && x.test !== 'note' && !mended.has(x.station))
  if (failed)
    return act(
      'trace',
      `Mend the ${stationInfo(failed.station).label}`,
      failed.note ?? 'Found there; choose wrap, refit or new by price and risk.',
      ['Measure the same points again'],
    )
  if (done.length) {
    const account = visitLedger(f)
    if (account && !account.accounted)
      return act(
        'trace',
        'Look for the rest',
        `${account.now.gramsPerS.median.toFixed(2)} g/s still come in unmeasured.`,
        nextTitles(d),
      )
    return act('hand-over', 'Print the sheet', 'Mended, measured again, inside its bands.')
  }
  const items = lookItemsOf(airPathOf(f.vehicle.spec))
  const judged = new Set(
    live(f.findings)
      .filter((x) => x.test === 'look')
      .map((x) => x.item),
  ).size
  if (judged < items.length)
    return act(
      'look',
      judged ? 'Go on along the pipe' : 'Walk the pipe',
      'Free checks first: hoses, clamps and caps cost minutes.',
      nextTitles(d),
    )
  const lead = d?.ranking[0]
  const test = d?.nextTests[0]
  if (lead?.fault === 'none' && lead.probability > 0.6)
    return act('hand-over', 'Print the sheet', 'Everything measured stands in its band: nothing to mend in the intake.')
  if (test && (lead?.probability ?? 0) < SURE_ENOUGH) {
    const info = testInfo(test.test)
    return act(
      'trace',
      info.label,
      `${info.minutes} minute${info.minutes === 1 ? '' : 's'}. ${info.how}`,
      nextTitles(d).slice(1),
    )
  }
  return act(
    'trace',
    lead ? ACTS[lead.fault] : UNDECIDED,
    lead?.sentence ?? 'Measured and looked at: the causes are ranked.',
    nextTitles(d),
  )
}

/** The act of a visit whose next one only the diagnosis can tell. */
export const UNDECIDED = 'See what the readings say'

/** What a clear cause asks for. */
const ACTS: Readonly<Record<FaultId, string>> = {
  none: 'Print the sheet',
  'unmetered-air': 'Find the place',
  'unmetered-air-bank': 'Find the place on that bank',
  'unmetered-air-duct': 'Flex and look at the duct',
  'maf-under-reads': 'Clean the airflow sensor, once',
  'maf-over-reads': 'Look at the airflow sensor',
  'map-sensor-offset': 'Check the pressure sensor at key-on',
  'throttle-deposits': 'Look at the throttle edge',
  'egr-open-at-idle': 'Hand pump on the EGR valve',
  'pcv-stuck-open': 'Pinch the crankcase vent',
  'purge-stuck-open': 'Pinch the purge hose',
  'boost-leak': 'Boost pipes under pressure',
  'temperature-sensor-implausible': 'Compare the temperatures cold',
  'idle-valve-stuck': 'Sweep the idle valve',
  'intake-restriction': 'Filter out, and the inlet looked at',
  'egr-no-flow': 'EGR passage looked at',
  'pcv-blocked': 'Vacuum at the vent grommet',
  'valve-deposits': 'Look at the valves by borescope',
  'runner-restriction': 'Balance of the cylinders',
  'oxygen-sensor-biased': 'Oxygen sensor tried; leave the intake alone',
  'exhaust-leak': 'Exhaust joints ahead of the sensor; leave the intake alone',
  'exhaust-restriction': 'Back pressure; leave the intake alone',
  'valve-timing-late': 'Valve timing; leave the intake alone',
  'weak-cylinder': 'Compression; leave the intake alone',
  'ignition-misfire': 'Ignition; leave the intake alone',
  'fuel-delivery-low': 'Fuel pressure; leave the intake alone',
  'fuel-delivery-high': 'Fuel pressure; leave the intake alone',
}

const nextTitles = (d?: Diagnosis): string[] =>
  (d?.nextTests ?? []).slice(0, 2).map((t) => `${testInfo(t.test).label}, ${t.minutes} min`)

function verb(kind: string): string {
  switch (kind) {
    case 'wrap':
      return 'Wrap'
    case 'replace':
      return 'Replace'
    case 'clean':
      return 'Clean'
    default:
      return 'Refit'
  }
}

/** Latest round and whether the next readings belong to a new one: a remedy since opens a new round. */
export function roundToFill(f: VisitFile): number {
  const done = live(f.repairs).filter((r) => r.state === 'done')
  if (!done.length) return 0
  return Math.max(lastRound(f), Math.max(...done.map((r) => r.afterRound)) + 1)
}
