import Papa from 'papaparse'
import { QUANTITIES, type Unit } from '../units/index.js'
import { maybeChannel, type Channel, type ChannelId } from '../signals/index.js'
import { readClock, readNumber, unitNamed } from './cells.js'
import { encodingOf, namesOnOneLine, textOf, toUtf8 } from './encoding.js'
import { fromJson } from './json.js'
import { stoodUp } from './onItsSide.js'
import { unpacked } from './packed.js'
import { byUnit, CLOSE_SCORE, matchesOf, SURE_SCORE, type LabelMatch } from './labelMatch.js'

/** What a person said a label means: a channel, or nothing. Kept for a header and used again. */
export type Mapping = Readonly<Record<string, ChannelId | 'none'>>

/** How a column's meaning was found. */
export interface ColumnGuess {
  /** As it stands in the header. */
  readonly label: string
  readonly at: number
  readonly channel?: ChannelId
  /** exact: our own name; label: by the dictionary; told: by a person; doubtful: several fit, or none well. */
  readonly by: 'exact' | 'label' | 'told' | 'doubtful' | 'none'
  readonly candidates: readonly LabelMatch[]
  /** Unit that it names, as it is written; empty where it names none. */
  readonly unit?: string
  /** First cells, for a person who is asked. */
  readonly preview: readonly string[]
}

/** A column that is read. */
export interface Column {
  readonly at: number
  readonly channel: Channel
  readonly unit: Unit
  /** True when neither header nor cells named a unit. */
  readonly unitAssumed: boolean
  /** It stands against the air outside, and is read as vacuum against it. */
  readonly gauge?: true
}

/** Of two columns that mean the same, the later one is taken when it holds so many times as much. */
const FULLER = 1.5

/** How a table is laid out. */
export interface Layout {
  readonly delimiter: string
  readonly decimalComma: boolean
  /** Byte at which the first row of figures begins, and the line it stands in (1 is the first). */
  readonly bodyAt: number
  readonly bodyLine: number
  readonly header: readonly string[]
  readonly columns: readonly Column[]
  readonly guesses: readonly ColumnGuess[]
  readonly long?: { readonly time: number; readonly name: number; readonly value: number; readonly unit?: number }
}

/** How much of the file is looked at to find its layout [bytes], and how many lines of it. */
const LOOKED_AT = 1 << 18
const LINES = 60
const HEADER_WITHIN = 40
/** Rows between names and figures at most. */
const BETWEEN = 3
const PREVIEWED = 5
const DELIMITERS = [',', ';', '\t', '|'] as const
const LONG_NAMES = /^(channel|name|parameter|signal|sensor|pid|item|variable)$/i
const LONG_VALUES = /^(value|reading|measurement|wert)$/i
const LONG_UNITS = /^(unit|units)$/i

interface Line {
  readonly cells: readonly string[]
  /** Byte after its end. */
  readonly end: number
}

/** Lines at the beginning, by one delimiter; a quote that is never closed ends with its line. */
function linesBy(head: Uint8Array, delimiter: string): Line[] {
  const lines: Line[] = []
  let from = 0
  while (from < head.length && lines.length < LINES) {
    let to = head.indexOf(10, from)
    if (to < 0) to = head.length
    const text = textOf(head.subarray(from, to)).replace(/\r$/, '')
    const cells = text.includes('"') ? (Papa.parse<string[]>(text, { delimiter }).data[0] ?? []) : text.split(delimiter)
    lines.push({ cells: cells.map((c) => c.trim()), end: Math.min(head.length, to + 1) })
    from = to + 1
  }
  return lines
}

/** Names of channels that a header must hold to be known by itself. */
const KNOWN_LEAST = 2

/** The columns of a table whose names are not understood, so that a person can be asked. Empty when it is no table. */
export const columnsToAsk = (bytes: Uint8Array): readonly ColumnGuess[] => {
  const encoding = encodingOf(bytes)
  if (encoding === 'zip') {
    const inside = unpacked(bytes).at(0)?.bytes
    return inside && encodingOf(inside) !== 'zip' ? columnsToAsk(inside) : []
  }
  if (encoding === 'empty' || encoding === 'not-text') return []
  const text = namesOnOneLine(toUtf8(bytes, encoding))
  const guesses = sniff(fromJson(text) ?? stoodUp(text) ?? text, {}, 0)?.guesses ?? []
  // when every name is understood there is nothing to ask
  if (guesses.every((g) => g.channel)) return []
  if (guesses.some((g) => g.channel === 'time_s')) return guesses
  // what rises from row to row is likely the time: proposed, not decided
  const rising = guesses.find((g) => g.by === 'none' && rises(g.preview))
  return guesses.map((g) =>
    g === rising ? { ...g, candidates: [{ channel: 'time_s', score: 0.3, phrase: 'rises from row to row' }] } : g,
  )
}

function rises(cells: readonly string[]): boolean {
  const xs = cells.map((c) => readNumber(c, true)).map((x, i) => (Number.isNaN(x) ? readClock(cells[i]) : x))
  return xs.length > 2 && xs.every((x, i) => i === 0 || x > xs[i - 1])
}

/** Finds the layout. @returns undefined when no line names channels */
export function sniff(bytes: Uint8Array, mapping: Mapping = {}, least = KNOWN_LEAST): Layout | undefined {
  const head = bytes.subarray(0, LOOKED_AT)
  let best: { layout: Layout; score: number } | undefined
  for (const delimiter of DELIMITERS) {
    if (!head.includes(delimiter.charCodeAt(0))) continue
    const lines = linesBy(head, delimiter)
    for (let i = 0; i < Math.min(HEADER_WITHIN, lines.length); i++) {
      for (const names of namesAt(lines, i)) {
        // among headers that say nothing the one with most columns
        const score =
          headerScore(names, mapping) + (least === 0 && !names.some(isFigure) ? 0.01 * (names.length - 1) : 0)
        if (score < least || score <= (best?.score ?? 0)) continue
        const layout = layoutAt(lines, i, names, delimiter, mapping)
        if (layout) best = { layout: fromTheFirst(lines, i, names, layout), score }
      }
    }
  }
  return best?.layout
}

/** Where a header only adds columns to one further up, its table begins there: the rows between are shorter. */
function fromTheFirst(lines: readonly Line[], at: number, names: readonly string[], layout: Layout): Layout {
  const first = lines.slice(0, at).findIndex(({ cells }) => cells.length > 1 && cells.every((c, k) => c === names[k]))
  return first < 0 ? layout : { ...layout, bodyAt: lines[first].end, bodyLine: first + 2 }
}

/** Names that a line may give its columns: its own, or those of the line above and its own together. */
function namesAt(lines: readonly Line[], i: number): (readonly string[])[] {
  const own = lines[i].cells
  const above = i > 0 ? lines[i - 1].cells : []
  if (above.length < 2 || above.length !== own.length || [...above, ...own].some(isFigure)) return [own]
  return [own, own.map((c, k) => `${above[k]} ${c}`.trim())]
}

/** How well a cell of a header names a channel, 0..1. */
function nameScore(cell: string, mapping: Mapping): number {
  if (PLAIN.test(cell)) return 0
  if (mapping[cell] || maybeChannel(cell.toLowerCase())) return 1
  return (matchesOf(cell)[0] ?? byUnit(cell, unitText(cell, undefined))[0])?.score ?? 0
}
/** What is surely no name. */
const PLAIN = /^[-+\d.,:]*$/

/** How many cells of a line name channels; a line of figures names none. */
function headerScore(cells: readonly string[], mapping: Mapping): number {
  const long = longForm(cells)
  if (long) return 3
  return cells.length < 2 ? 0 : cells.reduce((sum, c) => sum + nameScore(c, mapping), 0)
}

function longForm(cells: readonly string[]): Layout['long'] {
  const find = (pattern: RegExp): number => cells.findIndex((c) => pattern.test(c.replace(/[([].*/, '').trim()))
  const [name, value, unit] = [find(LONG_NAMES), find(LONG_VALUES), find(LONG_UNITS)]
  const time = cells.findIndex((c) => matchesOf(c)[0]?.channel === 'time_s')
  if (cells.length > 6 || name < 0 || value < 0 || time < 0) return undefined
  return { time, name, value, ...(unit < 0 ? {} : { unit }) }
}

function layoutAt(
  lines: readonly Line[],
  at: number,
  header: readonly string[],
  delimiter: string,
  mapping: Mapping,
): Layout | undefined {
  // rows of units, of modules, of nothing may stand between the names and the figures
  let first = at + 1
  let units: readonly string[] = []
  while (first < lines.length && first - at <= BETWEEN && !lines[first].cells.some(isFigure)) {
    const { cells } = lines[first]
    if (cells.filter((c, i) => c !== '' && isUnitWord(c, header[i] ?? '')).length >= 2) units = cells
    first++
  }
  const body = lines.slice(first).map((l) => l.cells)
  // a line that is followed by figures is a header; one followed by words is a preamble
  if (body.length && !body.some((cells) => cells.some(isFigure))) return undefined
  const decimalComma = delimiter !== ',' && body.some((cells) => cells.some((c) => /^[+-]?\d*,\d+$/.test(c)))
  const guesses = withClock(header.map((label, i) => guess(label, i, mapping, body, unitText(label, units[i]))))
  const columns = chosen(guesses, units, body)
  return {
    delimiter,
    decimalComma,
    bodyAt: lines[first - 1].end,
    bodyLine: first + 1,
    header,
    columns,
    guesses,
    long: longForm(header),
  }
}

const isFigure = (cell: string): boolean => {
  if (!/\d/.test(cell)) return false
  if (Number.isFinite(readNumber(cell, true)) || Number.isFinite(readClock(cell))) return true
  // "680 rpm", and not "1/min"
  const unit = /^[+\-\u2212]?[\d.,]+\s*([^\d\s].*)$/.exec(cell)?.[1]
  return unit !== undefined && isUnitWord(unit, '') && !isUnitWord(cell, '')
}

function isUnitWord(word: string, label: string): boolean {
  const channel = matchesOf(label)[0]?.channel
  const bare = word.replace(/[[\]()]/g, '')
  if (channel && unitNamed(maybeChannel(channel)!.quantity, bare)) return true
  return (
    Object.values(QUANTITIES).some((q) => unitNamed(q.id, bare)?.symbol) ||
    /^h+:m+(:s+)?/i.test(bare) ||
    /^(ms|sec|seconds)$/i.test(bare)
  )
}

/** The unit that a header names: in brackets, behind a comma or slash, or in a row of its own. */
function unitText(label: string, inRow: string | undefined): string {
  const inBrackets = /[([{]([^)\]}]*)[)\]}]/.exec(label)?.[1]
  return inBrackets ?? inRow?.replace(/[[\]()]/g, '') ?? /(?:,|\s[/|])\s*([^,|]+)$/.exec(label)?.[1] ?? ''
}

/** A name without the unit behind its comma or slash: "coolant, °F". */
const withoutUnit = (label: string, unit: string): string =>
  unit !== '' && label.endsWith(unit) && isUnitWord(unit, '') ? label.slice(0, -unit.length) : label

/** Units of things that are no channel of ours: what is counted in them is not guessed to be one. */
const FOREIGN =
  /^(k?hz|k?ohms?|\u03a9|m[gl]\/(s|stk|str|stroke|hub|cyl|cycle)|g\/rev|counts?|l\/(h|min|s)|m3\/h|m\u00b3\/h|s?cf[ms]|ma|a|nm|n\u00b7m|kw|hp|ps|g)$/i

/** What can be measured in a unit; everything where it is none that is known. */
function inUnit(candidates: readonly LabelMatch[], unit: string): readonly LabelMatch[] {
  if (unit === '') return candidates
  if (FOREIGN.test(unit.trim())) return []
  const known = Object.values(QUANTITIES).some((q) => unitNamed(q.id, unit))
  if (!known) return candidates
  return candidates.filter((c) => c.channel === 'time_s' || unitNamed(maybeChannel(c.channel)!.quantity, unit))
}

/** Days since 1900 of the years that a spreadsheet counts a recording's moments in. */
const SERIAL_DAYS = { low: 30_000, high: 80_000 }
const DATED = /\b(date|datum|fecha|data|jour|tag)/i

/** A moment as a spreadsheet counts it: days, and a part of one. */
function isSerialDay(cell: string): boolean {
  const x = readNumber(cell, true)
  return x > SERIAL_DAYS.low && x < SERIAL_DAYS.high && !Number.isInteger(x)
}

/** Where no name tells the time, the first column of clock times does, or that of a date with its part of the day. */
function withClock(guesses: readonly ColumnGuess[]): readonly ColumnGuess[] {
  if (guesses.some((g) => g.channel === 'time_s')) return guesses
  const clock =
    guesses.find(
      (g) =>
        !g.channel && g.preview.length > 1 && g.preview.every((c) => c.includes(':') && Number.isFinite(readClock(c))),
    ) ?? guesses.find((g) => !g.channel && DATED.test(g.label) && g.preview.length > 1 && g.preview.every(isSerialDay))
  return guesses.map((g) => (g === clock ? { ...g, channel: 'time_s', by: 'label' } : g))
}

function guess(
  label: string,
  at: number,
  mapping: Mapping,
  body: readonly (readonly string[])[],
  unit: string,
): ColumnGuess {
  const preview = body.slice(0, PREVIEWED).map((cells) => cells[at] ?? '')
  const told = mapping[label]
  if (told !== undefined)
    return { label, at, by: 'told', candidates: [], preview, ...(told === 'none' ? {} : { channel: told }) }
  const exact = maybeChannel(label.toLowerCase())
  if (exact) return { label, at, by: 'exact', channel: exact.id, candidates: [], preview }
  const whole = inUnit(matchesOf(withoutUnit(label, unit)), unit)
  // "intake air [°C]": what is measured says what the name leaves out
  const named = whole.length ? whole : byUnit(withoutUnit(label, unit), unit)
  const bare = unit === '' ? bareUnit(label) : undefined
  // "coolant temp degC": taken apart where that says more than the whole
  const apart = bare && inUnit(matchesOf(bare.name), bare.unit)
  const split = apart?.[0] !== undefined && apart[0].score > (named[0]?.score ?? 0)
  const candidates = split ? apart : named
  const more = { label, at, candidates, preview, unit: split ? bare!.unit : unit }
  const [first, second] = candidates
  if (!first) return { ...more, by: 'none' }
  const sure = first.score >= SURE_SCORE && (!second || first.score - second.score >= CLOSE_SCORE)
  return sure ? { ...more, by: 'label', channel: first.channel } : { ...more, by: 'doubtful' }
}

/** A unit that stands behind a name without any mark: one word, or two that were parted by an underscore. */
function bareUnit(label: string): { readonly name: string; readonly unit: string } | undefined {
  const words = label.split(/[\s_.]+/)
  for (const n of [2, 1]) {
    const unit = words.slice(-n).join('/')
    if (words.length > n && (isUnitWord(unit, '') || /^(ms|msec)$/i.test(unit)))
      return { name: words.slice(0, -n).join(' '), unit }
  }
  return undefined
}

/** A unit of pressure that says what it stands against: "psig", "kPa abs", "bar (g)". */
const SAID_AGAINST = /^([a-z]+?)\s*[-(]?\s*(g|gauge|rel|relative|a|abs|absolute)\)?$/i
const OF_THE_MANIFOLD: readonly ChannelId[] = ['map_kpa', 'charge_kpa']
/** Share of the first rows that stand below zero where a pressure is told against the air outside. */
const BELOW_ZERO = 0.6

/** No absolute pressure ahead of a throttle is below this, on the highest pass [kPa]. */
const LEAST_CHARGE_KPA = 45

/** Whether a pressure is told against the air outside: no absolute one is below zero, and no charge below the highest pass. */
function isAgainstAir(body: readonly (readonly string[])[], at: number, id: ChannelId, unit: Unit): boolean {
  const xs = body.map((cells) => readNumber(cells[at] ?? '', true)).filter((x) => !Number.isNaN(x))
  const least = id === 'charge_kpa' ? LEAST_CHARGE_KPA : 0
  return xs.length > 0 && xs.filter((x) => x * unit.factor < least).length >= BELOW_ZERO * xs.length
}

/** One column a channel: the surest, then the fullest, then the first. */
function chosen(
  guesses: readonly ColumnGuess[],
  units: readonly string[],
  body: readonly (readonly string[])[],
): Column[] {
  const rank = { told: 3, exact: 2, label: 1, doubtful: 0, none: 0 } as const
  const filled = (at: number): number => body.filter((cells) => (cells[at] ?? '') !== '').length
  const best = new Map<ChannelId, ColumnGuess>()
  for (const g of guesses) {
    if (!g.channel) continue
    const other = best.get(g.channel)
    const surer = !other || rank[g.by] > rank[other.by]
    const fuller = other !== undefined && other.by !== 'told' && filled(g.at) > FULLER * filled(other.at)
    const better = surer || (fuller && g.by !== 'doubtful')
    if (better) best.set(g.channel, g)
  }
  return [...best.values()]
    .sort((a, b) => a.at - b.at)
    .map((g) => {
      const channel = maybeChannel(g.channel!)!
      const named = g.unit ?? unitText(g.label, units[g.at])
      const against = channel.quantity === 'pressure' ? SAID_AGAINST.exec(named) : undefined
      const unit =
        named === ''
          ? undefined
          : (unitNamed(channel.quantity, named) ?? (against ? unitNamed('pressure', against[1]) : undefined))
      const canonical = QUANTITIES[channel.quantity].units[0]
      if (
        unit &&
        OF_THE_MANIFOLD.includes(channel.id) &&
        !best.has('gauge_vacuum_kpa') &&
        (isAgainstAir(body, g.at, channel.id, unit) ||
          (!unitNamed('pressure', named) && /^[gr]/i.test(against?.[2] ?? '')))
      )
        return {
          at: g.at,
          channel: maybeChannel('gauge_vacuum_kpa')!,
          unit: { ...unit, factor: -unit.factor },
          unitAssumed: false,
          gauge: true,
        }
      return {
        at: g.at,
        channel,
        unit: unit ?? canonical,
        unitAssumed: g.by !== 'exact' && unit === undefined && canonical.symbol !== '',
      }
    })
}
