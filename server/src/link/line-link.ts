import { connect, type Socket } from 'node:net'
import { lookupOwn } from './own-network.js'

/** Without a line for so long a device is lost [ms]. */
export const LOST_MS = 3000

/** A device on the network that sends lines of JSON: gauges, a transducer. */
export class LineLink {
  private socket: Socket | undefined
  private at = ''
  private openedMs = 0
  private ended = false
  private heard = false
  private said: string | undefined

  /** @param what - what it is called in a sentence: "gauges" */
  constructor(
    private readonly what: string,
    private readonly mostLine: number,
  ) {}

  /**
   * Why it ended, or what came that could not be used, as a sentence. Until the device has sent a line that can be used there is
   * one answer, whether nothing is there, something hangs up or something else speaks: what else stands on the shop's network
   * is nobody's to learn by it.
   */
  get message(): string | undefined {
    if (this.heard) return this.said
    const inVain = this.socket !== undefined && (this.ended || Date.now() - this.openedMs > LOST_MS)
    return inVain
      ? `No ${this.what} can be heard at ${this.at}: see that the device is switched on, and that nothing else is connected to it.`
      : undefined
  }

  /** Says what came and cannot be used. */
  tell(message: string): void {
    this.said = message
  }

  get connected(): boolean {
    return this.socket !== undefined
  }

  /** @param onLine - each whole line, as it was sent, says whether it is the device's own; what is no JSON is told and left out */
  open(host: string, port: number, onLine: (row: unknown) => boolean, onEnd: () => void): void {
    const socket = connect({ host, port, lookup: lookupOwn })
    this.socket = socket
    this.at = `${host}:${port}`
    this.openedMs = Date.now()
    let text = ''
    const ended = (why: string): void => {
      if (this.socket !== socket) return
      this.said = why
      this.ended = true
      onEnd()
    }
    socket.setEncoding('utf8')
    socket.on('data', (part: string) => {
      const lines = (text + part).split('\n')
      text = (lines.pop() ?? '').slice(-this.mostLine)
      for (const line of lines) {
        let row: unknown
        try {
          row = JSON.parse(line)
        } catch {
          this.said = 'A line came that is no row of figures; it was left out.'
          continue
        }
        if (onLine(row)) this.heard = true
      }
    })
    // what went wrong on the line is its end, which is told
    socket.on('error', () => undefined)
    socket.on('close', () => ended(`The ${this.what} at ${this.at} hung up.`))
  }

  close(): void {
    const { socket } = this
    this.socket = undefined
    this.ended = this.heard = false
    this.said = undefined
    socket?.destroy()
  }
}
