import Papa from 'papaparse'
import { fillProblem, type Fill } from './economy.js'

/** What a table of fills held: those that can be taken, those that are here already, and what is wrong with the others. */
export interface FillsTable {
  readonly fills: readonly Fill[]
  readonly known: number
  readonly refused: readonly { readonly line: number; readonly text: string; readonly why: string }[]
}

type Column = 'on' | 'odometerKm' | 'litres' | 'full'

/** How people head these columns, small. */
const HEADS: Readonly<Record<Column, RegExp>> = {
  on: /^(date|day|on|filled|datum|fecha|data)\b/,
  odometerKm: /^(odo|odometer|km|mileage|kilomet|kilom|stand)/,
  litres: /^(l|lit|liter|litre|volume|fuel|menge|litros|litri)\b|^lit/,
  full: /^(full|brim|to the brim|tank|voll)/,
}
const ORDER: readonly Column[] = ['on', 'odometerKm', 'litres', 'full']
const MOST_ROWS = 2000

/**
 * Reads fills from a table that was pasted or saved from a spreadsheet: date, odometer [km], litres, and whether to the brim,
 * in any order where the first row heads them, else in that one. Missing "full" means to the brim.
 *
 * @param here - fills that are kept already: the same are not taken twice
 * @throws RangeError naming what is wrong with the table as a whole
 */
export function readFillsTable(text: string, here: readonly Fill[]): FillsTable {
  const { data } = Papa.parse<string[]>(text.replace(/^\uFEFF/, '').trim(), { skipEmptyLines: 'greedy' })
  const rows = data.map((cells) => cells.map((c) => c.trim()))
  if (!rows.length) throw new RangeError('The table is empty: rows of date, odometer in km and litres are read.')
  if (rows.length > MOST_ROWS)
    throw new RangeError(`A table holds at most ${MOST_ROWS} fills; this one has ${rows.length}.`)
  const headed = !/\d/.test(rows[0].join(''))
  const columns = headed ? columnsOf(rows[0]) : ORDER
  for (const needed of ['on', 'odometerKm', 'litres'] as const)
    if (!columns.includes(needed))
      throw new RangeError(`No column is headed ${NEEDED[needed]}; the first row reads: ${rows[0].join(', ')}.`)
  const body = headed ? rows.slice(1) : rows
  const dayFirst = dayOrder(body.map((r) => r[columns.indexOf('on')] ?? ''))
  const fills: Fill[] = []
  const refused: FillsTable['refused'][number][] = []
  let known = 0
  body.forEach((cells, i) => {
    const cell = (c: Column): string => cells[columns.indexOf(c)] ?? ''
    const on = dayOf(cell('on'), dayFirst)
    const fill = {
      on: on ?? '',
      odometerKm: numberOf(cell('odometerKm')),
      litres: numberOf(cell('litres'), false),
      full: !/^(no|n|0|false|part|teil)/i.test(cell('full')),
    }
    if (
      here.concat(fills).some((h) => h.on === fill.on && h.odometerKm === fill.odometerKm && h.litres === fill.litres)
    ) {
      known++
      return
    }
    const why = on ? fillProblem(fill, here.concat(fills)) : dateWrong(cell('on'), dayFirst)
    if (why) refused.push({ line: i + (headed ? 2 : 1), text: cells.join(', '), why })
    else fills.push(fill)
  })
  return { fills, known, refused }
}

const NEEDED = { on: 'date', odometerKm: 'odometer or km', litres: 'litres' } as const

function columnsOf(head: readonly string[]): (Column | undefined)[] {
  return head.map((h) => (Object.keys(HEADS) as Column[]).find((c) => HEADS[c].test(h.toLowerCase())))
}

/** "48,2", "12 340", "12.340,5", "1,234.5": the last of two kinds of mark is the decimal one; one mark before
 * three digits parts thousands where there can be thousands: pumps print litres to the thousandth. */
function numberOf(text: string, thousandsBe = true): number {
  const t = text.replace(/[^\d.,-]/g, '')
  if (!t) return NaN
  const decimal = Math.max(t.lastIndexOf(','), t.lastIndexOf('.'))
  const both = t.includes(',') && t.includes('.')
  const thousands = thousandsBe && !both && (/^\d{1,3}([.,]\d{3}){2,}$/.test(t) || /^\d{1,3}[.,]\d{3}$/.test(t))
  if (decimal < 0 || thousands) return Number(t.replace(/[.,]/g, ''))
  return Number(`${t.slice(0, decimal).replace(/[.,]/g, '')}.${t.slice(decimal + 1)}`)
}

const PARTS = /^(\d{1,4})[./-](\d{1,2})[./-](\d{1,4})/

/** Whether the day stands first in dates that begin with it or the month; undefined where every one could be either. */
function dayOrder(texts: readonly string[]): boolean | undefined {
  const pairs = texts.flatMap((t) => {
    const m = PARTS.exec(t)
    return m && m[1].length <= 2 ? [{ first: Number(m[1]), second: Number(m[2]), dots: t.includes('.') }] : []
  })
  if (pairs.some((p) => p.dots || p.first > 12)) return true
  return pairs.some((p) => p.second > 12) ? false : undefined
}

function dayOf(text: string, dayFirst: boolean | undefined): string | undefined {
  const m = PARTS.exec(text)
  if (!m) return undefined
  const [a, b, c] = [Number(m[1]), Number(m[2]), Number(m[3])]
  if (m[1].length === 4) return day(a, b, c)
  const year = c < 100 ? 2000 + c : c
  if (dayFirst === undefined) return a === b ? day(year, a, b) : undefined
  return dayFirst ? day(year, b, a) : day(year, a, b)
}

function day(y: number, m: number, d: number): string | undefined {
  const at = new Date(Date.UTC(y, m - 1, d))
  return at.getUTCMonth() === m - 1 && at.getUTCDate() === d && y > 1980 && y < 2200
    ? at.toISOString().slice(0, 10)
    : undefined
}

const dateWrong = (text: string, dayFirst: boolean | undefined): string =>
  dayFirst === undefined && PARTS.test(text) && !/^\d{4}/.test(text)
    ? `"${text}" can be two days; write it as 2026-03-12.`
    : `"${text}" is no day; 2026-03-12 or 12.3.2026 is read.`
