import { maybeChannel, type ChannelId } from '../signals/index.js'
import { unitNamed } from './cells.js'
import { inOurWords, labelWords } from './vocabulary.js'

/** Phrases by which tools name a channel. Words in any order; all of a phrase must be there. */
export interface LabelRow {
  readonly channel: ChannelId
  readonly phrases: readonly string[]
  /** Words that may stand beside and say no more. */
  readonly beside?: readonly string[]
  /** Words that make it another thing. */
  readonly not?: readonly string[]
}

/**
 * The label dictionary. Terms: SAE J1930 and the parameter names of J1979, in the forms in which exports spell them.
 * Longer phrases win; a label with many words beside a phrase is a weak match.
 */
export const LABELS: readonly LabelRow[] = [
  {
    channel: 'time_s',
    phrases: ['time', 'elapsed', 'elapsed time', 'time stamp', 'timestamp', 'seconds', 'offset', 'datetime', 'clock'],
    beside: [
      'date',
      'stamp',
      'local',
      'log',
      'sample',
      'clock',
      'relative',
      'device',
      'system',
      'gps',
      'day',
      'ms',
      'frame',
    ],
    not: ['run', 'since', 'injection', 'dwell', 'delay', 'response'],
  },
  {
    channel: 'rpm',
    phrases: [
      'rpm',
      'engine speed',
      'engine rpm',
      'revs',
      'crank speed',
      'crankshaft speed',
      'speed',
      'n engine',
      'rotational speed',
      'rev min',
      'tr min',
    ],
    beside: ['engine', 'crank', 'crankshaft', 'speed', 'min', 'revolutions'],
    not: ['target', 'desired', 'turbine', 'output', 'input', 'fan', 'idle', 'vehicle', 'wheel', 'road', 'turbo'],
  },
  {
    channel: 'speed_kph',
    phrases: [
      'vehicle speed',
      'road speed',
      'vss',
      'vehicle speed sensor',
      'wheel speed',
      'speed gps',
      'speed kph',
      'speed',
    ],
    beside: ['road', 'ground', 'vss'],
    not: ['engine', 'crank', 'idle', 'fan', 'turbine', 'turbo', 'desired'],
  },
  {
    channel: 'load_pct',
    phrases: [
      'load',
      'engine load',
      'calculated load',
      'calculated engine load',
      'calculated load value',
      'engine charge',
      'calculated charge',
    ],
    beside: ['engine', 'calculated', 'value'],
    not: ['pressure', 'temperature', 'air', 'absolute', 'canister', 'electrical', 'alternator'],
  },
  {
    channel: 'ect_c',
    phrases: [
      'ect',
      'coolant',
      'coolant temperature',
      'engine coolant temperature',
      'engine temperature',
      'water temperature',
    ],
    beside: ['engine', 'water', 'temperature'],
    not: ['oil', 'fan', 'level', 'pressure', 'outlet'],
  },
  {
    channel: 'iat_c',
    phrases: [
      'iat',
      'act',
      'mat',
      'intake air temperature',
      'intake temperature',
      'inlet air temperature',
      'charge air temperature',
      'air temperature',
    ],
    beside: ['intake', 'manifold', 'engine', 'temperature', '1'],
    not: ['ambient', 'outside', 'exhaust', 'cabin'],
  },
  {
    channel: 'baro_kpa',
    phrases: ['baro', 'barometric pressure', 'barometer', 'atmospheric pressure', 'ambient pressure', 'barometric'],
    beside: ['pressure', 'absolute', 'atmospheric', 'ambient', 'air'],
    not: ['fuel', 'oil'],
  },
  {
    channel: 'map_kpa',
    phrases: [
      'map',
      'manifold pressure',
      'manifold absolute pressure',
      'intake manifold pressure',
      'intake manifold absolute pressure',
      'inlet manifold pressure',
      'intake pressure',
    ],
    beside: ['pressure', 'absolute', 'intake', 'manifold', 'air', 'engine'],
    not: ['desired', 'target', 'fuel', 'vacuum', 'temperature', 'boost'],
  },
  {
    channel: 'maf_gs',
    phrases: [
      'maf',
      'mass air flow',
      'mass airflow',
      'air flow',
      'airflow',
      'air flow rate',
      'maf air flow rate',
      'mass air flow rate',
      'air mass',
      'air mass flow',
      'mass flow',
      'intake air flow',
      'air quantity',
    ],
    beside: ['air', 'mass', 'flow', 'rate', 'intake', 'engine', 'airflow', 'g', 's', 'sec'],
    not: ['target', 'desired', 'voltage', 'frequency', 'temperature', 'idle', 'bypass', 'fuel', 'egr', 'exhaust', 'hz'],
  },
  {
    channel: 'throttle_pct',
    phrases: [
      'throttle',
      'throttle position',
      'absolute throttle position',
      'tp',
      'tps',
      'throttle angle',
      'throttle opening',
    ],
    beside: ['position', 'absolute', 'opening', 'angle', 'plate', 'valve', 'blade', '1', 'engine', 'tps'],
    not: [
      'desired',
      'target',
      'commanded',
      'pedal',
      'actuator',
      'relative',
      'accelerator',
      'voltage',
      'idle',
      '2',
      'b',
    ],
  },
  { channel: 'throttle_pct', phrases: ['relative throttle position'] },
  {
    channel: 'idle_valve_pct',
    phrases: [
      'idle valve',
      'idle air',
      'idle air control',
      'idle control',
      'idle control valve',
      'idle speed control',
      'idle actuator',
      'idle bypass',
      'bypass air',
      'bypass valve',
      'bypass',
      'auxiliary air valve',
      'idle stabilizer',
    ],
    beside: [
      'valve',
      'air',
      'control',
      'speed',
      'duty',
      'cycle',
      'position',
      'steps',
      'step',
      'opening',
      'command',
      'commanded',
      'engine',
      'stepper',
      'solenoid',
      'actuator',
      'bypass',
      'idle',
      'stabilizer',
      'output',
      'pwm',
      'ratio',
      'rate',
      'flow',
    ],
    not: [
      'desired',
      'target',
      'learn',
      'learned',
      'learnt',
      'rpm',
      'trim',
      'status',
      'switch',
      'turbo',
      'boost',
      'wastegate',
    ],
  },
  {
    channel: 'stft1_pct',
    phrases: [
      'stft',
      'stft 1',
      'short fuel trim',
      'short fuel trim 1',
      'short term fuel trim',
      'short term fuel trim 1',
      'short term trim',
      'short trim 1',
      'short trim',
    ],
    beside: ['fuel', 'term', 'short', 'trim', '1', 'b', 'air'],
    not: ['2', 'o2', 'secondary'],
  },
  {
    channel: 'stft2_pct',
    phrases: ['stft 2', 'short fuel trim 2', 'short term fuel trim 2', 'short term trim 2', 'short trim 2'],
    beside: ['fuel', 'term', 'short', 'trim', 'air'],
    not: ['1', 'o2', 'secondary'],
  },
  {
    channel: 'ltft1_pct',
    phrases: [
      'ltft',
      'ltft 1',
      'long fuel trim',
      'long fuel trim 1',
      'long term fuel trim',
      'long term fuel trim 1',
      'long term trim',
      'long trim 1',
      'long trim',
    ],
    beside: ['fuel', 'term', 'long', 'trim', '1', 'b', 'air'],
    not: ['2', 'o2', 'secondary'],
  },
  {
    channel: 'ltft2_pct',
    phrases: ['ltft 2', 'long fuel trim 2', 'long term fuel trim 2', 'long term trim 2', 'long trim 2'],
    beside: ['fuel', 'term', 'long', 'trim', 'air'],
    not: ['1', 'o2', 'secondary'],
  },
  {
    channel: 'lambda_cmd',
    phrases: [
      'commanded lambda',
      'target lambda',
      'lambda target',
      'lambda commanded',
      'lambda desired',
      'commanded equivalence ratio',
      'equivalence ratio commanded',
      'lambda cmd',
      'desired lambda',
    ],
  },
  {
    channel: 'lambda1',
    phrases: ['lambda', 'lambda 1', 'wideband', 'wideband 1', 'equivalence ratio 1', 'lambda measured', 'o2 lambda 1'],
    not: ['2', 'commanded', 'target', 'desired', 'cmd'],
  },
  {
    channel: 'lambda2',
    phrases: ['lambda 2', 'wideband 2', 'equivalence ratio 2', 'o2 lambda 2'],
    not: ['1', 'commanded', 'target'],
  },
  {
    channel: 'fuel_status',
    phrases: [
      'fuel system status',
      'fuel status',
      'loop status',
      'loop',
      'closed loop',
      'fuel loop',
      'fuel system 1 status',
      'fuel system',
      'fuel system 1',
      'loop state',
    ],
    not: ['2', 'pressure', 'voltage'],
  },
  {
    channel: 'battery_v',
    phrases: [
      'battery',
      'battery voltage',
      'module voltage',
      'control module voltage',
      'supply voltage',
      'ecu voltage',
      'system voltage',
      'voltage',
      'battery v',
      'ignition voltage',
    ],
    beside: ['control', 'module', 'engine', 'system', 'supply', 'b', 'positive'],
    not: [
      'o2',
      'ho2s',
      'maf',
      'throttle',
      'map',
      'pedal',
      'lambda',
      'ect',
      'iat',
      'reference',
      'coolant',
      'egr',
      'hybrid',
      'traction',
      'hv',
    ],
  },
  {
    channel: 'purge_pct',
    phrases: [
      'purge',
      'evaporative purge',
      'evap purge',
      'commanded evaporative purge',
      'purge duty',
      'canister purge',
    ],
    beside: ['valve', 'duty', 'cycle', 'solenoid', 'canister', 'evap', 'vapor', 'vapour', 'commanded'],
    not: ['pressure', 'flow', 'temperature'],
  },
  {
    channel: 'charge_kpa',
    phrases: ['charge pressure', 'boost pressure', 'boost', 'turbo pressure'],
    beside: ['absolute', 'air', 'turbo', 'intake'],
    not: ['target', 'desired', 'commanded'],
  },
  {
    channel: 'pedal_pct',
    phrases: [
      'pedal',
      'accelerator',
      'pedal position',
      'accelerator position',
      'accelerator pedal position',
      'accelerator pedal',
    ],
    beside: ['position', 'angle', 'd', 'accelerator'],
    not: ['brake', 'clutch', 'e'],
  },
  {
    channel: 'egr_pct',
    phrases: ['egr', 'commanded egr', 'egr commanded', 'egr duty', 'egr position', 'egr valve'],
    beside: ['valve', 'position', 'duty', 'cycle', 'commanded', 'opening'],
    not: ['error', 'temperature', 'pressure', 'flow', 'desired'],
  },
  {
    channel: 'spark_deg',
    phrases: [
      'spark',
      'spark advance',
      'timing advance',
      'ignition timing',
      'ignition advance',
      'ignition timing advance',
      'ignition angle',
      'timing',
    ],
    beside: ['advance', 'timing', 'angle', 'cylinder', '1'],
    not: [
      'retard',
      'knock',
      'injection',
      'valve',
      'cam',
      'camshaft',
      'variable',
      'intake',
      'exhaust',
      'vvt',
      'desired',
    ],
  },
  {
    channel: 'run_time_s',
    phrases: ['run time', 'engine run time', 'time since engine start', 'run time since start', 'runtime'],
  },
  {
    channel: 'gauge_vacuum_kpa',
    phrases: ['vacuum', 'gauge vacuum', 'manifold vacuum'],
    beside: ['manifold', 'intake', 'engine', 'gauge'],
    not: ['booster', 'pump', 'brake', 'fuel'],
  },
  { channel: 'mark', phrases: ['mark', 'marker'] },
]

/** How well a label fits a channel, 0..1, and by which phrase. */
export interface LabelMatch {
  readonly channel: ChannelId
  readonly score: number
  readonly phrase: string
}

/** Below this a match is asked about; a second channel this close makes it doubtful. */
export const SURE_SCORE = 0.6
export const CLOSE_SCORE = 0.12

const PHRASES = LABELS.map((row) => ({
  ...row,
  phrases: row.phrases.map((phrase) => ({
    phrase,
    wanted: phrase.split(' ').flatMap(inOurWords),
  })),
}))
/** Labels already looked at: a table asks for the same ones again and again. */
const known = new Map<string, readonly LabelMatch[]>()
const KNOWN_MOST = 2000

/** Words that a name may be made of where only its unit says what of it is measured. */
const BY_UNIT: readonly { readonly channel: ChannelId; readonly words: readonly string[] }[] = [
  { channel: 'iat_c', words: ['intake', 'air', 'charge', 'manifold'] },
  { channel: 'maf_gs', words: ['intake', 'air', 'engine'] },
  { channel: 'map_kpa', words: ['intake', 'manifold', 'air', 'absolute'] },
  { channel: 'rpm', words: ['engine', 'crank', 'crankshaft'] },
  { channel: 'speed_kph', words: ['vehicle', 'road', 'car'] },
]

/** What a name means that its unit completes; nothing where its words say more than that, or the unit is none of ours. */
export function byUnit(label: string, unit: string): readonly LabelMatch[] {
  const words = labelWords(label)
  if (unit === '' || !words.length) return []
  return BY_UNIT.filter(
    (row) => words.every((w) => row.words.includes(w)) && unitNamed(maybeChannel(row.channel)!.quantity, unit)?.symbol,
  ).map(({ channel }) => ({ channel, score: SURE_SCORE, phrase: `${words.join(' ')}, ${unit}` }))
}

/** Parameters of SAE J1979, service 01, by their number. */
const BY_NUMBER: Readonly<Record<string, ChannelId>> = {
  '04': 'load_pct',
  '05': 'ect_c',
  '06': 'stft1_pct',
  '07': 'ltft1_pct',
  '08': 'stft2_pct',
  '09': 'ltft2_pct',
  '0B': 'map_kpa',
  '0C': 'rpm',
  '0D': 'speed_kph',
  '0E': 'spark_deg',
  '0F': 'iat_c',
  '10': 'maf_gs',
  '11': 'throttle_pct',
  '1F': 'run_time_s',
  '2C': 'egr_pct',
  '2E': 'purge_pct',
  '33': 'baro_kpa',
  '42': 'battery_v',
}
/** A label that is nothing but such a number: "0x0C", "$10", "PID 05", "01 0F". */
const NUMBERED = /^\s*(?:\$|0x|pid[\s_:-]*(?:0x|\$)?|01[\s_:-])([0-9a-f]{2})\s*(?:[([{][^)\]}]*[)\]}])?\s*$/i
/** A label that is nothing but a unit of time. */
const TIME_ALONE = /^\s*[([{]?\s*(t|s|secs?|ms|msec|millis|milliseconds?)\s*[)\]}]?\s*$/i

/** Channels that a label may mean, the best first. An empty label means none. */
export function matchesOf(label: string): readonly LabelMatch[] {
  const before = known.get(label)
  if (before) return before
  const found = match(label)
  if (known.size > KNOWN_MOST) known.clear()
  known.set(label, found)
  return found
}

function match(label: string): LabelMatch[] {
  const numbered = BY_NUMBER[NUMBERED.exec(label)?.[1].toUpperCase() ?? '']
  if (numbered) return [{ channel: numbered, score: 1, phrase: label }]
  if (TIME_ALONE.test(label)) return [{ channel: 'time_s', score: 0.9, phrase: label }]
  const words = labelWords(label)
  if (!words.length) return []
  const has = new Set(words)
  const best = new Map<ChannelId, LabelMatch>()
  for (const row of PHRASES) {
    if (row.not?.some((w) => has.has(w))) continue
    for (const { phrase, wanted } of row.phrases) {
      if (!wanted.every((w) => has.has(w))) continue
      const spare = row.beside?.filter((w) => has.has(w) && !wanted.includes(w)).length ?? 0
      const score = wanted.length / Math.max(1, has.size - spare)
      if (score > (best.get(row.channel)?.score ?? 0))
        best.set(row.channel, { channel: row.channel, score: Math.min(1, score), phrase })
    }
  }
  return [...best.values()].sort((a, b) => b.score - a.score)
}
