import { connect, type Socket } from 'node:net'
import { lookupOwn } from './own-network.js'

/** A device on the network that sends lines of JSON: gauges, a transducer. */
export class LineLink {
  private socket: Socket | undefined
  /** Why it ended, or what came that could not be used, as a sentence. */
  message: string | undefined

  /** @param what - what it is called in a sentence: "The gauges" */
  constructor(
    private readonly what: string,
    private readonly mostLine: number,
  ) {}

  get connected(): boolean {
    return this.socket !== undefined
  }

  /** @param onLine - each whole line, as it was sent; what is no JSON is told and left out */
  open(host: string, port: number, onLine: (row: unknown) => void, onEnd: () => void): void {
    const socket = connect({ host, port, lookup: lookupOwn })
    this.socket = socket
    let text = ''
    const ended = (why: string): void => {
      if (this.socket !== socket) return
      this.message = why
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
          this.message = 'A line came that is no row of figures; it was left out.'
          continue
        }
        onLine(row)
      }
    })
    socket.on('error', (e) => ended(`${this.what} at ${host}:${port} do not answer: ${e.message}.`))
    // an error has said why already
    socket.on('close', (failed) => failed || ended(`${this.what} at ${host}:${port} hung up.`))
  }

  close(): void {
    const { socket } = this
    this.socket = undefined
    this.message = undefined
    socket?.destroy()
  }
}
