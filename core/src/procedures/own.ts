import { maybeChannel, type ChannelId } from '../signals/index.js'
import { PROCEDURES } from './library.js'
import type { Precondition, Procedure, ProcedureStep, StepRule } from './procedure.js'

/** What a shop's own procedure is for; how it stands on a sheet follows from it. */
export const OWN_KINDS = [
  { id: 'teach', label: 'teaches idle or throttle', verb: 'Teach the idle', donePlain: 'the idle taught again' },
  { id: 'forget', label: 'takes learnt values back', verb: 'Reset', donePlain: 'the learnt values reset' },
  { id: 'drive', label: 'a drive', verb: 'Drive it', donePlain: 'a drive by which its control learns' },
] as const
export type OwnKind = (typeof OWN_KINDS)[number]['id']

/** A procedure that a shop wrote from a maker's book, as it is kept and shared. */
export interface OwnProcedure {
  readonly format: 'uvula-procedure'
  readonly formatVersion: 1
  readonly id: string
  readonly label: string
  readonly kind: OwnKind
  readonly why: string
  /** Where it was read, and on which day, yyyy-mm-dd. */
  readonly source: string
  readonly sourceDate: string
  readonly preconditions: readonly Precondition[]
  readonly steps: readonly ProcedureStep[]
}

/** What is wrong, at which step (1 first) where it is one. */
export interface OwnProblem {
  readonly field: string
  readonly step?: number
  readonly message: string
}

export type OwnChecked =
  { readonly ok: true; readonly value: OwnProcedure } | { readonly ok: false; readonly problems: readonly OwnProblem[] }

/** Stand before every procedure of a shop's own, whatever its book says. */
export const standingStops = (kind: OwnKind): readonly Precondition[] => [
  kind === 'drive'
    ? { id: 'lamp', label: 'lamp off or steady: flashing, nothing is driven', stop: true }
    : { id: 'selector', label: 'selector in park or neutral, brake on', stop: true },
  { id: 'extraction', label: 'extraction on, or in the open air', stop: true },
]

/** What a reading can tell of a condition, and which bounds make sense [own unit]. */
export const TELLING: readonly { readonly channel: ChannelId; readonly min: number; readonly max: number }[] = [
  { channel: 'ect_c', min: -40, max: 130 },
  { channel: 'iat_c', min: -40, max: 100 },
  { channel: 'battery_v', min: 9, max: 16 },
  { channel: 'rpm', min: 0, max: 8000 },
  { channel: 'speed_kph', min: 0, max: 250 },
]

/** What a hand can do: closer than this nobody taps [s], faster than this nobody presses [s each], sooner nobody answers [s]. */
const HAND = { toleranceS: 0.2, eachS: 0.25, answerS: 0.5 } as const
const RESERVED: ReadonlySet<unknown> = new Set(['feed', ...PROCEDURES.map((p) => p.id)])
const STEP_MOST_S = 7200
const WHOLE_MOST_S = 4 * 3600
const STEPS_MOST = 40
const CONDITIONS_MOST = 20

const isText = (x: unknown, most: number): x is string =>
  typeof x === 'string' && x.trim().length > 0 && x.length <= most && !/\p{C}/u.test(x)
const isNumber = (x: unknown): x is number => typeof x === 'number' && Number.isFinite(x)
const isObject = (x: unknown): x is Record<string, unknown> => typeof x === 'object' && x !== null && !Array.isArray(x)
const isDay = (x: unknown): x is string =>
  typeof x === 'string' && /^\d{4}-\d{2}-\d{2}$/.test(x) && new Date(`${x}T00:00:00Z`).toJSON()?.startsWith(x) === true

/**
 * Reads a procedure that somebody wrote, from an editor or a file: every figure a hand and an engine can keep, else which
 * step cannot be and what would be accepted.
 */
export function checkOwnProcedure(x: unknown): OwnChecked {
  if (!isObject(x) || x.format !== 'uvula-procedure')
    return {
      ok: false,
      problems: [{ field: 'format', message: 'This is no procedure file: “format” must be “uvula-procedure”.' }],
    }
  if (x.formatVersion !== 1)
    return {
      ok: false,
      problems: [{ field: 'formatVersion', message: `Version ${String(x.formatVersion)} is not known here; 1 is.` }],
    }
  const problems: OwnProblem[] = []
  const want = (ok: boolean, field: string, message: string, step?: number): void => {
    if (!ok) problems.push({ field, message, ...(step === undefined ? {} : { step }) })
  }
  want(isText(x.id, 100), 'id', 'It needs an id of 1 to 100 letters.')
  // a run is told by its id: one of ours would stand for what was never done, a feed for what was never planned
  want(!RESERVED.has(x.id), 'id', 'Its id is one of ours: give it another, as in own-1.')
  want(isText(x.label, 60), 'label', 'It needs a name of 1 to 60 letters.')
  want(
    OWN_KINDS.some((k) => k.id === x.kind),
    'kind',
    `What it is for must be one of: ${OWN_KINDS.map((k) => k.id).join(', ')}.`,
  )
  want(typeof x.why === 'string' && x.why.length <= 300, 'why', 'Its reason must have at most 300 letters.')
  want(isText(x.source, 120), 'source', 'Say where it was read: book, page, bulletin.')
  want(isDay(x.sourceDate), 'sourceDate', 'Say when it was read: a day, as in 2026-11-27.')
  const steps = Array.isArray(x.steps) ? (x.steps as unknown[]) : []
  want(steps.length > 0 && steps.length <= STEPS_MOST, 'steps', `It needs 1 to ${STEPS_MOST} steps.`)
  steps.forEach((s, i) => checkStep(s, i + 1, want))
  const conditions = Array.isArray(x.preconditions) ? (x.preconditions as unknown[]) : []
  want(
    Array.isArray(x.preconditions) && conditions.length <= CONDITIONS_MOST,
    'preconditions',
    `It may have up to ${CONDITIONS_MOST} conditions.`,
  )
  conditions.forEach((c, i) => checkCondition(c, i + 1, want))
  const ids = conditions.map((c) => (isObject(c) ? c.id : undefined))
  want(new Set(ids).size === ids.length, 'preconditions', 'Two conditions have the same id.')
  const wholeS = steps.reduce<number>((sum, s) => sum + secondsOf(isObject(s) ? s.rule : undefined), 0)
  want(wholeS <= WHOLE_MOST_S, 'steps', 'Together the steps take more than four hours.')
  return problems.length ? { ok: false, problems } : { ok: true, value: tidy(x as unknown as OwnProcedure) }
}

type Want = (ok: boolean, field: string, message: string, step?: number) => void

const secondsOf = (rule: unknown): number =>
  !isObject(rule) ? 0 : isNumber(rule.seconds) ? rule.seconds : isNumber(rule.withinS) ? rule.withinS : 0

function checkStep(s: unknown, step: number, want: Want): void {
  if (!isObject(s)) return want(false, 'steps', `Step ${step} is empty.`, step)
  want(isText(s.say, 140), 'say', `Step ${step} needs its words, 1 to 140 letters.`, step)
  const { rule } = s
  if (!isObject(rule)) return want(false, 'rule', `Step ${step} does not say how it ends.`, step)
  const [seconds, within] = [rule.seconds, rule.withinS]
  const timed = isNumber(seconds) && seconds >= HAND.answerS && seconds <= STEP_MOST_S
  switch (rule.kind) {
    case 'exact':
      want(timed, 'seconds', `Step ${step} needs its seconds, ${HAND.answerS} to ${STEP_MOST_S}.`, step)
      want(
        isNumber(rule.toleranceS) && rule.toleranceS >= HAND.toleranceS,
        'toleranceS',
        `Step ${step} waits for the impossible: nobody taps closer than ${HAND.toleranceS} s.`,
        step,
      )
      want(
        !(isNumber(rule.toleranceS) && isNumber(seconds)) || rule.toleranceS < seconds,
        'toleranceS',
        `Step ${step} is in time from its start on: the tolerance must be below its seconds.`,
        step,
      )
      return
    case 'at-least':
    case 'at-most':
      want(timed, 'seconds', `Step ${step} needs its seconds, ${HAND.answerS} to ${STEP_MOST_S}.`, step)
      return
    case 'until':
      want(isText(rule.sign, 80), 'sign', `Step ${step} ends by a sign: say what is seen or heard.`, step)
      want(
        within === undefined || (isNumber(within) && within >= HAND.answerS && within <= STEP_MOST_S),
        'withinS',
        `Step ${step}: its sign comes within ${HAND.answerS} to ${STEP_MOST_S} s, or takes its time.`,
        step,
      )
      return
    case 'count':
      want(
        isNumber(rule.times) && Number.isInteger(rule.times) && rule.times >= 1 && rule.times <= 50,
        'times',
        `Step ${step} is done 1 to 50 times.`,
        step,
      )
      want(
        isNumber(within) && within <= STEP_MOST_S && within >= HAND.eachS * (isNumber(rule.times) ? rule.times : 1),
        'withinS',
        `Step ${step} waits for the impossible: a hand needs ${HAND.eachS} s each time.`,
        step,
      )
      return
    default:
      want(
        false,
        'rule',
        `Step ${step} ends in no known way: exact, at least, at most, until a sign, or counted.`,
        step,
      )
  }
}

function checkCondition(c: unknown, n: number, want: Want): void {
  if (!isObject(c)) return want(false, 'preconditions', `Condition ${n} is empty.`)
  want(isText(c.id, 60), 'preconditions', `Condition ${n} needs an id of 1 to 60 letters.`)
  want(isText(c.label, 100), 'preconditions', `Condition ${n} needs its words, 1 to 100 letters.`)
  if (c.reads === undefined) return
  const { reads } = c
  const telling = isObject(reads) ? TELLING.find((t) => t.channel === reads.channel) : undefined
  if (!telling || !isObject(reads))
    return want(false, 'preconditions', `Condition ${n}: no reading of that name tells it.`)
  const { label } = maybeChannel(telling.channel)!
  want(
    isNumber(reads.min) &&
      isNumber(reads.max) &&
      reads.min < reads.max &&
      reads.min >= telling.min &&
      reads.max <= telling.max,
    'preconditions',
    `Condition ${n}: ${label} can be asked for between ${telling.min} and ${telling.max}, the lower figure first.`,
  )
  want(c.stop !== true, 'preconditions', `Condition ${n}: a STOP is ticked by hand, no reading stands for it.`)
}

/** Only what is known of it. */
function tidy(p: OwnProcedure): OwnProcedure {
  return {
    format: 'uvula-procedure',
    formatVersion: 1,
    id: p.id,
    label: p.label.trim(),
    kind: p.kind,
    why: p.why.trim(),
    source: p.source.trim(),
    sourceDate: p.sourceDate,
    preconditions: p.preconditions.map((c) => ({
      id: c.id,
      label: c.label.trim(),
      ...(c.stop === true ? { stop: true } : {}),
      ...(c.reads ? { reads: { channel: c.reads.channel, min: c.reads.min, max: c.reads.max } } : {}),
    })),
    steps: p.steps.map((s) => ({ say: s.say.trim(), rule: tidyRule(s.rule) })),
  }
}

function tidyRule(r: StepRule): StepRule {
  switch (r.kind) {
    case 'exact':
      return { kind: r.kind, seconds: r.seconds, toleranceS: r.toleranceS }
    case 'at-least':
    case 'at-most':
      return { kind: r.kind, seconds: r.seconds }
    case 'until':
      return { kind: r.kind, sign: r.sign.trim(), ...(r.withinS === undefined ? {} : { withinS: r.withinS }) }
    case 'count':
      return { kind: r.kind, times: r.times, withinS: r.withinS }
  }
}

/** What is wrong with it in one sentence; undefined when nothing is. */
export function ownProcedureProblem(x: unknown): string | undefined {
  const checked = checkOwnProcedure(x)
  return checked.ok ? undefined : checked.problems[0].message
}

/** A shop's own procedure as any other: with the STOPs that stand before each, and how a sheet tells it. */
export function procedureOfOwn(p: OwnProcedure): Procedure {
  const kind = OWN_KINDS.find((k) => k.id === p.kind)!
  const standing = standingStops(p.kind)
  const own = p.preconditions.filter((c) => !standing.some((s) => s.id === c.id))
  return {
    id: p.id,
    label: p.label,
    why: [p.why, `From: ${p.source}, read ${p.sourceDate}.`].filter(Boolean).join(' '),
    done: `${p.label} (by ${p.source}, read ${p.sourceDate})`,
    donePlain: kind.donePlain,
    verb: kind.verb,
    preconditions: [...standing, ...own],
    steps: p.steps,
  }
}
