import Papa from 'papaparse'
import { WaveFile } from './waveFile.js'
import { MOST_SAMPLES, waveError, type Wave, type WaveResult } from './wave.js'

/** How to read a file whose columns or channels do not speak for themselves. */
export interface ReadWaveOptions {
  /** Channel that holds the mark of cylinder 1, counted from 1; the others' first is the signal. */
  readonly triggerChannel?: number
}

/** Fewest samples that are a signal at all. */
const FEWEST = 200

const isWav = (b: Uint8Array): boolean =>
  b.length > 12 &&
  String.fromCharCode(...b.subarray(0, 4)) === 'RIFF' &&
  String.fromCharCode(...b.subarray(8, 12)) === 'WAVE'

/**
 * A pressure signal or a sound from the bytes of a WAV file (one or two channels, any depth) or of a table (time, signal,
 * and the mark of cylinder 1 where it was taken). Nothing is guessed in silence: what cannot be read is refused with what
 * would be.
 */
export function readWave(bytes: Uint8Array, options: ReadWaveOptions = {}): WaveResult<Wave> {
  const channel = options.triggerChannel
  if (channel !== undefined && !(Number.isInteger(channel) && channel >= 1 && channel <= 8))
    return waveError('trigger-channel', `trigger channel ${channel}: accepted is a whole number 1 to 8.`)
  const read = isWav(bytes) ? readWav(bytes, channel) : readTable(bytes, channel)
  if (!read.ok) return read
  const { length } = read.value.signal
  if (length < FEWEST) return waveError('too-short', `${length} samples: at least ${FEWEST} are needed.`)
  return read
}

/** The signal and the mark among channels. */
function dealt(
  channels: readonly Float64Array[],
  sampleHz: number,
  triggerChannel: number | undefined,
): WaveResult<Wave> {
  if (triggerChannel !== undefined && triggerChannel > channels.length)
    return waveError(
      'trigger-channel',
      `trigger channel ${triggerChannel}: the file has ${channels.length} channel${channels.length === 1 ? '' : 's'}.`,
    )
  if (triggerChannel !== undefined && channels.length === 1)
    return waveError('trigger-channel', 'The file has one channel: it cannot be signal and mark at once.')
  const mark = triggerChannel ?? (channels.length > 1 ? 2 : undefined)
  const signal = channels.find((_, i) => i + 1 !== mark)!
  return {
    ok: true,
    value: { sampleHz, signal, unit: 'raw', ...(mark === undefined ? {} : { trigger: channels[mark - 1] }) },
  }
}

function readWav(bytes: Uint8Array, triggerChannel: number | undefined): WaveResult<Wave> {
  let channels: Float64Array[]
  let sampleHz: number
  try {
    const wav = new WaveFile(bytes)
    const format = wav.fmt as { sampleRate: number; numChannels: number; bitsPerSample: number }
    sampleHz = format.sampleRate
    const samples = (wav as unknown as { data: { samples: Uint8Array } }).data.samples.length
    if (samples / Math.max(1, format.bitsPerSample / 8) > 2 * MOST_SAMPLES)
      return waveError('too-long', `The file is too long: at most ${MOST_SAMPLES} samples a channel are taken.`)
    const raw = wav.getSamples(false, Float64Array) as unknown as Float64Array | Float64Array[]
    channels = format.numChannels > 1 ? (raw as Float64Array[]) : [raw as Float64Array]
    // whole numbers to parts of full scale; eight bits have no sign
    if (wav.bitDepth !== '32f' && wav.bitDepth !== '64') {
      const full = 2 ** (format.bitsPerSample - 1)
      const zero = format.bitsPerSample === 8 ? 128 : 0
      channels = channels.map((c) => c.map((x) => (x - zero) / full))
    }
  } catch (e) {
    return waveError('wav-not-readable', `The WAV file cannot be read: ${(e as Error).message}.`)
  }
  if (!(sampleHz >= 20 && sampleHz <= 500_000))
    return waveError('wav-not-readable', `The WAV file says ${sampleHz} samples a second; accepted: 20 to 500000.`)
  if (!channels.length || !channels[0].length) return waveError('too-short', 'The WAV file holds no samples.')
  return dealt(channels, sampleHz, triggerChannel)
}

const TIME_UNITS: Readonly<Record<string, number>> = { s: 1, sec: 1, seconds: 1, ms: 1e-3, us: 1e-6, µs: 1e-6, min: 60 }
const MARK = /trig|sync|mark|ignition|spark|coil|cyl.*1|tdc|pickup|pick-up/i
const TIME = /^t$|time|^s$|^ms$/i

/** A cell as a number: "1,25" with a decimal comma too. */
const asNumber = (cell: string): number => {
  const t = cell.trim()
  return t === '' ? NaN : Number(/^[-+\d]*,\d+$/.test(t) ? t.replace(',', '.') : t)
}

function readTable(bytes: Uint8Array, triggerChannel: number | undefined): WaveResult<Wave> {
  const text = new TextDecoder('utf-8').decode(bytes).replace(/^\uFEFF/, '')
  if (text.includes('\u0000')) return waveError('not-a-signal', 'This is neither a WAV file nor a table of numbers.')
  const parsed = Papa.parse<string[]>(text.trim(), { skipEmptyLines: 'greedy', comments: '#' })
  const rows = parsed.data
  const first = rows.findIndex((r) => r.length > 1 && r.every((c) => Number.isFinite(asNumber(c))))
  if (first < 0)
    return waveError(
      'not-a-signal',
      'No row of numbers: a table needs a column of time and one of pressure, and one of the mark of cylinder 1 where it was taken.',
    )
  const body = rows.slice(first)
  if (body.length > MOST_SAMPLES)
    return waveError('too-long', `${body.length} rows: at most ${MOST_SAMPLES} are taken.`)
  const width = body[0].length
  const names = first > 0 && rows[first - 1].length === width ? rows[first - 1].map((x) => x.trim()) : []
  const columns = Array.from({ length: width }, () => new Float64Array(body.length))
  for (let i = 0; i < body.length; i++)
    for (let c = 0; c < width; c++) {
      const x = asNumber(body[i][c] ?? '')
      if (!Number.isFinite(x))
        return waveError(
          'not-a-number',
          `Row ${first + i + 1}, ${names[c] ? `"${names[c]}"` : `column ${c + 1}`}: "${body[i][c] ?? ''}" is no number.`,
        )
      columns[c][i] = x
    }
  const timeAt = timeColumn(columns, names)
  if (timeAt === undefined)
    return waveError('no-time', 'No column rises as time does: a table needs its time, in s, ms or µs.')
  const time = columns[timeAt]
  const named = names[timeAt] ?? ''
  const unit = /[\s_([]+(s|sec|seconds|ms|us|µs|min)[)\]]?$/i.exec(named)?.[1].toLowerCase() ?? named.toLowerCase()
  const step = ((time[time.length - 1] - time[0]) / (time.length - 1)) * (TIME_UNITS[unit] ?? 1)
  const uneven = unevenAt(time)
  if (uneven !== undefined)
    return waveError(
      'time-not-even',
      `The time steps are not even: row ${first + uneven + 2} leaves a gap of ${(time[uneven + 1] - time[uneven]).toPrecision(3)}. Record at one rate without holes.`,
    )
  const sampleHz = 1 / step
  if (!(sampleHz >= 20 && sampleHz <= 500_000))
    return waveError(
      'time-unit',
      `The time column makes ${sampleHz.toPrecision(3)} samples a second: is it in s, ms or µs? Say so in its name, as in "time_ms".`,
    )
  const rest = columns.filter((_, c) => c !== timeAt)
  if (!rest.length) return waveError('not-a-signal', 'The table has a time column and nothing beside it.')
  const restNames = names.filter((_, c) => c !== timeAt)
  const marked = restNames.findIndex((x) => MARK.test(x))
  return dealt(
    rest.length > 2 ? rest.slice(0, 8) : rest,
    sampleHz,
    triggerChannel ?? (marked >= 0 && rest.length > 1 ? marked + 1 : undefined),
  )
}

/** The column that rises all the way: by its name first, the leftmost otherwise. */
function timeColumn(columns: readonly Float64Array[], names: readonly string[]): number | undefined {
  const rises = (c: Float64Array): boolean =>
    c.length > 1 && c.every((x, i) => i === 0 || x >= c[i - 1]) && c[c.length - 1] > c[0]
  const order = columns
    .map((_, i) => i)
    .sort((a, b) => Number(TIME.test(names[b] ?? '')) - Number(TIME.test(names[a] ?? '')) || a - b)
  return order.find((i) => rises(columns[i]))
}

/** First row after which time leaps, where many steps are meant to be alike. */
function unevenAt(time: Float64Array): number | undefined {
  const usual = (time[time.length - 1] - time[0]) / (time.length - 1)
  for (let i = 0; i + 1 < time.length; i++) if (time[i + 1] - time[i] > 3 * usual) return i
  return undefined
}
