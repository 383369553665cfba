import { maybeChannel, type ChannelId } from '../signals/index.js'
import { unitNamed } from './cells.js'
import { LABELS } from './labels.js'
import { inOurWords, labelWords } from './vocabulary.js'

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
/** A label that is nothing but such a number: "0x0C", "$10", "PID 05", "01 0F", "010C". */
const NUMBERED = /^\s*(?:\$|0x|pid[\s_:-]*(?:0x|\$)?|01[\s_:-]?)([0-9a-f]{2})\s*(?:[([{][^)\]}]*[)\]}])?\s*$/i
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
