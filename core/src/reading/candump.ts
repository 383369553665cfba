import { CAN_IDS, Reassembler, SERVICE, valuesOf } from '../link/index.js'
import type { LiveRow } from '../signals/index.js'
import { textOf } from './encoding.js'

/** `(1700000000.123456) can0 7E8#0441...` and `can0  7E8   [8]  04 41 ...`, the latter with or without a time before it. */
const COMPACT = /^\s*\((\d+\.\d+)\)\s+\S+\s+([0-9A-Fa-f]{3,8})#([0-9A-Fa-f]*)/
const SPACED = /^\s*(?:\((\d+\.\d+)\)\s+)?\S+\s+([0-9A-Fa-f]{3,8})\s+\[(\d)\]\s+((?:[0-9A-Fa-f]{2}\s*)+)/

/** An answer alone behind its time, as a terminal shows it: `10:15:02.123 41 0C 0B 2D`, `[12.345] 410C0B2D`. */
const ANSWER =
  /^\s*\[?(?:(\d{1,2}):(\d{2}):(\d{2}(?:[.,]\d+)?)|(\d+[.,]\d+))\]?[\s,;]+(41(?:\s?[0-9A-Fa-f]{2}){2,7})\s*>?\s*$/
/** So many such answers among the first lines make a terminal's log; a table's cells are no such lines. */
const LEAST_ANSWERS = 3

/** True when the first line that holds anything is a CAN frame, or the first lines hold answers as a terminal shows them. */
export function isCandump(bytes: Uint8Array): boolean {
  const lines = textOf(bytes.subarray(0, 2000))
    .split('\n')
    .filter((l) => l.trim() !== '')
  const first = lines.at(0)
  if (first === undefined) return false
  return COMPACT.test(first) || SPACED.test(first) || lines.filter((l) => ANSWER.test(l)).length >= LEAST_ANSWERS
}

const DAY_S = 86_400
const bytesOf = (hex: string): Uint8Array =>
  Uint8Array.from(hex.replace(/\s/g, '').match(/../g) ?? [], (x) => parseInt(x, 16))

/** A terminal's answer with its time [s]; undefined of any other line. */
function answerIn(line: string): { readonly t: number; readonly message: Uint8Array } | undefined {
  const m = ANSWER.exec(line)
  if (!m) return undefined
  const seconds = (text: string): number => Number(text.replace(',', '.'))
  const t = m[4] === undefined ? 3600 * Number(m[1]) + 60 * Number(m[2]) + seconds(m[3]) : seconds(m[4])
  return { t, message: bytesOf(m[5]) }
}

/** Answers to J1979 requests in a dump of a CAN bus, long ones put together. Frames without a time stand 10 ms apart. */
export function readCandump(bytes: Uint8Array): { readonly rows: LiveRow[]; readonly frames: number } {
  const senders = new Map<number, Reassembler>()
  const rows: LiveRow[] = []
  let frames = 0
  let clock = 0
  const add = (t: number, message: Uint8Array): void => {
    const values = valuesOf(message, SERVICE.current)
    if (Object.keys(values).length) rows.push({ t, values })
  }
  for (const line of textOf(bytes).split(/\r\n?|\n/)) {
    const m = COMPACT.exec(line) ?? SPACED.exec(line)
    const answer = m ? undefined : answerIn(line)
    if (answer) {
      frames++
      // its clock may pass midnight
      clock = answer.t + DAY_S * Math.max(0, Math.round((clock - answer.t) / DAY_S))
      add(clock, answer.message)
    }
    if (!m) continue
    frames++
    const spaced = m.length === 5
    clock = m[1] === undefined ? clock + 0.01 : Number(m[1])
    const id = parseInt(m[2], 16)
    if (id < CAN_IDS.answer || id >= CAN_IDS.answer + CAN_IDS.controllers) continue
    const data = new Uint8Array(8)
    data.set(bytesOf(spaced ? m[4] : m[3]).subarray(0, 8))
    let parts = senders.get(id)
    if (!parts) senders.set(id, (parts = new Reassembler()))
    const got = parts.accept(data)
    if (got.kind === 'message') add(clock, got.message)
  }
  return { rows, frames }
}
