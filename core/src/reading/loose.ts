import Papa from 'papaparse'
import { textOf } from './encoding.js'
import type { Layout } from './sniff.js'

/** Lines by which columns parted by spaces are known. */
const LOOKED_AT = 40
/** Share of them that must have one number of cells. */
const ALIKE = 0.6
/** Columns below which spaces part words and not figures. */
const LEAST_CELLS = 3
/** A longer text is not rewritten [bytes]. */
const MOST = 64 << 20

/** Columns stand apart by two spaces or more, or by any where names are one word each. */
const APART = [/ {2,}|\t+/, /[ \t]+/] as const

/** A table whose columns are parted by spaces, with tabs in their place; undefined where it is none. */
export function withTabs(utf8: Uint8Array): Uint8Array | undefined {
  if (utf8.length > MOST) return undefined
  const lines = textOf(utf8).split(/\r?\n/)
  const first = lines.filter((l) => l.trim() !== '').slice(0, LOOKED_AT)
  for (const apart of APART) {
    const counts = first.map((l) => l.trim().split(apart).length)
    const usual = mostCommon(counts)
    if (usual < LEAST_CELLS || counts.filter((n) => n === usual).length < ALIKE * counts.length) continue
    return new TextEncoder().encode(lines.map((l) => l.trim().split(apart).join('\t')).join('\n'))
  }
  return undefined
}

/** A figure behind its name, quoted or not: `rpm=712`, `maf = "2.51"`; a comma within it is its decimal mark. */
const PAIR = /([\p{L}_][\p{L}\d_.]*)\s*=\s*(?:"([^"]*)"|([^\s;"<>]+?)(?=,?(?:[\s;"<>]|$)|,[\p{L}_][\p{L}\d_.]*\s*=))/gu

/** Lines that name each of their figures, as a table; what stands ahead of the first name is the time where none is named. Undefined of anything else. */
export function fromPairs(utf8: Uint8Array): Uint8Array | undefined {
  if (utf8.length > MOST) return undefined
  const lines = textOf(utf8)
    .split(/\r\n?|\n/)
    .filter((l) => l.trim() !== '')
  const isPaired = (line: string): boolean => [...line.matchAll(PAIR)].length >= LEAST_CELLS
  const first = lines.slice(0, LOOKED_AT)
  if (first.filter(isPaired).length < ALIKE * first.length) return undefined
  const data = lines.filter(isPaired).map((line) => {
    const pairs = [...line.matchAll(PAIR)]
    const ahead = line.slice(0, pairs[0].index).trim()
    return {
      ...(ahead && !ahead.startsWith('<') ? { time: ahead.replace(/[\s,;:[\]]+$/, '').replace(/^\[/, '') } : {}),
      ...Object.fromEntries(pairs.map((m) => [m[1], m[2] ?? m[3].replace(/\/$/, '')])),
    } as Readonly<Record<string, string>>
  })
  const fields = [...new Set(data.flatMap((row) => Object.keys(row)))]
  return new TextEncoder().encode(Papa.unparse({ fields, data: data.map((row) => fields.map((k) => row[k] ?? '')) }))
}

function mostCommon(counts: readonly number[]): number {
  const seen = new Map<number, number>()
  for (const n of counts) seen.set(n, (seen.get(n) ?? 0) + 1)
  return [...seen].sort((a, b) => b[1] - a[1])[0]?.[0] ?? 0
}

const NUMBER = String.raw`(\d+(?:[.,]\d+)?)`
/** Time between two rows, as lines above a header tell it: an interval, or how many a second. */
const INTERVAL = new RegExp(
  String.raw`(?:interval|period|step|every|each|abtast\w*|intervalle?|periode?|intervallo|odst[ęe]p)\D{0,20}?${NUMBER}\s*(ms|msec|milliseconds?|s|sec|seconds?|sekunden?)\b`,
  'i',
)
const RATE = new RegExp(
  String.raw`(?:rate|frequency|freq|sampling|samples|frequenz|fr[ée]quence|frecuencia|frequenza)\D{0,20}?${NUMBER}\s*(k?hz|/ ?s|per second|samples?/s)`,
  'i',
)
const LONGEST_S = 60

/** How far apart the rows stand, as the lines before the header say; undefined where none does. */
export function intervalAbove(utf8: Uint8Array, layout: Layout): number | undefined {
  const above = textOf(utf8.subarray(0, layout.bodyAt))
    .split('\n')
    .slice(0, layout.bodyLine - 1)
  const figure = (text: string): number => Number(text.replace(',', '.'))
  for (const line of above) {
    const interval = INTERVAL.exec(line)
    const rate = interval ? undefined : RATE.exec(line)
    const seconds = interval
      ? figure(interval[1]) / (/^m/i.test(interval[2]) ? 1000 : 1)
      : rate
        ? 1 / (figure(rate[1]) * (/^k/i.test(rate[2]) ? 1000 : 1))
        : NaN
    if (seconds > 0 && seconds <= LONGEST_S) return seconds
  }
  return undefined
}

/** The same table with a time in front of every row, so many seconds apart. */
export function withTimes(
  utf8: Uint8Array,
  { header, guesses, delimiter, bodyAt }: Layout,
  seconds: number,
): Uint8Array {
  const quoted = (text: string): string => (text.includes(delimiter) ? `"${text.replaceAll('"', '""')}"` : text)
  // a unit that stood in a row of its own goes with its name
  const names = header.map((label, i) => {
    const unit = guesses[i]?.unit ?? ''
    return quoted(unit === '' || label.includes(unit) ? label : `${label} [${unit}]`)
  })
  const rows = textOf(utf8.subarray(bodyAt))
    .split('\n')
    .filter((l) => l.trim() !== '')
    .map((l, i) => `${(i * seconds).toFixed(3)}${delimiter}${l}`)
  return new TextEncoder().encode([['time_s', ...names].join(delimiter), ...rows].join('\n'))
}
