import type { FeedPlan } from '../cleaning/index.js'
import type { Procedure, ProcedureStep } from './procedure.js'

/** Key-and-pedal idle relearn. Figures are ours: the vehicle's own procedure wins. */
export const KEY_PEDAL_RELEARN: Procedure = {
  id: 'key-pedal-relearn',
  label: 'Teach the idle: key and pedal',
  why: 'Teaches the closed plate and the air it now passes.',
  preconditions: [
    { id: 'selector', label: 'selector in park or neutral, brake on', stop: true },
    { id: 'consumers', label: 'consumers, lights and A/C off' },
    { id: 'steering', label: 'wheels straight, steering untouched' },
    { id: 'warm', label: 'coolant 70 to 99 °C', reads: { channel: 'ect_c', min: 70, max: 99 } },
    { id: 'supply', label: 'supply at least 12.9 V, key out for 10 s' },
  ],
  steps: [
    { say: 'Key on, pedal untouched; tap at 3 s', rule: { kind: 'exact', seconds: 3, toleranceS: 0.4 } },
    { say: 'Pedal fully down and up, five times', rule: { kind: 'count', times: 5, withinS: 5 } },
    { say: 'Foot off; tap at 7 s', rule: { kind: 'exact', seconds: 7, toleranceS: 0.4 } },
    {
      say: 'Hold the pedal down until the lamp stops blinking',
      rule: { kind: 'until', sign: 'lamp steady', withinS: 20 },
    },
    { say: 'Let go within 3 s of the steady lamp', rule: { kind: 'at-most', seconds: 3 } },
    { say: 'Start, hands and feet off; wait at least 20 s', rule: { kind: 'at-least', seconds: 20 } },
  ],
}

/** Staged idle learn: rising load, each held until idle settles. */
export const STAGED_IDLE_LEARN: Procedure = {
  id: 'staged-idle-learn',
  label: 'Teach the idle: in stages',
  why: 'Teaches the idle valve under rising load.',
  preconditions: [
    { id: 'selector', label: 'selector in park or neutral, brake on', stop: true },
    { id: 'warm', label: 'coolant 70 to 99 °C', reads: { channel: 'ect_c', min: 70, max: 99 } },
    { id: 'extraction', label: 'extraction on, or in the open air', stop: true },
  ],
  steps: [
    { say: 'Idle, everything off; at least 60 s', rule: { kind: 'at-least', seconds: 60 } },
    { say: 'Lights and blower on; until idle settles', rule: { kind: 'until', sign: 'idle steady' } },
    { say: 'A/C on as well; until idle settles', rule: { kind: 'until', sign: 'idle steady' } },
    { say: 'All off; at least 30 s', rule: { kind: 'at-least', seconds: 30 } },
  ],
}

/** A planned feed as a procedure of the same kind: shots and pauses. */
export function feedProcedure(plan: FeedPlan): Procedure {
  const steps: ProcedureStep[] = []
  for (let i = 1; i <= plan.shots; i++) {
    steps.push({
      say: `Shot ${i} of ${plan.shots}: valve open ${plan.shotS} s`,
      rule: { kind: 'at-most', seconds: plan.shotS + 0.4 },
    })
    steps.push({
      say: `Pause: speed and trim come back; at least ${plan.pauseS} s`,
      rule: { kind: 'at-least', seconds: plan.pauseS },
    })
  }
  return {
    id: 'feed',
    label: `Feed: ${plan.shots} shots at ${plan.rpm.toFixed(0)} rpm`,
    why: 'Liquid and mixture stay inside what this engine can burn.',
    preconditions: [
      { id: 'stop-liquid', label: 'hydraulic lock understood: on a stall, do not crank', stop: true },
      { id: 'stop-fire', label: 'extinguisher at hand, no sparks', stop: true },
      { id: 'stop-gas', label: 'extraction on, or in the open air', stop: true },
    ],
    steps,
  }
}

export const PROCEDURES: readonly Procedure[] = [KEY_PEDAL_RELEARN, STAGED_IDLE_LEARN]
