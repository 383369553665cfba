import { QUANTITIES, type Unit } from '../units/index.js'
import {
  channelProblem,
  recordingOfRows,
  type Channel,
  type ChannelId,
  type Recording,
  type RecordingError,
  type RecordingResult,
  type RecordingWarning,
} from '../signals/index.js'
import { readBody, type Body } from './body.js'
import { isCandump, readCandump } from './candump.js'
import { decimalCommas } from './decimalCommas.js'
import { encodingOf, namesOnOneLine, textOf, toUtf8 } from './encoding.js'
import { fromMarkup } from './markup.js'
import { fromPairs, intervalAbove, withTabs, withTimes } from './loose.js'
import { fromJson } from './json.js'
import { readLong } from './longForm.js'
import { stoodUp } from './onItsSide.js'
import { inRounds } from './rounds.js'
import { alikeTemperature, openingWritten, trimsWritten, unitByValue } from './sanity.js'
import { unpacked } from './packed.js'
import { columnsToAsk, sniff, type Layout, type Mapping } from './sniff.js'
import { BETWEEN_S, newestFirst, timeline, type Timeline } from './time.js'

/** Channels of which at least one makes a recording worth judging. */
const USEFUL: readonly ChannelId[] = ['rpm', 'maf_gs', 'map_kpa', 'stft1_pct', 'ltft1_pct', 'throttle_pct']
/** Wider than this is no recording [columns]. */
const MOST_COLUMNS = 500
const LISTED = 8

/** How a recording is read. */
export interface ReadOptions {
  /** What a person said labels mean. */
  readonly mapping?: Mapping
  /** Called now and then with the share that is read, 0..1. */
  readonly tell?: (share: number) => void
}

const fail = (code: RecordingError['code'], message: string): RecordingResult => ({
  ok: false,
  error: { code, message },
})

/**
 * Reads a recording of any tool from a file's bytes: tables with any delimiter, decimal mark, encoding, preamble, names and
 * units, one row a moment or one line a value, and dumps of a CAN bus. What it could not use it says; what it cannot read at
 * all it refuses with the line or column at fault.
 */
export function readRecording(bytes: Uint8Array, options: ReadOptions = {}): RecordingResult {
  const encoding = encodingOf(bytes)
  if (encoding === 'empty') return fail('empty', 'The file is empty.')
  if (encoding === 'zip') return fromPacked(bytes, options)
  if (encoding === 'not-text')
    return fail(
      'not-text',
      'This file is not a table of text: it looks like a picture or a program. Export the recording as CSV.',
    )
  const text = namesOnOneLine(toUtf8(bytes, encoding))
  if (isCandump(text)) return fromCandump(text)
  // what is laid out otherwise than one moment a line is told by its moments
  const table = fromJson(text) ?? fromMarkup(text) ?? stoodUp(text)
  return table ? byMoments(readTable(table, options)) : readTable(text, options)
}

/** The first table inside a packed file that is a recording; where there are more, which one is said. */
function fromPacked(bytes: Uint8Array, options: ReadOptions): RecordingResult {
  const tables = unpacked(bytes)
  if (!tables.length)
    return fail(
      'packed',
      'This is a packed file (zip, gzip or spreadsheet) that is damaged, or holds no table of text. Unpack it, or save the table as CSV.',
    )
  let refused: RecordingResult | undefined
  for (const { bytes: inside, name } of tables) {
    if (encodingOf(inside) === 'zip') continue
    const read = readRecording(inside, options)
    if (!read.ok) {
      refused ??= read
      continue
    }
    if (tables.length === 1) return read
    const message = `${tables.length} tables are packed in this file; ${name === undefined ? 'one sheet' : `"${name}"`} is read.`
    return {
      ok: true,
      recording: { ...read.recording, warnings: [...read.recording.warnings, { code: 'packed', message }] },
    }
  }
  return refused ?? fail('packed', 'This is a packed file inside a packed file. Unpack it first.')
}

/** Lines of a table that was made of such a file are the moments of it. */
function byMoments(read: RecordingResult): RecordingResult {
  return withLines(read, (n) => `moment ${n - 1}`)
}

/** The lines that a reading tells of, told otherwise. */
function withLines(read: RecordingResult, told: (line: number) => string): RecordingResult {
  const said = (message: string): string => message.replace(/\bline (\d+)/g, (_, n: string) => told(Number(n)))
  if (!read.ok) return { ok: false, error: { ...read.error, message: said(read.error.message) } }
  const warnings = read.recording.warnings.map((w) => ({ ...w, message: said(w.message) }))
  return { ok: true, recording: { ...read.recording, warnings } }
}

function readTable(utf8: Uint8Array, options: ReadOptions): RecordingResult {
  const layout = sniff(utf8, options.mapping)
  if (layout) return fromLayout(utf8, layout, options)
  // columns that stand under each other and are parted by spaces
  const parted = withTabs(utf8)
  const loose = parted && sniff(parted, options.mapping)
  if (loose) return fromLayout(parted, loose, options)
  // each figure behind its own name
  const paired = fromPairs(utf8)
  const named = paired && sniff(paired, options.mapping)
  return named ? byMoments(fromLayout(paired, named, options)) : noLayout(utf8)
}

function fromLayout(utf8: Uint8Array, layout: Layout, options: ReadOptions): RecordingResult {
  if (layout.header.length > MOST_COLUMNS)
    return fail(
      'too-many-columns',
      `Line ${layout.bodyLine - 1} names ${layout.header.length} columns; a recording has at most ${MOST_COLUMNS}. Export fewer channels.`,
    )
  if (layout.long) return fromLong(utf8, layout, options.mapping ?? {})
  const commas = decimalCommas(utf8, layout)
  if (commas?.kind === 'unclear')
    return fail(
      'not-sure',
      `Line ${layout.bodyLine - 1} names ${layout.header.length} columns, and rows hold up to ${commas.cells} whole numbers between commas. If decimals are written with commas too, which belong together cannot be told: export with semicolons or tabs between the columns, or with decimal points.`,
    )
  if (commas) return withPoints(commas.utf8, options)
  const ids = layout.columns.map((c) => c.channel.id)
  if (!ids.includes('time_s')) {
    const seconds = intervalAbove(utf8, layout)
    if (seconds !== undefined) return fromRowsApart(utf8, layout, seconds, options)
    return fail(
      'no-time',
      `The recording has no time column among ${list(layout.header)}: points cannot be told apart without one. A line above the header that names the interval of the rows would do too.`,
    )
  }
  if (!ids.some((id) => USEFUL.includes(id))) return notUseful(layout)
  return fromTables(utf8, layout, options)
}

/** A table once its decimal commas are points. */
function withPoints(utf8: Uint8Array, options: ReadOptions): RecordingResult {
  const layout = sniff(utf8, options.mapping)
  const read = layout ? fromLayout(utf8, layout, options) : noLayout(utf8)
  if (!read.ok) return read
  const message =
    'Decimals are written with commas between commas: they are put together so that time rises and figures are those of an engine.'
  return {
    ok: true,
    recording: { ...read.recording, warnings: [...read.recording.warnings, { code: 'decimal-commas', message }] },
  }
}

/** Tables of one file at most: a header that changes more often than that is no header. */
const MOST_TABLES = 200

/** A table, and what follows it where a header further down names other columns. */
function fromTables(utf8: Uint8Array, layout: Layout, options: ReadOptions): RecordingResult {
  let table: OneTable = fromTable(utf8, layout, options.tell)
  const read = [table.result]
  const begins: number[] = []
  let lines = 0
  for (let rest = utf8; table.changed && read.length < MOST_TABLES;) {
    rest = rest.subarray(table.changed.at)
    lines += table.changed.line - 1
    begins.push(lines + 1)
    const next = sniff(rest, options.mapping)
    if (!next || next.long || !next.columns.some((c) => c.channel.id === 'time_s')) break
    table = fromTable(rest, next, options.tell)
    const before = lines
    read.push(withLines(table.result, (n) => `line ${n + before}`))
  }
  return begins.length ? behindEachOther(read, begins) : table.result
}

/** Recordings of one file laid behind each other; a channel that one of them has not is blank there. */
function behindEachOther(read: readonly RecordingResult[], begins: readonly number[]): RecordingResult {
  const parts = read.flatMap((r) => (r.ok ? [r.recording] : []))
  if (!parts.length) return read[0]
  const rows = parts.reduce((n, p) => n + p.rows, 0)
  const ids = [...new Set(parts.flatMap((p) => Object.keys(p.columns) as ChannelId[]))]
  const columns = Object.fromEntries(ids.map((id) => [id, new Float64Array(rows).fill(NaN)]))
  let at = 0
  let seconds = 0
  for (const p of parts) {
    for (const id of ids) if (p.columns[id]) columns[id].set(p.columns[id], at)
    for (let i = at; i < at + p.rows; i++) columns.time_s[i] += seconds
    at += p.rows
    seconds = columns.time_s[at - 1] + BETWEEN_S
  }
  const s = begins.length === 1 ? '' : 's'
  const message = `Line${s} ${begins.slice(0, LISTED).join(', ')}${begins.length > LISTED ? ' …' : ''} name${s ? '' : 's'} other columns: what follows is read by its own names, and laid behind what came before.`
  const said = new Map(parts.flatMap((p) => p.warnings.map((w) => [w.message, w])))
  return {
    ok: true,
    recording: { rows, columns, warnings: [...said.values(), { code: 'header-changes', message }] },
  }
}

/** A table without times whose rows stand as far apart as its head says. */
function fromRowsApart(utf8: Uint8Array, layout: Layout, seconds: number, options: ReadOptions): RecordingResult {
  const timed = withTimes(utf8, layout, seconds)
  const again = sniff(timed, options.mapping)
  const read = again?.columns.some((c) => c.channel.id === 'time_s') ? fromLayout(timed, again, options) : undefined
  if (!read?.ok) return read ?? fail('no-time', 'The recording has no time column, and none could be made for it.')
  const message = `No column tells the time: rows are taken as ${seconds} s apart, as the lines above them say.`
  return {
    ok: true,
    recording: { ...read.recording, warnings: [...read.recording.warnings, { code: 'time-by-interval', message }] },
  }
}

const list = (labels: readonly string[]): string =>
  labels
    .slice(0, LISTED)
    .map((l) => `"${l}"`)
    .join(', ') + (labels.length > LISTED ? ' …' : '')

function noLayout(utf8: Uint8Array): RecordingResult {
  // a table all the same, whose names say too little
  const asked = columnsToAsk(utf8)
  const unsure = asked.filter((g) => !g.channel && /\p{L}/u.test(g.label))
  if (asked.some((g) => g.channel) && unsure.length)
    return fail(
      'not-sure',
      `It is not sure what ${list(unsure.map((g) => g.label))} ${unsure.length === 1 ? 'means' : 'mean'}: say which channel each is, or export names such as engine speed, airflow or trims.`,
    )
  const first = textOf(utf8.subarray(0, 400)).split('\n')[0].trim().slice(0, 60)
  return fail(
    'no-header',
    `No line names the channels. The first lines should hold names such as time, engine speed, airflow or trims; the first one is "${first}".`,
  )
}

function notUseful(layout: Layout): RecordingResult {
  const doubtful = layout.guesses.filter(
    (g) => g.by === 'doubtful' && g.candidates.some((c) => USEFUL.includes(c.channel)),
  )
  if (doubtful.length)
    return fail('not-sure', `It is not sure what ${list(doubtful.map((g) => g.label))} means: say which channel it is.`)
  return fail(
    'no-usable-channel',
    `No channel here tells of air or fuel. Wanted at least one of: ${USEFUL.join(', ')}. The columns are ${list(layout.header)}.`,
  )
}

/** What one table holds, and where another follows. */
interface OneTable {
  readonly result: RecordingResult
  readonly changed?: Body['changed']
}

function fromTable(utf8: Uint8Array, layout: Layout, tell: ReadOptions['tell']): OneTable {
  const body = readBody(utf8, layout, tell)
  return { result: recordingOf(body, layout), changed: body.changed }
}

/** The recording that the rows of a table make. */
function recordingOf(body: Body, layout: Layout): RecordingResult {
  const label = layout.header[layout.columns.find((c) => c.channel.id === 'time_s')!.at]
  const wanted = layout.columns.filter((c) => c.channel.id !== 'time_s')
  const warnings: RecordingWarning[] = []
  const isNewestFirst = newestFirst(body.times)
  if (isNewestFirst) for (const xs of [body.times, ...body.columns]) xs.reverse()
  const line = timeline(body.times, body.clock, label)
  const refused = tooFew(body.rows, line, body.untimed, label)
  if (refused) return refused
  let outside = 0
  const kept = wanted.map((_, k) => pick(body.columns[k], line.kept))
  const written = trimsWritten(
    wanted.flatMap((c, k) =>
      c.unitAssumed ? [{ id: c.channel.id, label: layout.header[c.at], values: kept[k] }] : [],
    ),
  )
  const byValue = wanted.map((c, k) => (c.unitAssumed ? unitByValue(c, kept[k]) : undefined))
  const told = byValue.filter((u) => u !== undefined)
  const columns: [ChannelId, Float64Array][] = wanted.map((c, k) => {
    const xs = kept[k]
    const isTrim = written !== undefined && c.unitAssumed && /^[sl]tft/.test(c.channel.id)
    const unit = isTrim ? written.unit : c.unitAssumed ? (byValue[k] ?? alikeTemperature(c, xs, told)) : undefined
    const steps = c.channel.id === 'idle_valve_pct' && c.unitAssumed && STEPS.test(layout.header[c.at])
    if (steps) warnings.push(inSteps(xs, layout.header[c.at]))
    if (c.unitAssumed) outside += insidePhysics(xs, c.channel, unit)
    if (!unit) return [c.channel.id, xs]
    warnings.push({
      code: 'unit-by-value',
      message: isTrim
        ? `"${layout.header[c.at]}" is written as ${unit.symbol}: ${written.none} is no correction.`
        : `"${layout.header[c.at]}" names no unit; its values are ${unit.symbol}, not ${QUANTITIES[c.channel.quantity].units[0].symbol}.`,
    })
    return [c.channel.id, xs]
  })
  const opening = wanted.find((c) => c.channel.id === 'throttle_pct' && c.unitAssumed)
  const otherwise = opening && openingWritten(Object.fromEntries(columns))
  if (otherwise) {
    const xs = columns.find(([id]) => id === 'throttle_pct')![1]
    for (let i = 0; i < xs.length; i++) xs[i] *= otherwise === 'share' ? 100 : NaN
    warnings.push({ code: 'unit-by-value', message: `"${layout.header[opening.at]}" ${OTHERWISE[otherwise]}` })
  }
  const read = new Set(layout.columns.map((c) => c.at))
  const twice = layout.guesses.filter((g) => g.channel && !read.has(g.at) && g.by !== 'told')
  const unknown = layout.guesses.filter((g) => !g.channel && g.label.trim() !== '' && g.by !== 'told')
  if (unknown.length)
    warnings.push({
      code: 'unknown-column',
      message: `Not understood and left aside: ${unknown.map((g) => g.label).join(', ')}.`,
    })
  if (twice.length)
    warnings.push({
      code: 'twice',
      message: `Named more than once, the fuller one is used: ${twice.map((g) => g.label).join(', ')}.`,
    })
  if (body.short > 1 || (body.short === 1 && body.rows > 1))
    warnings.push({
      code: 'truncated',
      message: 'The file breaks off in the middle of a row; what came before is used.',
    })
  if (body.headers)
    warnings.push({
      code: 'header-again',
      message: `The header comes again ${times(body.headers)}; it is passed over.`,
    })
  if (isNewestFirst)
    warnings.push({ code: 'newest-first', message: 'The newest row stands first: the table is read from its end.' })
  for (const c of wanted)
    if (c.gauge)
      warnings.push({
        code: 'unit-by-value',
        message: `"${layout.header[c.at]}" stands against the air outside: what lies below it is read as vacuum.`,
      })
  if (line.restarts)
    warnings.push({
      code: 'time-restarts',
      message: `The time begins again ${times(line.restarts)}: what follows is laid behind what came before.`,
    })
  if (line.backwards)
    warnings.push({
      code: 'time-backwards',
      message: `Time goes backwards ${times(line.backwards)}; those rows are left out.`,
    })
  const dropped = body.dropped + body.untimed + outside
  if (dropped)
    warnings.push({
      code: 'values-dropped',
      message: `${dropped === 1 ? 'One value was' : `${dropped} values were`} missing, out of order or outside physics and ${dropped === 1 ? 'is' : 'are'} left aside${
        body.odd ? `; the first is "${body.odd.text}" in line ${body.odd.line}, "${body.odd.label}"` : ''
      }.`,
    })
  return done({
    rows: line.seconds.length,
    columns: { time_s: line.seconds, ...Object.fromEntries(columns) },
    warnings,
  })
}

const OTHERWISE = {
  share:
    'names no unit and stays below 1 however hard the engine was driven: it is read as a share of the whole opening.',
  voltage:
    'names no unit and stays below 5 however hard the engine was driven: a voltage, and no opening. It is left aside.',
} as const

const STEPS = /\b(steps?|counts?|schritte?|pas|pasos|passi|kroki)\b/i
/** Steps that the whole way of an idle valve has where more than a hundred are counted; ours. */
const MANY_STEPS = 255

/** Steps of an idle valve as a share of its way, as far as that is known; brought to percent in place. */
function inSteps(xs: Float64Array, label: string): RecordingWarning {
  const whole = xs.some((x) => x > 100) ? MANY_STEPS : 100
  for (let i = 0; i < xs.length; i++) xs[i] *= 100 / whole
  return {
    code: 'unit-by-value',
    message: `"${label}" counts steps, and how many make its whole way is not known: taken as ${whole}. Trust how it changes, not where it stands.`,
  }
}

/** Brings values into the canonical unit and blanks what is not physics. @returns how many were blanked */
function insidePhysics(xs: Float64Array, { min, max }: Channel, unit: Unit | undefined): number {
  let outside = 0
  const [factor, offset] = [unit?.factor ?? 1, unit?.offset ?? 0]
  for (let i = 0; i < xs.length; i++) {
    if (Number.isNaN(xs[i])) continue
    xs[i] = xs[i] * factor + offset
    if (xs[i] >= min && xs[i] <= max) continue
    xs[i] = NaN
    outside++
  }
  return outside
}

const times = (n: number): string => (n === 1 ? 'once' : `${n} times`)

function pick(xs: Float64Array, kept: Uint32Array | undefined): Float64Array {
  return kept ? Float64Array.from(kept, (i) => xs[i]) : xs
}

function tooFew(rows: number, line: Timeline, untimed: number, label: string): RecordingResult | undefined {
  if (rows < 2)
    return fail(
      'no-rows',
      untimed > 1
        ? `${untimed} rows follow the header and none has a time in "${label}".`
        : 'The header is there but fewer than two rows of figures follow.',
    )
  if (line.seconds.length < 2)
    return fail(
      'time-stands',
      `The times in "${label}" do not rise from row to row: what order the rows are in cannot be told.`,
    )
  if (line.stands === line.seconds.length - 1)
    return fail('time-stands', `Every row has the same time in "${label}": when each was read cannot be told.`)
  return undefined
}

function fromLong(utf8: Uint8Array, layout: Layout, mapping: Mapping): RecordingResult {
  const body = readLong(utf8, layout, mapping)
  const ids = [...body.columns.keys()]
  if (!ids.some((id) => USEFUL.includes(id)))
    return fail(
      'no-usable-channel',
      `No channel here tells of air or fuel. Wanted at least one of: ${USEFUL.join(', ')}. The names are ${list(body.unknown)}.`,
    )
  const line = timeline(body.times, body.clock, layout.header[layout.long!.time])
  const refused = tooFew(body.times.length, line, 0, layout.header[layout.long!.time])
  if (refused) return refused
  const columns = Object.fromEntries([...body.columns].map(([id, xs]) => [id, pick(xs, line.kept)]))
  const warnings: RecordingWarning[] = []
  if (body.unknown.length)
    warnings.push({
      code: 'unknown-column',
      message: `Not understood and left aside: ${body.unknown.slice(0, LISTED).join(', ')}.`,
    })
  if (body.dropped)
    warnings.push({
      code: 'values-dropped',
      message: `${body.dropped === 1 ? 'One value was' : `${body.dropped} values were`} not understood or outside physics and ${body.dropped === 1 ? 'is' : 'are'} left aside.`,
    })
  return done({ rows: line.seconds.length, columns: { time_s: line.seconds, ...columns }, warnings })
}

function fromCandump(utf8: Uint8Array): RecordingResult {
  const { rows, frames } = readCandump(utf8)
  const sane = rows.map((r) => ({
    t: r.t,
    values: Object.fromEntries(
      Object.entries(r.values).filter(([id, x]) => channelProblem(id as ChannelId, x) === undefined),
    ),
  }))
  const recording = recordingOfRows(sane.sort((a, b) => a.t - b.t))
  if (recording.rows < 2)
    return fail(
      'no-rows',
      `${frames} CAN frames are there, but none answers a request for live data (identifiers 7E8 to 7EF, service 41).`,
    )
  return done(recording)
}

/** A channel that holds nothing is as good as absent. */
function done(recording: Recording): RecordingResult {
  const columns = Object.fromEntries(
    Object.entries(recording.columns).filter(([id, xs]) => id === 'time_s' || !xs.every(Number.isNaN)),
  )
  if (!USEFUL.some((id) => columns[id]))
    return fail('all-blank', 'The columns that tell of air or fuel are there, but every cell of them is blank.')
  return { ok: true, recording: inRounds({ ...recording, columns }) }
}
