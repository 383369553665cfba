import { tellsNothing, type Diagnosis } from '../diagnosis/index.js'
import { lookItemsOf } from '../engine/index.js'
import { isLampUnread } from './evidence.js'
import { diesIn, diesNow, isReadAsItCame } from './noIdle.js'
import { pointsOfRound } from './points.js'
import { live, type VisitFile } from './records.js'
import { isProved, remediesOf, roundToFill } from './remedies.js'
import { stateOfRun, taughtRuns, teachAct } from './runs.js'
import { openThings, poolsUnlooked, restartLocked, runningWaits } from './service.js'
import type { StageId } from './stages.js'
import { takenOf } from './taken.js'

/**
 * What this bench wants next, whatever the visit as a whole wants: one sentence, said where the next act of the visit
 * stands on another bench.
 * @param nowMs - the present; 0 where waits are not looked at
 */
export function benchNext(f: VisitFile, stage: StageId, d?: Diagnosis, nowMs = 0): string {
  const remedies = remediesOf(f)
  switch (stage) {
    case 'arrive':
      if (!isReadAsItCame(f))
        return diesIn(f, 0) ? 'It holds no idle: read it held at 2500 rpm.' : 'Read the warm idle, nothing touched.'
      return arrived(f)
    case 'look': {
      const judged = new Set(live(f.findings).map((x) => x.item))
      const left = lookItemsOf(f.vehicle.spec).filter((i) => !judged.has(i.id)).length
      return left ? `${left} look${left === 1 ? '' : 's'} left along the pipe.` : 'Every look is judged.'
    }
    case 'measure':
      return measureNext(f, d)
    case 'trace':
      return d ? d.stop.because : 'Needs readings at idle.'
    case 'open-up':
      return live(f.items).some((i) => i.state !== 'on')
        ? 'Cover what is open; count in what goes in.'
        : 'Nothing is off.'
    case 'clean':
      return live(f.steps).some((s) => !s.passed)
        ? 'A surface has not reached its end.'
        : 'Choose a surface, and what may touch it: the weakest stands first.'
    case 'decarbonize':
      return live(f.runs).some((r) => r.procedure === 'feed' && stateOfRun(f, r)?.status === 'passed')
        ? 'Fed. Soak, look for pools, then start.'
        : 'Tick what is so; the plan follows.'
    case 'close-up': {
      const open = openThings(f)
      return open.length ? open[0].message : 'Nothing is open.'
    }
    case 'first-start':
      return restartLocked(f)
        ? 'Do not crank.'
        : openThings(f).length
          ? 'Close up first.'
          : nowMs > 0 && runningWaits(f, nowMs).length
            ? runningWaits(f, nowMs)[0].message
            : poolsUnlooked(f).length
              ? 'Look for pools before it is cranked.'
              : 'Start it, and watch the first minutes.'
    case 'learn':
      return taughtRuns(f).some((r) => stateOfRun(f, r)?.status === 'passed')
        ? 'Taught. Read the idle again.'
        : teachAct(f.vehicle.spec)
          ? 'Warm up and see where idle settles before teaching.'
          : 'Nothing to teach on this engine.'
    case 'prove':
      if (!remedies.length) return 'No work is entered yet.'
      if (diesNow(f)) return `It ${diesNow(f)}.`
      return isProved(f) ? 'Measured again.' : `Measure round ${roundToFill(f)}: the same points, warm.`
    case 'hand-over':
      return live(f.reports).length ? 'The sheet is issued.' : 'Read the sheet before it is issued.'
  }
}

/** What has been read of the car as it came. */
function arrived(f: VisitFile): string {
  const isUnread = isLampUnread(f)
  const dies = diesIn(f, 0)
  if (dies === 'no-run') return `It does not keep running.${isUnread ? ' Its codes are not read.' : ''}`
  return `${dies ? 'A held speed' : 'The warm idle'} is read${isUnread ? '; its codes are not' : ''}.`
}

/** What more is to be measured: of throttles of each cylinder's own, and of a diesel, no speed held tells a cause from another. */
function measureNext(f: VisitFile, d?: Diagnosis): string {
  if (f.vehicle.spec.plenum === 'individual')
    return takenOf(f.balances, 'throttles').some((b) => b.round === roundToFill(f))
      ? 'The throttles are read.'
      : 'Read the vacuum of each throttle.'
  const isHeld = pointsOfRound(f, roundToFill(f)).some((p) => p.kind === 'hold')
  const dies = diesIn(f, roundToFill(f))
  if (dies === 'no-run') return 'It does not keep running: nothing is read of it but with the engine off.'
  if (dies) return isHeld ? 'A held speed is in; another beside it tells more.' : 'It holds no idle: hold 2500 rpm.'
  if (isHeld) return 'Idle and a held speed are in.'
  return d && tellsNothing(d)
    ? 'A held speed beside the idle is a "before" for the proof.'
    : 'A held speed beside the idle tells faults apart.'
}
