import { shotFits, type FeedPlan, type FeedRequest } from '../cleaning/index.js'
import type { RunEvent } from './procedure.js'

/** What ends a feed at once, by one tap; what each means. */
export const HAZARDS = [
  {
    kind: 'stall',
    label: 'it stalled',
    reason: 'The engine stalled: do not crank. All that was fed may stand in one cylinder.',
  },
  {
    kind: 'lamp',
    label: 'lamp flashes',
    reason: 'The lamp flashed: it misfires and heats the catalyst. Engine off; find the misfire first.',
  },
  {
    kind: 'speed',
    label: 'speed lost',
    reason: 'The speed fell and did not come back: nothing more is fed until it is known why.',
  },
  {
    kind: 'ran-away',
    label: 'runs away',
    reason: 'It ran away: fuel and air off, clear of the engine. Nothing more is fed.',
  },
  { kind: 'hot', label: 'too hot', reason: 'The coolant left its band: engine off, let it cool.' },
  { kind: 'stop', label: 'STOP', reason: 'Stopped by hand.' },
] as const
export type HazardKind = (typeof HAZARDS)[number]['kind']

/** Seconds counted in before the first shot and after a hold: time to get the hand to the valve. */
export const COUNT_IN_S = 3

/** One shot as it was. */
export interface FedShot {
  readonly openMs: number
  /** When it was shut; undefined while it is open. */
  readonly shutMs?: number
  readonly ml: number
}

/** Where a feed stands, from what the clock sounded and the hand told. */
export interface FeedRunState {
  readonly phase: 'ready' | 'count-in' | 'shot' | 'pause' | 'held' | 'done' | 'stopped'
  readonly shots: readonly FedShot[]
  readonly fedMl: number
  /** Left to feed [mL], and shots that it takes. */
  readonly leftMl: number
  readonly leftShots: number
  /** Film in the intake now [mL]. */
  readonly filmMl: number
  /** When the phase ends by the clock [ms]: the shot to be shut, the next to be opened. */
  readonly dueMs?: number
  /** Length of the shot that runs or comes next [s]. */
  readonly shotS: number
  /** Shots that were late, long or fed twice. */
  readonly slips: number
  /** Seconds that the pause was made longer than planned, for what a slip left. */
  readonly longerS: number
  readonly hazard?: HazardKind
  readonly reason?: string
  /** More may stand in the intake than one cylinder bears, or nobody knows how much: no cranking until it was turned by hand. */
  readonly locks: boolean
}

/** What of a request says how much goes in, and what was there when it began. */
export type FeedDose = Pick<FeedRequest, 'doseMl' | 'labelMaxMl' | 'alreadyMl' | 'filmStartMl'>

/** What is left below this is not worth a shot [s]. */
const LEAST_SHOT_S = 0.25
/** Tried for the next shot [s]: how far ahead, in what steps. */
const LOOK_AHEAD_S = 1800
const LOOK_STEP_S = 0.5
/** A sound comes and a hand follows within this [s]: no slip. */
const HAND_S = 0.6

/**
 * State of a feed at a moment: a pure fold over its events, so that a closed page or another tablet sees the same. A shot that
 * was opened counts at least as long as it was meant, and as long as it was where that is more; the next one waits until it and
 * one twice as long would stay inside every limit. Only a hazard ends it.
 *
 * @param q - the request of the plan: what is to go in, what the label leaves, what was there when it began
 */
export function feedRunState(plan: FeedPlan, q: FeedDose, events: readonly RunEvent[], nowMs: number): FeedRunState {
  const run = new Feeding(plan, q)
  for (const e of asSounded(events)) if (e.atMs <= nowMs || e.kind === 'begin') run.take(e)
  return run.at(nowMs)
}

/** What two tablets told of one feed: each event once, in the order of its time. */
export const allEvents = (a: readonly RunEvent[], b: readonly RunEvent[]): RunEvent[] =>
  [...new Map([...a, ...b].map((e) => [`${e.kind} ${e.atMs}`, e])).values()].sort((x, y) => x.atMs - y.atMs)

/** Runs that were led by taps: begun with the first shot open, each tap shut or opened it. */
function asSounded(events: readonly RunEvent[]): readonly RunEvent[] {
  if (!events.some((e) => e.kind === 'tap')) return events
  let open = true
  return events.flatMap((e): RunEvent[] => {
    if (e.kind === 'begin') return [e, { kind: 'open', atMs: e.atMs }]
    if (e.kind !== 'tap') return [e]
    open = !open
    return [{ kind: open ? 'open' : 'shut', atMs: e.atMs }]
  })
}

/** A feed that is followed event by event: each is taken once, in order. */
export class Feeding {
  private readonly shots: { openMs: number; shutMs?: number; ml: number }[] = []
  private beganMs: number | undefined
  private heldMs: number | undefined
  /** When the next shot may be opened at the earliest, counted in. */
  private nextMs = 0
  private longerS = 0
  private slips = 0
  private film: { ml: number; atMs: number }
  private end: { hazard?: HazardKind; reason: string; atMs: number } | undefined
  private over = false

  private readonly doseMl: number
  private readonly labelLeftMl: number

  constructor(
    private readonly plan: FeedPlan,
    q: FeedDose,
  ) {
    this.doseMl = q.doseMl
    this.labelLeftMl = q.labelMaxMl - (q.alreadyMl ?? 0)
    this.film = { ml: q.filmStartMl ?? 0, atMs: 0 }
  }

  take(e: RunEvent): void {
    if (e.kind === 'begin') {
      if (this.beganMs !== undefined) return
      this.beganMs = e.atMs
      this.film = { ...this.film, atMs: e.atMs }
      this.nextMs = e.atMs + 1000 * COUNT_IN_S
      return
    }
    if (this.beganMs === undefined || this.end) return
    const hazard = HAZARDS.find((h) => h.kind === e.kind)
    if (hazard) {
      this.shut(e.atMs)
      this.end = { hazard: hazard.kind, reason: hazard.reason, atMs: e.atMs }
      return
    }
    const open = this.shots.at(-1)
    switch (e.kind) {
      case 'open':
        this.open(e.atMs)
        break
      case 'shut':
        this.shut(e.atMs)
        break
      // by hand, after the clock had sounded it: it was open until now
      case 'shut-late':
        if (open) {
          this.slips++
          this.reopen()
          this.shut(e.atMs, true)
        }
        break
      case 'again':
        if (open && open.shutMs !== undefined) {
          this.slips++
          this.shots.push({ openMs: e.atMs, ml: open.ml })
          this.shut(e.atMs)
        }
        break
      case 'hold':
        this.heldMs = e.atMs
        break
      case 'go':
        if (this.heldMs !== undefined) {
          this.heldMs = undefined
          this.nextMs = Math.max(this.nextMs, e.atMs + 1000 * COUNT_IN_S)
        }
        break
      default:
    }
  }

  private get fedMl(): number {
    return this.shots.reduce((ml, s) => ml + s.ml, 0)
  }

  /** Length of the next shot [s]; 0 when all is in. Fed twice, it must not go over the label. */
  private nextShotS(): number {
    const { rateMlS, shotS } = this.plan
    const s = Math.min(shotS, (this.doseMl - this.fedMl) / rateMlS, (this.labelLeftMl - this.fedMl) / rateMlS / 2)
    return s < LEAST_SHOT_S ? 0 : s
  }

  private filmAt(ms: number): number {
    const gone = Math.max(0, ms - this.film.atMs) / 1000 / this.plan.limits.tauS
    return this.film.ml * Math.exp(-gone)
  }

  private open(ms: number): void {
    if (this.shots.at(-1) && this.shots.at(-1)!.shutMs === undefined) return
    const meant = this.nextShotS() || this.plan.shotS
    if (this.nextMs && ms > this.nextMs + 1000 * HAND_S) this.slips++
    this.shots.push({ openMs: ms, ml: meant * this.plan.rateMlS })
  }

  private reopen(): void {
    const last = this.shots.at(-1)!
    delete last.shutMs
  }

  /** Ends the shot that is open, if one is: its film is laid down and the next one reckoned. */
  private shut(ms: number, told = false): void {
    const last = this.shots.at(-1)
    if (!last || last.shutMs !== undefined) return
    const { plan } = this
    const before = this.filmBefore(last)
    const seconds = Math.max(0, ms - last.openMs) / 1000
    const meant = last.ml / plan.rateMlS
    if (!told && seconds > meant + HAND_S) this.slips++
    last.shutMs = ms
    last.ml = Math.max(last.ml, seconds * plan.rateMlS)
    this.film = { ml: before + plan.limits.wetShare * last.ml, atMs: ms }
    if (this.film.ml > plan.limits.liquidMl) {
      this.over = true
      this.end = {
        reason: `${this.film.ml.toFixed(1)} mL may stand in the intake; this engine bears ${plan.limits.liquidMl.toFixed(1)}. Engine off if it still runs, and no cranking: plugs out, turn it by hand.`,
        atMs: ms,
      }
      return
    }
    this.reckonNext(ms)
  }

  private readonly laid: { shot: object; before: number }[] = []

  /** Film that stood when a shot was opened; kept, so that one that is shut later than sounded is laid down once. */
  private filmBefore(shot: { openMs: number }): number {
    const known = this.laid.at(-1)
    if (known?.shot === shot) return known.before
    const before = this.filmAt(shot.openMs)
    this.laid.push({ shot, before })
    return before
  }

  private reckonNext(shutMs: number): void {
    const { plan } = this
    const shotS = this.nextShotS()
    if (!shotS) return
    const planned = shutMs + 1000 * plan.pauseS
    for (let s = 0; s <= LOOK_AHEAD_S; s += LOOK_STEP_S) {
      const at = planned + 1000 * s
      const mistBeforeG = this.mistG(at - 10_000, at)
      if (shotFits(plan.limits, { rateMlS: plan.rateMlS, shotS, filmBeforeMl: this.filmAt(at), mistBeforeG })) {
        this.nextMs = at
        this.longerS = s
        return
      }
    }
    this.nextMs = planned + 1000 * LOOK_AHEAD_S
    this.longerS = LOOK_AHEAD_S
  }

  /** Mist that was let in between two moments [g]. */
  private mistG(fromMs: number, toMs: number): number {
    const { rateMlS, limits } = this.plan
    let g = 0
    for (let k = this.shots.length - 1; k >= 0; k--) {
      const s = this.shots[k]
      const shut = s.openMs + (1000 * s.ml) / rateMlS
      if (shut < fromMs) break
      const seconds = Math.max(0, Math.min(shut, toMs) - Math.max(s.openMs, fromMs)) / 1000
      g += (1 - limits.wetShare) * rateMlS * limits.densityGMl * seconds
    }
    return g
  }

  at(nowMs: number): FeedRunState {
    const last = this.shots.at(-1)
    const running = last !== undefined && last.shutMs === undefined
    const openS = running ? Math.max(last.ml / this.plan.rateMlS, (nowMs - last.openMs) / 1000) : 0
    const fedMl = this.fedMl - (running ? last.ml : 0) + openS * (running ? this.plan.rateMlS : 0)
    const filmMl = running
      ? this.filmAt(last.openMs) + this.plan.limits.wetShare * this.plan.rateMlS * openS
      : this.filmAt(this.end?.hazard === 'stall' ? this.end.atMs : nowMs)
    const next = this.nextShotS()
    const leftMl = Math.max(0, this.doseMl - fedMl)
    const common = {
      shots: this.shots,
      fedMl,
      leftMl,
      leftShots: next ? Math.ceil(leftMl / (this.plan.rateMlS * this.plan.shotS) - 1e-9) : 0,
      filmMl,
      shotS: running ? last.ml / this.plan.rateMlS : next,
      slips: this.slips,
      locks: this.over || this.end?.hazard === 'stall',
      longerS: this.longerS,
    }
    if (this.beganMs === undefined) return { ...common, phase: 'ready' }
    if (this.end) return { ...common, phase: 'stopped', hazard: this.end.hazard, reason: this.end.reason }
    if (running) return { ...common, phase: 'shot', dueMs: last.openMs + (1000 * last.ml) / this.plan.rateMlS }
    if (!next) return { ...common, phase: 'done' }
    if (this.heldMs !== undefined) return { ...common, phase: 'held' }
    return {
      ...common,
      phase: nowMs >= this.nextMs - 1000 * COUNT_IN_S ? 'count-in' : 'pause',
      dueMs: this.nextMs,
    }
  }
}
