import type { Precondition, Procedure } from './procedure.js'

/** Key-and-pedal idle relearn. Figures are ours: the vehicle's own procedure wins. */
export const KEY_PEDAL_RELEARN: Procedure = {
  id: 'key-pedal-relearn',
  label: 'Teach the idle: key and pedal',
  why: 'Teaches the closed plate and the air it now passes.',
  done: 'idle taught (key and pedal)',
  donePlain: 'the idle taught again',
  verb: 'Teach the idle',
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
  done: 'idle taught (in stages)',
  donePlain: 'the idle taught again',
  verb: 'Teach the idle',
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

/** What is seen to before a feed begins, each by itself. */
export const FEED_PRECONDITIONS: readonly Precondition[] = [
  { id: 'stop-liquid', label: 'hydraulic lock understood: on a stall, do not crank', stop: true },
  { id: 'stop-fire', label: 'extinguisher at hand, no sparks', stop: true },
  { id: 'stop-gas', label: 'extraction on, or in the open air', stop: true },
]

/** After a feed and its soak: what was loosened is burnt and blown out, on a warm engine and never with a flashing lamp. */
export const CLEAR_OUT: Procedure = {
  id: 'clear-out',
  label: 'Clear out after a feed',
  why: 'What was loosened burns and leaves on a warm engine under load. The lamp decides: flashing, it stops at once.',
  done: 'cleared out after the feed, held at speed and driven',
  donePlain: 'the engine cleared out by a drive',
  verb: 'Clear out',
  preconditions: [
    { id: 'lamp', label: 'lamp off or steady: flashing, nothing is driven', stop: true },
    { id: 'extraction', label: 'extraction on, or in the open air', stop: true },
    { id: 'warm', label: 'coolant 75 to 105 °C', reads: { channel: 'ect_c', min: 75, max: 105 } },
    { id: 'oil', label: 'oil level and smell looked at: thin or of solvent, it is changed first' },
  ],
  steps: [
    { say: 'Idle until it runs even; at least 60 s', rule: { kind: 'at-least', seconds: 60 } },
    { say: 'Hold 2500 rpm; at least 60 s', rule: { kind: 'at-least', seconds: 60 } },
    { say: 'Idle again; at least 30 s: lamp, smoke, coolant', rule: { kind: 'at-least', seconds: 30 } },
    { say: 'Road, warm, under load, no full throttle; at least 10 minutes', rule: { kind: 'at-least', seconds: 600 } },
  ],
}

/** Learnt values taken back by the tool: what was learnt with a narrowed passage is false once it is clear. */
export const SCAN_RESET: Procedure = {
  id: 'scan-reset',
  label: 'Reset learnt values: scan tool',
  why: 'What was learnt for a sooted passage, a worn valve or an old sensor is false once it is clean or new: exhaust gas, airflow, flap. Only what the work touched.',
  done: 'learnt airflow and exhaust gas values reset',
  donePlain: 'the learnt values reset',
  verb: 'Reset the learnt values',
  preconditions: [
    { id: 'selector', label: 'selector in park or neutral, brake on', stop: true },
    { id: 'codes', label: 'codes, freeze-frame and readiness read and noted' },
    { id: 'supply', label: 'supply at least 12.4 V', reads: { channel: 'battery_v', min: 12.4, max: 15.5 } },
  ],
  steps: [
    {
      say: 'Key on, engine off: reset what the tool offers of airflow, exhaust gas valve and flap; tap when it says done',
      rule: { kind: 'until', sign: 'the tool says done' },
    },
    { say: 'Key out; at least 30 s', rule: { kind: 'at-least', seconds: 30 } },
    { say: 'Start, hands and feet off; at least 60 s of idle', rule: { kind: 'at-least', seconds: 60 } },
  ],
}

/** Learnt values that a tool takes back one by one, and what the engine does until each is learnt again. */
export const ADAPTATIONS = [
  { id: 'idle', label: 'idle air', until: 'the idle stands high or low for minutes' },
  { id: 'throttle', label: 'throttle stops', until: 'key on and wait, else it starts badly' },
  { id: 'egr', label: 'exhaust gas valve', until: 'a stumble at light load can come once' },
  { id: 'airflow', label: 'airflow', until: 'smoke or flatness under load for a drive' },
  { id: 'trims', label: 'fuel trims', until: 'the trims of this visit say nothing until it is driven' },
] as const
export type AdaptationId = (typeof ADAPTATIONS)[number]['id']

/** Battery off: not reliable on every vehicle, and it takes readiness with it. */
export const BATTERY_OFF: Procedure = {
  id: 'battery-off',
  label: 'Forget everything: battery off',
  why: 'Controllers without power forget what they learnt, and readiness with it. Not every vehicle does; the scan tool first.',
  done: 'battery off for a quarter of an hour: learnt values and readiness gone',
  donePlain: 'the learnt values cleared',
  verb: 'Take the battery off',
  preconditions: [
    { id: 'codes', label: 'codes, freeze-frame and readiness read and noted', stop: true },
    { id: 'asleep', label: 'key out, doors shut, controllers given time to shut down', stop: true },
    { id: 'memories', label: 'radio code, seat and window positions known' },
  ],
  steps: [
    {
      say: 'Eyes covered: acid dust. Negative off first, held clear, airbag plugs left alone; at least 15 minutes',
      rule: { kind: 'at-least', seconds: 900 },
    },
    { say: 'Terminals clean, positive tight, negative on; tap', rule: { kind: 'until', sign: 'tight' } },
    { say: 'Key on, hands and feet off; at least 30 s', rule: { kind: 'at-least', seconds: 30 } },
    { say: 'Start, hands and feet off; at least 60 s of idle', rule: { kind: 'at-least', seconds: 60 } },
  ],
}

/** Key on and out by turns: some throttles find their stops by it. Figures are ours: the vehicle's own procedure wins. */
export const KEY_CYCLES: Procedure = {
  id: 'key-cycles',
  label: 'Teach the throttle: key cycles',
  why: 'At key on and at key out the plate is driven to its stops, and what they read is stored.',
  done: 'throttle stops taught (key cycles)',
  donePlain: 'the throttle taught its stops again',
  verb: 'Teach the throttle',
  preconditions: [
    { id: 'selector', label: 'selector in park or neutral, brake on', stop: true },
    { id: 'hands', label: 'hands and tools out of the throttle: the plate drives shut', stop: true },
    { id: 'consumers', label: 'consumers, lights and A/C off' },
    { id: 'supply', label: 'supply at least 12.4 V', reads: { channel: 'battery_v', min: 12.4, max: 15.5 } },
  ],
  steps: [
    { say: 'Key on, engine off, feet off the pedals; at least 30 s', rule: { kind: 'at-least', seconds: 30 } },
    { say: 'Key out; at least 15 s: the plate is heard', rule: { kind: 'at-least', seconds: 15 } },
    { say: 'Key on again, feet off; at least 30 s', rule: { kind: 'at-least', seconds: 30 } },
    { say: 'Key out; at least 15 s', rule: { kind: 'at-least', seconds: 15 } },
    { say: 'Start, hands and feet off; at least 3 minutes of idle', rule: { kind: 'at-least', seconds: 180 } },
  ],
}

/** A drive by which a controller learns what no procedure in the shop teaches it. */
export const DRIVE_LEARN: Procedure = {
  id: 'drive-learn',
  label: 'Drive it to learn',
  why: 'Idle, trims and overrun are learnt in their own stretches of a drive, and monitors run in them. By a second person or by voice: nobody taps while driving.',
  done: 'driven to learn: idle, cruise, overrun',
  donePlain: 'a drive by which its control learns',
  verb: 'Drive it',
  preconditions: [
    { id: 'lamp', label: 'lamp off or steady: flashing, nothing is driven', stop: true },
    { id: 'second', label: 'a second person taps, or it is tapped standing', stop: true },
    { id: 'warm', label: 'coolant 75 to 105 °C', reads: { channel: 'ect_c', min: 75, max: 105 } },
  ],
  steps: [
    { say: 'Idle, everything off; at least 2 minutes', rule: { kind: 'at-least', seconds: 120 } },
    { say: 'Steady speed within the law, light load; at least 5 minutes', rule: { kind: 'at-least', seconds: 300 } },
    { say: 'Foot off in gear down to 30 km/h, three times; tap each', rule: { kind: 'count', times: 3, withinS: 600 } },
    { say: 'Stand and idle; at least 2 minutes', rule: { kind: 'at-least', seconds: 120 } },
  ],
}

export const PROCEDURES: readonly Procedure[] = [
  KEY_PEDAL_RELEARN,
  STAGED_IDLE_LEARN,
  KEY_CYCLES,
  SCAN_RESET,
  DRIVE_LEARN,
  BATTERY_OFF,
  CLEAR_OUT,
]
