import { CAN_IDS, Reassembler, SERVICE, valuesOf } from '../link/index.js'
import type { LiveRow } from '../signals/index.js'
import { textOf } from './encoding.js'

/** `(1700000000.123456) can0 7E8#0441...` and `can0  7E8   [8]  04 41 ...`, the latter with or without a time before it. */
const COMPACT = /^\s*\((\d+\.\d+)\)\s+\S+\s+([0-9A-Fa-f]{3,8})#([0-9A-Fa-f]*)/
const SPACED = /^\s*(?:\((\d+\.\d+)\)\s+)?\S+\s+([0-9A-Fa-f]{3,8})\s+\[(\d)\]\s+((?:[0-9A-Fa-f]{2}\s*)+)/

const CLOCK = String.raw`(?:\d{1,2}:\d{2}:\d{2}(?:[.,]\d+)?|\d+[.,]\d+)`
/** `1) 1059.900 Rx 07E8 8 04 41 ...` and `0.123 1 7E8x Rx d 8 04 41 ...`: a time, a diagnostic identifier, a length, its bytes. */
const LOOSE = new RegExp(
  String.raw`^\s*(?:\d+[.)]\s+)?\(?(${CLOCK})\)?[\s,;]+(?:\S+\s+){0,4}?0*(7[0-9A-F]{2}|18D[AB][0-9A-F]{4})[xh]?[\s,;]+(?:\S+\s+){0,3}?\[?([1-8])\]?[\s,;]+((?:[0-9A-F]{2}\s*){1,8})(?:\s{2}.*)?$`,
  'i',
)
/** Identifiers of answers where they take 29 bits: to the tester, from any controller. */
const ANSWER_29 = 0x18daf100

/** An answer alone behind its time, as a terminal shows it: `10:15:02.123 41 0C 0B 2D`, `[12.345] 410C0B2D`. */
const ANSWER = new RegExp(String.raw`^\s*\[?(${CLOCK})\]?[\s,;]+(41(?:\s?[0-9A-F]{2}){2,7})\s*>?\s*$`, 'i')
/** So many lines of either kind among the first make such a log; a table's cells are no such lines. */
const LEAST_LINES = 3

/** True when the first line that holds anything is a CAN frame, or the first lines hold frames or answers among others. */
export function isCandump(bytes: Uint8Array): boolean {
  const lines = textOf(bytes.subarray(0, 2000))
    .split('\n')
    .filter((l) => l.trim() !== '')
  const first = lines.at(0)
  if (first === undefined) return false
  const isOne = (l: string): boolean => LOOSE.test(l) || ANSWER.test(l)
  return COMPACT.test(first) || SPACED.test(first) || lines.filter(isOne).length >= LEAST_LINES
}

const DAY_S = 86_400
/** Frames that stand further apart than this, in the middle, are counted in milliseconds: a bus is never so still [s]. */
const STILLEST_S = 2

const bytesOf = (hex: string): Uint8Array =>
  Uint8Array.from(hex.replace(/\s/g, '').match(/../g) ?? [], (x) => parseInt(x, 16))

/** Seconds of a time as a log writes it: a clock, or a figure. */
const timeIn = (text: string): number =>
  text
    .replace(',', '.')
    .split(':')
    .reduce((sum, part) => 60 * sum + Number(part), 0)

interface Frame {
  /** Left out where the line has none [s]. */
  readonly t?: number
  /** Left out of an answer that came without a frame. */
  readonly id?: number
  readonly bytes: Uint8Array
}

function frameIn(line: string): Frame | undefined {
  const compact = COMPACT.exec(line)
  const m = compact ?? SPACED.exec(line) ?? LOOSE.exec(line)
  if (m)
    return {
      ...(m[1] === undefined ? {} : { t: timeIn(m[1]) }),
      id: parseInt(m[2], 16),
      bytes: bytesOf(compact ? m[3] : m[4]).subarray(0, 8),
    }
  const answer = ANSWER.exec(line)
  return answer ? { t: timeIn(answer[1]), bytes: bytesOf(answer[2]) } : undefined
}

const isAnswer = (id: number): boolean =>
  (id >= CAN_IDS.answer && id < CAN_IDS.answer + CAN_IDS.controllers) || (id & 0x1fffff00) === ANSWER_29

/** Answers to J1979 requests in a dump of a CAN bus, long ones put together, or as a terminal shows them. Frames without a time stand 10 ms apart. */
export function readCandump(bytes: Uint8Array): { readonly rows: LiveRow[]; readonly frames: number } {
  const senders = new Map<number, Reassembler>()
  const rows: LiveRow[] = []
  const steps: number[] = []
  let frames = 0
  let clock = 0
  for (const line of textOf(bytes).split(/\r\n?|\n/)) {
    const frame = frameIn(line)
    if (!frame) continue
    const before = clock
    // a clock may pass midnight
    clock = frame.t === undefined ? clock + 0.01 : frame.t + DAY_S * Math.max(0, Math.round((clock - frame.t) / DAY_S))
    if (frames++) steps.push(clock - before)
    const message = messageIn(frame, senders)
    const values = message && valuesOf(message, SERVICE.current)
    if (values && Object.keys(values).length) rows.push({ t: clock, values })
  }
  steps.sort((a, b) => a - b)
  const scale = (steps.at(steps.length >> 1) ?? 0) > STILLEST_S ? 1e-3 : 1
  return { rows: scale === 1 ? rows : rows.map((r) => ({ ...r, t: r.t * scale })), frames }
}

/** The whole message that a frame completes; undefined while more is to come, and of what is no answer. */
function messageIn({ id, bytes }: Frame, senders: Map<number, Reassembler>): Uint8Array | undefined {
  if (id === undefined) return bytes
  if (!isAnswer(id)) return undefined
  let parts = senders.get(id)
  if (!parts) senders.set(id, (parts = new Reassembler()))
  const data = new Uint8Array(8)
  data.set(bytes)
  const got = parts.accept(data)
  return got.kind === 'message' ? got.message : undefined
}
