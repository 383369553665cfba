import { connect } from 'node:net'
import { encodeFrame, FrameDecoder, type CanFrame } from '@uvula/core'
import { lookupOwn } from './own-network.js'

/** Where an adapter listens. */
export interface LinkAddress {
  readonly host: string
  readonly port: number
}

/** A way to send and receive CAN frames: what every adapter's driver offers. */
export interface FrameLink {
  send(frame: CanFrame): void
  onFrame(take: (frame: CanFrame) => void): void
  /** Called once when it is over, whoever ended it. */
  onClose(take: () => void): void
  /** Bytes that fitted no frame. */
  readonly skippedBytes: number
  close(): void
}

export type OpenLink = (address: LinkAddress) => Promise<FrameLink>

/** How long a connection may take [ms]. */
const OPEN_MS = 4000

/** The driver for an adapter that passes frames over TCP, thirteen bytes each. @throws Error when nobody answers */
export const openTcpLink: OpenLink = ({ host, port }) =>
  new Promise((resolve, reject) => {
    const socket = connect({ host, port, noDelay: true, keepAlive: true, lookup: lookupOwn })
    const decoder = new FrameDecoder()
    let take: (frame: CanFrame) => void = () => undefined
    let ended: () => void = () => undefined
    let over = false
    const late = setTimeout(() => socket.destroy(new Error('no answer in time')), OPEN_MS)
    socket.on('error', reject)
    socket.on('data', (bytes) => decoder.feed(bytes).forEach((f) => take(f)))
    socket.on('close', () => {
      clearTimeout(late)
      over = true
      ended()
    })
    socket.on('connect', () => {
      clearTimeout(late)
      resolve({
        send: (f) => void (over || socket.write(encodeFrame(f))),
        onFrame: (f) => (take = f),
        onClose: (f) => {
          ended = f
          if (over) f()
        },
        get skippedBytes() {
          return decoder.skipped
        },
        close: () => socket.destroy(),
      })
    })
  })
