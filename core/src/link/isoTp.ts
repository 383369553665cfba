/** Longest message that the twelve-bit length of a first frame can announce. Source: ISO 15765-2, 9.6. */
export const LONGEST_MESSAGE = 4095

/** "Go on, all of it, without a pause." Source: ISO 15765-2, table 12. */
export const CONTINUE = Uint8Array.of(0x30, 0, 0, 0, 0, 0, 0, 0)

/**
 * A message cut into the data of its frames: one single frame up to seven bytes, else a first frame and
 * consecutive frames numbered 1..15, 0.. Source: ISO 15765-2, 9.6.
 * @throws RangeError on an empty message or one over 4095 bytes
 */
export function segment(message: Uint8Array): Uint8Array[] {
  const n = message.length
  if (!(n >= 1 && n <= LONGEST_MESSAGE))
    throw new RangeError(`message of ${n} bytes, accepted: 1 to ${LONGEST_MESSAGE}`)
  const frame = (head: readonly number[], body: Uint8Array): Uint8Array => {
    const data = new Uint8Array(8)
    data.set(head)
    data.set(body, head.length)
    return data
  }
  if (n <= 7) return [frame([n], message)]
  const frames = [frame([0x10 | (n >> 8), n & 0xff], message.subarray(0, 6))]
  for (let at = 6, k = 1; at < n; at += 7, k++) frames.push(frame([0x20 | (k & 0xf)], message.subarray(at, at + 7)))
  return frames
}

/** What a frame brought. */
export type Received =
  | { readonly kind: 'message'; readonly message: Uint8Array }
  /** A first frame came: the sender waits for "go on". */
  | { readonly kind: 'first' }
  | { readonly kind: 'more' }
  | {
      readonly kind: 'flow'
      readonly status: 'continue' | 'wait' | 'overflow'
      readonly blockSize: number
      readonly pauseMs: number
    }
  /** A frame that does not belong: what had been put together is given up. */
  | { readonly kind: 'broken'; readonly why: string }

/** Separation time of a flow control frame [ms]. Source: ISO 15765-2, table 16. */
const pauseOf = (b: number): number => (b <= 0x7f ? b : b >= 0xf1 && b <= 0xf9 ? (b - 0xf0) / 10 : 127)

/** Puts the frames of one sender together again. */
export class Reassembler {
  private message: Uint8Array | undefined
  private filled = 0
  private next = 1

  accept(data: Uint8Array): Received {
    const type = data[0] >> 4
    if (type === 0) {
      const n = data[0] & 0xf
      this.message = undefined
      if (n < 1 || n > 7) return { kind: 'broken', why: `single frame of ${n} bytes` }
      return { kind: 'message', message: data.slice(1, 1 + n) }
    }
    if (type === 1) {
      const n = ((data[0] & 0xf) << 8) | data[1]
      if (n < 8) return { kind: 'broken', why: `first frame of ${n} bytes` }
      this.message = new Uint8Array(n)
      this.message.set(data.subarray(2))
      this.filled = 6
      this.next = 1
      return { kind: 'first' }
    }
    if (type === 2) {
      if (!this.message) return { kind: 'broken', why: 'a continuation without its beginning' }
      if ((data[0] & 0xf) !== this.next) {
        this.message = undefined
        return { kind: 'broken', why: `frame ${data[0] & 0xf} came where ${this.next} was due` }
      }
      const part = data.subarray(1, 1 + Math.min(7, this.message.length - this.filled))
      this.message.set(part, this.filled)
      this.filled += part.length
      this.next = (this.next + 1) & 0xf
      if (this.filled < this.message.length) return { kind: 'more' }
      const { message } = this
      this.message = undefined
      return { kind: 'message', message }
    }
    if (type === 3) {
      const status = (['continue', 'wait', 'overflow'] as const)[data[0] & 0xf]
      if (!status) return { kind: 'broken', why: `flow status ${data[0] & 0xf}` }
      return { kind: 'flow', status, blockSize: data[1], pauseMs: pauseOf(data[2]) }
    }
    return { kind: 'broken', why: `frame type ${type}` }
  }
}
