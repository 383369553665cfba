import type { ChannelId } from '../signals/index.js'

/** How a step ends. */
export type StepRule =
  | { readonly kind: 'exact'; readonly seconds: number; readonly toleranceS: number }
  | { readonly kind: 'at-least'; readonly seconds: number }
  | { readonly kind: 'at-most'; readonly seconds: number }
  | { readonly kind: 'until'; readonly sign: string; readonly withinS?: number }
  | { readonly kind: 'count'; readonly times: number; readonly withinS: number }

/** What must hold before a procedure is armed: ticked by a hand, or read by a channel. */
export interface Precondition {
  readonly id: string
  readonly label: string
  /** A STOP is ticked by hand, each by itself. */
  readonly stop?: boolean
  /** The channel that tells it by itself, and its bounds in the channel's own unit. */
  readonly reads?: { readonly channel: ChannelId; readonly min: number; readonly max: number }
}

/** One timed step: what to do, and how it is judged. */
export interface ProcedureStep {
  readonly say: string
  readonly rule: StepRule
}

/** A timed procedure as data. */
export interface Procedure {
  readonly id: string
  readonly label: string
  readonly preconditions: readonly Precondition[]
  readonly steps: readonly ProcedureStep[]
  readonly why: string
  /** What was done once it has passed, as a sheet says it; and in the customer's words. */
  readonly done?: string
  readonly donePlain?: string
  /** The first word of the act that does it. */
  readonly verb?: string
}

/** Kinds of what happens in a run; those from "open" on belong to a feed, led by the clock. */
export const RUN_EVENTS = [
  'begin',
  'tap',
  'back',
  'stop',
  'stall',
  'open',
  'shut',
  'shut-late',
  'again',
  'hold',
  'go',
  'lamp',
  'speed',
  'ran-away',
  'hot',
] as const

/** What happened in a run, by the device's own time of the key or pointer [ms]. */
export interface RunEvent {
  readonly kind: (typeof RUN_EVENTS)[number]
  readonly atMs: number
}

/** A step as it was done. */
export interface StepResult {
  readonly step: number
  readonly startMs: number
  readonly endMs: number
  /** Seconds off: > 0 late or over, < 0 early; 0 where nothing is timed. */
  readonly errorS: number
  readonly passed: boolean
}

export interface RunState {
  readonly status: 'ready' | 'running' | 'passed' | 'failed' | 'stopped'
  readonly step: number
  /** Start of the running step [ms]. */
  readonly stepStartMs: number
  readonly count: number
  readonly results: readonly StepResult[]
  /** Why it failed or was stopped, in a sentence. */
  readonly reason?: string
}

/** A second tap of a wet glove within this is the same tap [ms]. */
export const SAME_TAP_MS = 400

const READY: RunState = { status: 'ready', step: 0, stepStartMs: 0, count: 0, results: [] }

/** State of a run from its events: a pure fold, so that a closed tab or another tablet sees the same. */
export function runState(p: Procedure, events: readonly RunEvent[]): RunState {
  const kept: RunEvent[] = []
  for (const e of events) {
    if (e.kind === 'back') {
      // back one: the last tap never was
      const at = kept.map((x) => x.kind).lastIndexOf('tap')
      if (at >= 0) kept.splice(at, 1)
      continue
    }
    const last = kept[kept.length - 1]
    if (
      e.kind === 'tap' &&
      last &&
      last.kind !== 'begin' &&
      Math.abs(e.atMs - last.atMs) < SAME_TAP_MS &&
      !countsFast(p, kept)
    )
      continue
    kept.push(e)
  }
  return kept.reduce((s, e) => next(p, s, e), READY)
}

/** Inside a counting step quick taps are meant. */
function countsFast(p: Procedure, events: readonly RunEvent[]): boolean {
  const s = events.reduce((x, e) => next(p, x, e), READY)
  return s.status === 'running' && p.steps[s.step].rule.kind === 'count' && s.count > 0
}

function next(p: Procedure, s: RunState, e: RunEvent): RunState {
  if (e.kind === 'begin') return s.status === 'ready' ? { ...s, status: 'running', stepStartMs: e.atMs } : s
  if (s.status !== 'running') return s
  if (e.kind === 'stop') return { ...s, status: 'stopped', reason: 'Stopped by hand.' }
  if (e.kind !== 'tap') return s
  if (e.atMs < s.stepStartMs)
    return {
      ...s,
      status: 'failed',
      reason: 'The clock of this device jumped back: the times cannot be trusted. Begin again.',
    }
  const rule = p.steps[s.step].rule
  const seconds = (e.atMs - s.stepStartMs) / 1000
  if (rule.kind === 'count' && s.count + 1 < rule.times) return { ...s, count: s.count + 1 }
  const errorS = errorOf(rule, seconds)
  const passed = errorS === 0 || (rule.kind === 'exact' && Math.abs(errorS) <= rule.toleranceS + 1e-9)
  const results = [...s.results, { step: s.step, startMs: s.stepStartMs, endMs: e.atMs, errorS, passed }]
  if (!passed) return { ...s, status: 'failed', results, reason: reasonOf(p.steps[s.step], errorS) }
  if (s.step + 1 === p.steps.length) return { ...s, status: 'passed', results, count: 0 }
  return { ...s, step: s.step + 1, stepStartMs: e.atMs, count: 0, results }
}

function errorOf(rule: StepRule, seconds: number): number {
  switch (rule.kind) {
    case 'exact':
      return seconds - rule.seconds
    case 'at-least':
      return Math.min(0, seconds - rule.seconds)
    case 'at-most':
      return Math.max(0, seconds - rule.seconds)
    case 'until':
      return rule.withinS === undefined ? 0 : Math.max(0, seconds - rule.withinS)
    case 'count':
      return Math.max(0, seconds - rule.withinS)
  }
}

function reasonOf(step: ProcedureStep, errorS: number): string {
  const by = `${Math.abs(errorS).toFixed(1)} s too ${errorS > 0 ? 'late' : 'early'}`
  return `“${step.say}” came ${by}. The controller did not take it: begin again from the first step.`
}

/** Seconds that a step is meant to take, for its scale; undefined where only a sign ends it. */
export function stepSeconds(rule: StepRule): number | undefined {
  return rule.kind === 'count' || rule.kind === 'until' ? rule.withinS : rule.seconds
}
