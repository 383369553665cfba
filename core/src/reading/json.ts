import Papa from 'papaparse'
import { textOf } from './encoding.js'

/** A longer text is not rewritten [bytes]. */
const MOST = 64 << 20
/** How deep values are looked for below one moment's object. */
const DEEPEST = 3

type Json = Readonly<Record<string, unknown>>
const isObject = (x: unknown): x is Json => typeof x === 'object' && x !== null && !Array.isArray(x)
const isList = (x: unknown): x is readonly Json[] => Array.isArray(x) && x.length > 0 && x.every(isObject)

/** Names of what only holds figures: they say nothing of them. */
const HOLDERS = /^(values?|data|readings?|channels?|signals?|pids?|sensors?|measurements?|samples?|live)$/i

/** One moment's figures by name; a value that names its unit takes it along. */
function flat(x: Json, into: Record<string, unknown>, before = '', depth = 0): Record<string, unknown> {
  for (const [key, value] of Object.entries(x)) {
    const name = before ? `${before} ${key}` : key
    const inside = HOLDERS.test(key) ? before : name
    if (!isObject(value)) into[name] = Array.isArray(value) ? '' : value
    else if ('value' in value && !isObject(value.value))
      into[typeof value.unit === 'string' ? `${name} [${value.unit}]` : name] = value.value
    else if (depth < DEEPEST) flat(value, into, inside, depth + 1)
  }
  return into
}

const NAMED = /^(name|label|channel|parameter|signal|pid|id)$/i
const TIMES = /^(t|time|timestamp|ts|x)$/i
const FIGURES = /^(v|value|val|y)$/i

/** One channel's name and its samples, each a time and a figure; undefined of anything else. */
function seriesOf(x: Json): readonly Json[] | undefined {
  const entries = Object.entries(x)
  const parameter = entries.find(([key, value]) => NAMED.test(key) && typeof value === 'string')?.[1]
  const unit = typeof x.unit === 'string' ? x.unit : ''
  const samples = entries.find(([, value]) => Array.isArray(value) && value.length > 1)?.[1] as unknown[] | undefined
  if (parameter === undefined || !samples) return undefined
  const out = samples.flatMap((y) => {
    const pair = Array.isArray(y)
      ? y
      : isObject(y)
        ? [TIMES, FIGURES].map((names) => Object.entries(y).find(([key]) => names.test(key))?.[1])
        : []
    return pair.length === 2 && pair[0] !== undefined ? [{ time: pair[0], parameter, value: pair[1], unit }] : []
  })
  return out.length === samples.length ? out : undefined
}

/** The moments of a parsed text: a list, a list under some name, lists side by side, or each channel's samples one after the other; the longest there is. */
function momentsOf(x: unknown, depth = 0): readonly Json[] | undefined {
  if (isList(x)) {
    const series = x.map(seriesOf)
    return series.every((s) => s !== undefined) ? series.flat() : x
  }
  if (!isObject(x) || depth > DEEPEST) return undefined
  const lists = Object.entries(x).filter((e): e is [string, readonly unknown[]] => Array.isArray(e[1]) && !isList(e[1]))
  const rows = Math.max(0, ...lists.map(([, xs]) => xs.length))
  if (lists.length > 1 && rows > 1)
    return Array.from({ length: rows }, (_, i) => Object.fromEntries(lists.map(([key, xs]) => [key, xs[i]])))
  const below = Object.values(x).flatMap((y) => {
    const found = momentsOf(y, depth + 1)
    return found ? [found] : []
  })
  return below.sort((a, b) => b.length - a.length).at(0)
}

function parsed(text: string): unknown {
  try {
    return JSON.parse(text)
  } catch {
    // one object a line; a last one that breaks off is left out
    const lines = text.split('\n').filter((l) => l.trim() !== '')
    const out: unknown[] = []
    for (const [i, line] of lines.entries())
      try {
        out.push(JSON.parse(line))
      } catch {
        if (i < lines.length - 1) return undefined
      }
    return out
  }
}

/** A recording written as JSON, or as one object a line, as a table; undefined where it is none. */
export function fromJson(utf8: Uint8Array): Uint8Array | undefined {
  if (utf8.length > MOST || !/^\s*(\[\s*[[{]|\{\s*")/.test(textOf(utf8.subarray(0, 64)))) return undefined
  const moments = momentsOf(parsed(textOf(utf8)))
  if (!moments) return undefined
  const rows = moments.map((x) => flat(x, {}))
  const fields = [...new Set(rows.flatMap((r) => Object.keys(r)))]
  return new TextEncoder().encode(Papa.unparse({ fields, data: rows.map((r) => fields.map((k) => r[k] ?? '')) }))
}
