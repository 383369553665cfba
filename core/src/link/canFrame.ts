/** One CAN frame with an 11-bit identifier. */
export interface CanFrame {
  /** 0..0x7FF. */
  readonly id: number
  /** Eight bytes; `length` of them count. */
  readonly data: Uint8Array
  /** 1..8. */
  readonly length: number
}

/** Bytes of a frame on the wire: identifier (4, high byte first), length, eight of data. */
export const RECORD_BYTES = 13
const HIGHEST_ID = 0x7ff

/** Functional request to every controller, and physical requests and answers of eight. Source: ISO 15765-4, table 4. */
export const CAN_IDS = { everybody: 0x7df, request: 0x7e0, answer: 0x7e8, controllers: 8 } as const

/** A frame of up to eight bytes, padded. @throws RangeError on more, or on an identifier beyond 11 bits */
export function canFrame(id: number, bytes: ArrayLike<number>): CanFrame {
  if (!(id >= 0 && id <= HIGHEST_ID)) throw new RangeError(`CAN identifier ${id}, accepted: 0 to ${HIGHEST_ID}`)
  if (!(bytes.length >= 1 && bytes.length <= 8)) throw new RangeError(`${bytes.length} data bytes, accepted: 1 to 8`)
  const data = new Uint8Array(8)
  data.set(bytes)
  return { id, data, length: bytes.length }
}

/** A frame as it goes over the wire. */
export function encodeFrame(f: CanFrame): Uint8Array {
  const out = new Uint8Array(RECORD_BYTES)
  new DataView(out.buffer).setUint32(0, f.id)
  out[4] = f.length
  out.set(f.data, 5)
  return out
}

/** Cuts a byte stream into frames. Bytes that cannot begin one are skipped one at a time and counted. */
export class FrameDecoder {
  private rest = new Uint8Array(0)
  /** Bytes that belonged to no frame, since the beginning. */
  skipped = 0

  /** Takes what has arrived, gives the frames that are whole. */
  feed(bytes: Uint8Array): CanFrame[] {
    const all = new Uint8Array(this.rest.length + bytes.length)
    all.set(this.rest)
    all.set(bytes, this.rest.length)
    const frames: CanFrame[] = []
    let at = 0
    while (all.length - at >= RECORD_BYTES) {
      const id = ((all[at] << 24) | (all[at + 1] << 16) | (all[at + 2] << 8) | all[at + 3]) >>> 0
      const length = all[at + 4]
      // padding beyond the length is zero: a record out of step hardly ever looks like one
      if (
        id > HIGHEST_ID ||
        length < 1 ||
        length > 8 ||
        all.subarray(at + 5 + length, at + RECORD_BYTES).some((b) => b)
      ) {
        at++
        this.skipped++
        continue
      }
      frames.push({ id, length, data: all.slice(at + 5, at + RECORD_BYTES) })
      at += RECORD_BYTES
    }
    this.rest = all.slice(at)
    return frames
  }
}
