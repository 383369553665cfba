import {
  checkOwnProcedure,
  OWN_KINDS,
  type ChannelId,
  type OwnChecked,
  type OwnKind,
  type OwnProcedure,
  type Procedure,
  type StepRule,
} from '@uvula/core'

/** A step as it is typed. */
export interface DraftStep {
  say: string
  kind: StepRule['kind']
  seconds: string
  /** Tolerance of an exact step, times of a counted one. */
  more: string
  sign: string
}

/** A condition as it is typed. */
export interface DraftCondition {
  label: string
  stop: boolean
  channel: ChannelId | 'none'
  min: string
  max: string
}

/** A procedure as it is typed. */
export interface Draft {
  label: string
  kind: OwnKind
  why: string
  source: string
  sourceDate: string
  steps: DraftStep[]
  conditions: DraftCondition[]
}

export const EMPTY_STEP: DraftStep = { say: '', kind: 'at-least', seconds: '', more: '', sign: '' }
export const EMPTY_CONDITION: DraftCondition = { label: '', stop: false, channel: 'none', min: '', max: '' }

/** How a step can end, in words. */
export const STEP_ENDS: readonly { readonly value: StepRule['kind']; readonly label: string }[] = [
  { value: 'exact', label: 'at exactly' },
  { value: 'at-least', label: 'after at least' },
  { value: 'at-most', label: 'within' },
  { value: 'until', label: 'by a sign' },
  { value: 'count', label: 'counted' },
]

/** A new one, read today. */
export const emptyDraft = (today: string): Draft => ({
  label: '',
  kind: 'teach',
  why: '',
  source: '',
  sourceDate: today,
  steps: [EMPTY_STEP],
  conditions: [],
})

/** A figure as hands type it, a comma for a point too; undefined where nothing stands. */
const figure = (text: string): number | undefined => {
  const plain = text.trim().replace(',', '.')
  return plain === '' ? undefined : Number(plain)
}
/** A figure that is not there is none: the check names it. */
const needed = (text: string): number => figure(text) ?? NaN

function ruleOf(s: DraftStep): StepRule {
  switch (s.kind) {
    case 'exact':
      return { kind: s.kind, seconds: needed(s.seconds), toleranceS: needed(s.more) }
    case 'at-least':
    case 'at-most':
      return { kind: s.kind, seconds: needed(s.seconds) }
    case 'until': {
      const withinS = figure(s.seconds)
      return { kind: s.kind, sign: s.sign, ...(withinS === undefined ? {} : { withinS }) }
    }
    case 'count':
      return { kind: s.kind, times: needed(s.more), withinS: needed(s.seconds) }
  }
}

/** What was typed, checked: a procedure, or what is wrong with it at which step. */
export const checkDraft = (id: string, d: Draft): OwnChecked =>
  checkOwnProcedure({
    format: 'uvula-procedure',
    formatVersion: 1,
    id,
    label: d.label,
    kind: d.kind,
    why: d.why,
    source: d.source,
    sourceDate: d.sourceDate,
    steps: d.steps.map((s) => ({ say: s.say, rule: ruleOf(s) })),
    preconditions: d.conditions.map((c, i) => ({
      id: `own-${i + 1}`,
      label: c.label,
      ...(c.stop ? { stop: true } : {}),
      ...(c.channel === 'none' ? {} : { reads: { channel: c.channel, min: needed(c.min), max: needed(c.max) } }),
    })),
  })

const text = (x: number | undefined): string => (x === undefined ? '' : String(x))

/** A kept procedure, or one of ours as a beginning, as it is typed. */
export function draftOf(p: OwnProcedure | Procedure, today: string): Draft {
  const own = 'format' in p ? p : undefined
  return {
    label: own ? own.label : `${p.label}, ours`.slice(0, 60),
    kind: own?.kind ?? OWN_KINDS[0].id,
    why: p.why,
    source: own?.source ?? '',
    sourceDate: own?.sourceDate ?? today,
    steps: p.steps.map(({ say, rule }) => ({
      say,
      kind: rule.kind,
      seconds: text('seconds' in rule ? rule.seconds : rule.withinS),
      more: text(rule.kind === 'exact' ? rule.toleranceS : rule.kind === 'count' ? rule.times : undefined),
      sign: rule.kind === 'until' ? rule.sign : '',
    })),
    conditions: p.preconditions.map((c) => ({
      label: c.label,
      stop: c.stop === true,
      channel: c.reads?.channel ?? 'none',
      min: text(c.reads?.min),
      max: text(c.reads?.max),
    })),
  }
}
