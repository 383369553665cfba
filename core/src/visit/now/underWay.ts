import { SURE_ENOUGH, type Diagnosis } from '../../diagnosis/index.js'
import { stationInfo } from '../../engine/index.js'
import { CLEAR_OUT } from '../../procedures/index.js'
import { figureText } from '../../units/index.js'
import { closeDownRefusals } from '../afterFeed.js'
import { isLampUnread } from '../evidence.js'
import { coolantBeyond, diesIn, isReadAsItCame, NO_IDLE } from '../noIdle.js'
import { channelList, isIdleRead, missingAtIdle } from '../points.js'
import { live, type RepairKind, type VisitFile } from '../records.js'
import { plannedRepairs } from '../remedies.js'
import { procedureOfRun, runsGoingOn, stateOfRun, taughtRuns, teachAct } from '../runs.js'
import { openThings, poolsUnlooked, restartLocked, runningWaits } from '../service.js'
import { act, type Rule } from './act.js'

const VERBS: Readonly<Record<RepairKind, string>> = {
  refit: 'Refit',
  clamp: 'Clamp',
  wrap: 'Wrap',
  splice: 'Splice',
  cap: 'Cap',
  replace: 'Renew',
  reroute: 'Put right',
  clean: 'Clean',
  leave: 'Leave',
}

const handedOver: Rule = ({ f }) =>
  live(f.reports).length && f.visit.state === 'handed-over'
    ? act('handed-over', 'hand-over', 'Handed over', 'The sheet is issued. A later word on it is an amendment.')
    : undefined

const doNotCrank: Rule = ({ f }) =>
  restartLocked(f)
    ? act(
        'do-not-crank',
        'first-start',
        'Do not crank',
        'It stalled while liquid was fed, or more went in than a cylinder bears: plugs out, turn it by hand, then tick it.',
      )
    : undefined

const goOn: Rule = ({ f }) => {
  const [going] = runsGoingOn(f)
  if (!going) return undefined
  const why = 'A timed step is running.'
  if (going.procedure === 'feed') return act('go-on', 'decarbonize', 'Go on feeding', why)
  return going.procedure === CLEAR_OUT.id
    ? act('go-on', 'first-start', 'Go on clearing out', why)
    : act('go-on', 'learn', 'Go on teaching', why)
}

const closeDown: Rule = ({ f }) => {
  const [unclosed] = closeDownRefusals(f)
  return unclosed && act('close-down', 'decarbonize', 'Close the feed down', unclosed.message, ['Look for pools'])
}

const signs: Rule = ({ f }) =>
  !f.visit.signs.length && f.visit.intent === 'complaint'
    ? act('signs', 'arrive', 'Tap what the customer feels', 'The signs set which causes come first.', [
        'Read the idle',
        'Walk the pipe',
      ])
    : undefined

/** Why what was recorded holds no warm idle, where the coolant sensor hides it. */
function hidesItsIdle(f: VisitFile): string | undefined {
  const off = coolantBeyond(f, 0)
  return off === undefined
    ? undefined
    : `The coolant sensor reads ${figureText(off, 0)} °C, so no stretch that was recorded counts as warm: with the engine run warm for a quarter of an hour, type what stands at idle.`
}

/** Whether the coolant sensor surely misleads the controller, and what that leaves to be read at idle was read. */
const isLedAstray = (f: VisitFile, d: Diagnosis | undefined): boolean => {
  const lead = d?.ranking.at(0)
  const isSure = lead?.fault === 'temperature-sensor-implausible' && lead.probability > SURE_ENOUGH
  return isSure && isIdleRead(f, 0) && coolantBeyond(f, 0) !== undefined
}

/** Where the customer says that it does not idle, or what was recorded holds none: how that is entered. */
const ifNone = (f: VisitFile): string =>
  f.visit.signs.includes(NO_IDLE) || live(f.recordings).some((r) => r.round === 0)
    ? ' If it holds none, tick that there.'
    : ''

/** What is done has closed the round: nothing more can be read as it came. */
const readIdle: Rule = ({ f, d, done }) => {
  if (isReadAsItCame(f) || done.length || isLedAstray(f, d)) return undefined
  const dies = diesIn(f, 0)
  return act(
    'read-idle',
    'arrive',
    dies ? 'Read it held at 2500 rpm' : 'Read the warm idle',
    dies
      ? 'It holds no idle: what it reads warm, held with the pedal, is the "before".'
      : isIdleRead(f, 0)
        ? `Still to be read: ${channelList(missingAtIdle(f, 0))}. Later this is the "before".`
        : (hidesItsIdle(f) ?? `Nothing is touched before it is measured: later this is the "before".${ifNone(f)}`),
    ['Walk the pipe'],
  )
}

const readCodes: Rule = ({ f, done }) =>
  !done.length && isLampUnread(f) && !openThings(f).length
    ? act(
        'read-codes',
        'arrive',
        'Read the codes',
        'The lamp is on: written down before anything is unplugged or cleared, with the frozen figures.',
        ['Walk the pipe'],
      )
    : undefined

const planned: Rule = ({ f }) => {
  const repair = plannedRepairs(f).at(0)
  return (
    repair &&
    act(
      'planned',
      'trace',
      repair.station === 'beyond'
        ? 'Do what is planned beyond the air path'
        : `${VERBS[repair.kind]} the ${stationInfo(repair.station).label}`,
      'Planned; the proof comes after.',
      ['Measure the same points again'],
    )
  )
}

const clean: Rule = ({ f }) => {
  const cleaning = live(f.steps).find((x) => !x.passed && !x.againstRule)
  return (
    cleaning &&
    act(
      'clean',
      'clean',
      `Clean the ${stationInfo(cleaning.station).label} to its end`,
      'It ends at its test, not at shine.',
      openThings(f).length ? ['Close up', 'First start'] : ['Measure the same points again'],
      { station: cleaning.station },
    )
  )
}

const closeUp: Rule = ({ f }) => {
  const open = openThings(f)
  if (!open.length) return undefined
  const teach = teachAct(f.vehicle.spec)
  return act(
    'close-up',
    'close-up',
    'Close up',
    `${open[0].message}${open.length > 1 ? ` And ${open.length - 1} more.` : ''}`,
    ['First start', ...(teach ? [teach] : [])],
  )
}

const wait: Rule = ({ f, done, nowMs }) => {
  const [first] = nowMs === undefined || !done.length ? [] : runningWaits(f, nowMs)
  return (
    first &&
    act('wait', 'first-start', first.rule === 'soak-runs' ? 'Let it soak' : 'Let it dry', first.message, [
      'Measure the same points again',
    ])
  )
}

const pools: Rule = ({ f }) => {
  const [unlooked] = poolsUnlooked(f)
  return unlooked && act('pools', 'first-start', 'Look for pools', unlooked.message, ['First start'])
}

const teachAgain: Rule = ({ f }) => {
  const last = taughtRuns(f).at(-1)
  const state = last && stateOfRun(f, last)
  return last && state?.status === 'failed'
    ? act(
        'teach-again',
        'learn',
        `${procedureOfRun(last)?.verb ?? 'Teach the idle'} again`,
        state.reason ?? 'The last attempt failed.',
      )
    : undefined
}

/** What is under way, open or owed by the arrival comes before what the readings say. */
export const UNDER_WAY: readonly Rule[] = [
  handedOver,
  doNotCrank,
  goOn,
  closeDown,
  signs,
  readIdle,
  readCodes,
  planned,
  clean,
  closeUp,
  wait,
  pools,
  teachAgain,
]
