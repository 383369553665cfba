import Papa from 'papaparse'
import { QUANTITIES, toCanonical, type Unit } from '../units/index.js'
import { CHANNELS, type Channel, type ChannelId } from './channels.js'
import type { RecordingResult, RecordingWarning } from './recording.js'

/** Channels of which at least one makes a recording worth judging. */
const USEFUL: readonly ChannelId[] = ['rpm', 'maf_gs', 'map_kpa', 'stft1_pct', 'ltft1_pct', 'throttle_pct']

interface Column {
  readonly at: number
  readonly channel: Channel
  readonly unit: Unit
}

const fail = (code: Extract<RecordingResult, { ok: false }>['error']['code'], message: string): RecordingResult => ({
  ok: false,
  error: { code, message },
})

/**
 * Reads a recording from CSV text: the canonical header, or another tool's export with units in the
 * header or in a row of their own, a preamble, semicolons, decimal commas or clock times.
 */
export function readRecordingCsv(text: string): RecordingResult {
  if (text.trim() === '') return fail('empty', 'The file is empty.')
  const head = text.slice(0, 4000)
  // eslint-disable-next-line no-control-regex -- control characters are what tells a picture from a table
  if (/[\u0000-\u0008\u000e-\u001f]|\ufffd{2}/.test(head))
    return fail(
      'not-text',
      'This file is not a table of text: it looks like a picture or a program. Export the recording as CSV.',
    )
  const delimiter = pickDelimiter(head)
  const parsed = Papa.parse<string[]>(text, { delimiter, skipEmptyLines: true })
  const rows = parsed.data
  const headerAt = rows.slice(0, 30).findIndex((r) => matchHeader(r, undefined).length >= 2)
  if (headerAt < 0)
    return fail(
      'no-header',
      'No line names the channels. The first lines should hold names such as time, engine speed, airflow or trims.',
    )
  const next = rows[headerAt + 1] ?? []
  const unitRow = next.filter((x) => isUnitWord(x)).length >= 2 ? next : undefined
  const columns = matchHeader(rows[headerAt], unitRow)
  const time = columns.find((x) => x.channel.id === 'time_s')
  if (!time) return fail('no-time', 'The recording has no time column: points cannot be told apart without one.')
  if (!columns.some((x) => USEFUL.includes(x.channel.id)))
    return fail(
      'no-usable-channel',
      `No channel here tells of air or fuel. Wanted at least one of: ${USEFUL.join(', ')}.`,
    )
  return fill(rows.slice(headerAt + (unitRow ? 2 : 1)), columns, rows[headerAt], delimiter)
}

function fill(body: string[][], columns: Column[], header: string[], delimiter: string): RecordingResult {
  const warnings: RecordingWarning[] = []
  const known = new Set(columns.map((x) => x.at))
  const unknown = header.filter((h, i) => !known.has(i) && h.trim() !== '')
  if (unknown.length)
    warnings.push({ code: 'unknown-column', message: `Not understood and left aside: ${unknown.join(', ')}.` })
  const decimalComma = delimiter !== ','
  const out = new Map(columns.map((x) => [x.channel.id, new Float64Array(body.length)]))
  let n = 0
  let dropped = 0
  let origin: number | undefined
  let previous = -Infinity
  let short = 0
  for (const row of body) {
    if (row.length < columns.length / 2) {
      short++
      continue
    }
    const t = readTime(row[columns.find((x) => x.channel.id === 'time_s')!.at], decimalComma)
    if (!Number.isFinite(t) || t < previous) {
      dropped++
      continue
    }
    previous = t
    origin ??= t
    for (const col of columns) {
      const id = col.channel.id
      const raw = row[col.at] ?? ''
      const value =
        id === 'time_s' ? t - origin : id === 'fuel_status' ? readLoop(raw) : readNumber(raw, decimalComma, col.unit)
      const inside = value >= col.channel.min && value <= col.channel.max
      if (!inside && raw.trim() !== '') dropped++
      out.get(id)![n] = inside ? value : NaN
    }
    n++
  }
  if (n < 2) return fail('no-rows', 'The header is there but fewer than two rows of figures follow.')
  if (short > 1 || (short === 1 && body.length > 2 && body[body.length - 1].length < columns.length))
    warnings.push({
      code: 'truncated',
      message: 'The file breaks off in the middle of a row; what came before is used.',
    })
  if (dropped)
    warnings.push({
      code: 'values-dropped',
      message: `${dropped} values were missing, out of order or outside physics and are left aside.`,
    })
  const cut = Object.fromEntries([...out].map(([id, xs]) => [id, xs.slice(0, n)]))
  return { ok: true, recording: { rows: n, columns: cut, warnings } }
}

function pickDelimiter(head: string): string {
  const count = (d: string): number => Math.max(...head.split(/\r?\n/).map((line) => line.split(d).length))
  return [';', '\t', ','].map((d) => [d, count(d)] as const).sort((a, b) => b[1] - a[1])[0][0]
}

const isUnitWord = (x: string): boolean =>
  Object.values(QUANTITIES).some((q) => q.units.some((unit) => unit.symbol !== '' && unit.alias.includes(bare(x))))

const bare = (x: string): string => x.trim().toLowerCase().replace(/\s+/g, '')

function matchHeader(cells: readonly string[], unitRow: readonly string[] | undefined): Column[] {
  const taken = new Set<ChannelId>()
  const columns: Column[] = []
  cells.forEach((cell, at) => {
    const m = /^(.*?)\s*(?:[([]([^)\]]*)[)\]])?\s*$/.exec(cell.replace(/^\ufeff/, '').trim())
    const name = (m?.[1] ?? '').toLowerCase()
    const exact = CHANNELS.find((ch) => ch.id === name)
    const channel = exact ?? CHANNELS.find((ch) => !taken.has(ch.id) && name !== '' && ch.spelled.test(name))
    if (!channel || taken.has(channel.id)) return
    const word = bare(m?.[2] ?? unitRow?.[at] ?? '')
    const units = QUANTITIES[channel.quantity].units
    const unit = exact ? units[0] : (units.find((x) => x.alias.includes(word)) ?? units[0])
    taken.add(channel.id)
    columns.push({ at, channel, unit })
  })
  return columns
}

function readNumber(raw: string, decimalComma: boolean, unit: Unit): number {
  const t = raw.trim()
  if (t === '') return NaN
  const value = Number(decimalComma ? t.replace(',', '.') : t)
  return Number.isFinite(value) ? toCanonical(value, unit) : NaN
}

/** Seconds from a number or from a clock time hh:mm:ss.sss. */
function readTime(raw: string, decimalComma: boolean): number {
  const clock = /^(\d{1,2}):(\d{2}):(\d{2}(?:[.,]\d+)?)$/.exec((raw ?? '').trim())
  if (clock) return Number(clock[1]) * 3600 + Number(clock[2]) * 60 + Number(clock[3].replace(',', '.'))
  return readNumber(raw ?? '', decimalComma, QUANTITIES.duration.units[0])
}

function readLoop(raw: string): number {
  const t = raw.trim().toLowerCase()
  if (t === '') return NaN
  return /^(cl|closed|1$|2$)/.test(t) ? 1 : 0
}
