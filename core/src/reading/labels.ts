import type { ChannelId } from '../signals/index.js'

/** Phrases by which tools name a channel. Words in any order; all of a phrase must be there. */
export interface LabelRow {
  readonly channel: ChannelId
  readonly phrases: readonly string[]
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
    phrases: ['time', 'elapsed', 'elapsed time', 'time stamp', 'timestamp', 'seconds', 'offset'],
    not: ['run', 'since', 'injection', 'dwell'],
  },
  {
    channel: 'rpm',
    phrases: ['rpm', 'engine speed', 'engine rpm', 'revs', 'crank speed', 'motor speed'],
    not: ['target', 'desired', 'turbine', 'output', 'input', 'fan'],
  },
  {
    channel: 'speed_kph',
    phrases: ['vehicle speed', 'road speed', 'vss', 'vehicle speed sensor', 'wheel speed', 'speed gps', 'speed kph'],
    not: ['engine'],
  },
  {
    channel: 'load_pct',
    phrases: ['load', 'engine load', 'calculated load', 'calculated engine load', 'calculated load value'],
    not: ['absolute', 'canister', 'electrical', 'alternator'],
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
    not: ['oil'],
  },
  {
    channel: 'iat_c',
    phrases: [
      'iat',
      'intake air temperature',
      'intake temperature',
      'inlet air temperature',
      'charge air temperature',
      'air temperature',
    ],
    not: ['ambient', 'outside'],
  },
  {
    channel: 'baro_kpa',
    phrases: ['baro', 'barometric pressure', 'barometer', 'atmospheric pressure', 'ambient pressure', 'barometric'],
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
    not: ['desired', 'target', 'fuel'],
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
    ],
    not: ['target', 'desired', 'volts', 'voltage', 'frequency'],
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
    not: ['desired', 'target', 'commanded', 'pedal', 'actuator', 'relative'],
  },
  { channel: 'throttle_pct', phrases: ['relative throttle position'] },
  {
    channel: 'idle_valve_pct',
    phrases: ['idle valve', 'idle air', 'idle air control', 'iac', 'idle valve duty', 'idle control valve'],
    not: ['steps', 'desired'],
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
    not: ['2'],
  },
  {
    channel: 'stft2_pct',
    phrases: ['stft 2', 'short fuel trim 2', 'short term fuel trim 2', 'short term trim 2', 'short trim 2'],
    not: ['1'],
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
    not: ['2'],
  },
  {
    channel: 'ltft2_pct',
    phrases: ['ltft 2', 'long fuel trim 2', 'long term fuel trim 2', 'long term trim 2', 'long trim 2'],
    not: ['1'],
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
      'loop state',
    ],
    not: ['2'],
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
      'volts',
      'battery v',
    ],
    not: ['o2', 'maf', 'sensor', 'throttle'],
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
    not: ['pressure', 'flow'],
  },
  {
    channel: 'charge_kpa',
    phrases: ['charge pressure', 'boost pressure', 'boost', 'turbo pressure'],
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
    not: ['brake', 'clutch'],
  },
  {
    channel: 'egr_pct',
    phrases: ['egr', 'commanded egr', 'egr commanded', 'egr duty', 'egr position', 'egr valve'],
    not: ['error', 'temperature'],
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
    ],
    not: ['retard', 'knock'],
  },
  {
    channel: 'run_time_s',
    phrases: ['run time', 'engine run time', 'time since engine start', 'run time since start', 'runtime'],
  },
  { channel: 'gauge_vacuum_kpa', phrases: ['vacuum', 'gauge vacuum', 'manifold vacuum'], not: ['booster', 'pump'] },
  { channel: 'mark', phrases: ['mark', 'marker'] },
]

/** Words that are spelled in several ways. */
const SPELLINGS: Readonly<Record<string, string>> = {
  temp: 'temperature',
  temps: 'temperature',
  press: 'pressure',
  pos: 'position',
  posn: 'position',
  abs: 'absolute',
  calc: 'calculated',
  eng: 'engine',
  veh: 'vehicle',
  accel: 'accelerator',
  volt: 'voltage',
  batt: 'battery',
  b1: '1',
  b2: '2',
  bank1: '1',
  bank2: '2',
  st: 'stft',
  lt: 'ltft',
  stft1: 'stft 1',
  stft2: 'stft 2',
  ltft1: 'ltft 1',
  ltft2: 'ltft 2',
  shrtft1: 'stft 1',
  shrtft2: 'stft 2',
  longft1: 'ltft 1',
  longft2: 'ltft 2',
}
/** Words that say nothing about which channel it is. */
const EMPTY = new Set([
  'bank',
  'the',
  'of',
  'sensor',
  'value',
  'current',
  'actual',
  'measured',
  'reading',
  'data',
  'live',
  'sae',
  'pid',
  'obd',
  's1',
  'kpa',
  'pct',
  'gs',
  'c',
  'v',
  'kph',
  'deg',
])

/** Words of a label: lower case, units and punctuation gone, spellings made one. */
export function labelWords(label: string): string[] {
  return label
    .replace(/[([{][^)\]}]*[)\]}]/g, ' ')
    .replace(/([a-z])([A-Z][a-z])/g, '$1 $2')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, ' ')
    .trim()
    .split(' ')
    .flatMap((w) => (SPELLINGS[w] ?? w).split(' '))
    .filter((w) => w !== '' && !EMPTY.has(w))
}

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
    wanted: phrase.split(' ').flatMap((w) => (SPELLINGS[w] ?? w).split(' ')),
  })),
}))
/** Labels already looked at: a table asks for the same ones again and again. */
const known = new Map<string, readonly LabelMatch[]>()
const KNOWN_MOST = 2000

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
  const words = labelWords(label)
  if (!words.length) return []
  const has = new Set(words)
  const best = new Map<ChannelId, LabelMatch>()
  for (const row of PHRASES) {
    if (row.not?.some((w) => has.has(w))) continue
    for (const { phrase, wanted } of row.phrases) {
      if (!wanted.every((w) => has.has(w))) continue
      const score = wanted.length / has.size
      if (score > (best.get(row.channel)?.score ?? 0))
        best.set(row.channel, { channel: row.channel, score: Math.min(1, score), phrase })
    }
  }
  return [...best.values()].sort((a, b) => b.score - a.score)
}
