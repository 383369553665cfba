import { CAN_IDS, Reassembler, SERVICE, valuesOf } from '../link/index.js'
import type { LiveRow } from '../signals/index.js'
import { textOf } from './encoding.js'

/** `(1700000000.123456) can0 7E8#0441...` and `can0  7E8   [8]  04 41 ...`, the latter with or without a time before it. */
const COMPACT = /^\s*\((\d+\.\d+)\)\s+\S+\s+([0-9A-Fa-f]{3,8})#([0-9A-Fa-f]*)/
const SPACED = /^\s*(?:\((\d+\.\d+)\)\s+)?\S+\s+([0-9A-Fa-f]{3,8})\s+\[(\d)\]\s+((?:[0-9A-Fa-f]{2}\s*)+)/

/** True when the first line that holds anything is a CAN frame. */
export function isCandump(bytes: Uint8Array): boolean {
  const first = textOf(bytes.subarray(0, 2000))
    .split('\n')
    .find((l) => l.trim() !== '')
  return first !== undefined && (COMPACT.test(first) || SPACED.test(first))
}

/** Answers to J1979 requests in a dump of a CAN bus, long ones put together. Frames without a time stand 10 ms apart. */
export function readCandump(bytes: Uint8Array): { readonly rows: LiveRow[]; readonly frames: number } {
  const senders = new Map<number, Reassembler>()
  const rows: LiveRow[] = []
  let frames = 0
  let clock = 0
  for (const line of textOf(bytes).split('\n')) {
    const m = COMPACT.exec(line) ?? SPACED.exec(line)
    if (!m) continue
    frames++
    const spaced = m.length === 5
    clock = m[1] === undefined ? clock + 0.01 : Number(m[1])
    const id = parseInt(m[2], 16)
    if (id < CAN_IDS.answer || id >= CAN_IDS.answer + CAN_IDS.controllers) continue
    const hex = (spaced ? m[4] : m[3]).replace(/\s/g, '')
    const data = new Uint8Array(8)
    data.set(Uint8Array.from(hex.match(/../g) ?? [], (x) => parseInt(x, 16)).subarray(0, 8))
    let parts = senders.get(id)
    if (!parts) senders.set(id, (parts = new Reassembler()))
    const got = parts.accept(data)
    if (got.kind !== 'message') continue
    const values = valuesOf(got.message, SERVICE.current)
    if (Object.keys(values).length) rows.push({ t: clock, values })
  }
  return { rows, frames }
}
