import { createServer, type AddressInfo, type Server, type Socket } from 'node:net'
import { drivenEngine, PulseLayer, type SimulatedFaults, type Vehicle, type Waveform } from '@uvula/core'

/** A line so often [ms]; samples a second. */
const EVERY_MS = 100
const SAMPLE_HZ = 5000
/** The engine is recorded so far ahead, then from the beginning once more [s]. */
const AHEAD_S = 15
/** What the transducer gives: volts of absolute pressure, V = 0.5 + kPa/30; its own offset nobody knows. */
const volts = (kpa: number, off: number): number => 0.5 + off + kpa / 30

const HEAD = JSON.stringify({ sample_hz: SAMPLE_HZ, unit: 'V' }) + '\n'

/** What hangs at its hose. */
export type HoseEnd = 'engine' | 'open' | 'pump'

/**
 * A pressure transducer with a clamp on the lead of cylinder 1, on a local TCP port: a first line
 * {"sample_hz":5000,"unit":"V"}, then ten lines a second {"pressure":[…],"trigger":[…]}. Behind it an engine idles; its hose can
 * hang open, or at a hand pump, to calibrate it; then the first line comes once more.
 */
export class TransducerStandIn {
  private end: HoseEnd = 'engine'
  private readonly server: Server
  private readonly clients = new Set<Socket>()
  private readonly wave: Waveform
  private readonly ambientKpa: number
  private timer: NodeJS.Timeout | undefined
  private at = 0

  /** @param pumpKpa - vacuum that the hand pump holds [kPa] */
  constructor(
    vehicle: Vehicle,
    faults: SimulatedFaults,
    private readonly seed: number,
    ambientKpa: number,
    private readonly pumpKpa = 40,
  ) {
    this.ambientKpa = ambientKpa
    this.wave = new PulseLayer(drivenEngine({ vehicle, faults, seed })).record({
      seconds: AHEAD_S,
      sampleHz: SAMPLE_HZ,
      hoseM: 0.3,
    })
    this.server = createServer({ noDelay: true }, (socket) => {
      this.clients.add(socket)
      socket.on('error', () => socket.destroy())
      socket.on('close', () => this.clients.delete(socket))
      socket.write(HEAD)
    })
  }

  get hose(): HoseEnd {
    return this.end
  }

  /** Hangs the hose elsewhere; the first line comes once more, for what follows is another pressure. */
  hang(end: HoseEnd): void {
    this.end = end
    for (const c of this.clients) c.write(HEAD)
  }

  /** Listens on 127.0.0.1 and begins to send. @returns the port */
  async listen(port = 0): Promise<number> {
    await new Promise<void>((resolve, reject) => {
      this.server.once('error', reject)
      this.server.listen(port, '127.0.0.1', resolve)
    })
    this.timer = setInterval(() => this.send(), EVERY_MS)
    return (this.server.address() as AddressInfo).port
  }

  private send(): void {
    const n = (SAMPLE_HZ * EVERY_MS) / 1000
    const off = ((this.seed % 9) - 4) * 0.02
    const still = this.end === 'open' ? this.ambientKpa : this.ambientKpa - this.pumpKpa
    const of = (i: number): number => (this.end === 'engine' ? this.wave.pressurePa[i] / 1000 : still)
    if (this.at + n > this.wave.pressurePa.length) this.at = 0
    const rows = Array.from({ length: n }, (_, k) => this.at + k)
    this.at += n
    const line = JSON.stringify({
      pressure: rows.map((i) => Number(volts(of(i), off).toFixed(4))),
      trigger: rows.map((i) => (this.end === 'engine' ? this.wave.trigger[i] : 0)),
    })
    for (const c of this.clients) c.write(line + '\n')
  }

  async close(): Promise<void> {
    clearInterval(this.timer)
    for (const c of this.clients) c.destroy()
    if (this.server.listening) await new Promise((r) => this.server.close(r))
  }
}
