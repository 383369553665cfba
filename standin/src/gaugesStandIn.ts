import { createServer, type AddressInfo, type Server, type Socket } from 'node:net'
import { SimulatedThrottles, type ThrottleSpeed, type Vehicle } from '@uvula/core'

/** Rows a second that the gauges send [ms]. */
const EVERY_MS = 100

/**
 * A box of vacuum gauges on a local TCP port, one hose a throttle: ten lines a second of JSON,
 * {"t": seconds, "vacuum_kpa": [throttle 1, 2 …]}. Behind it stands a simulated row of throttles.
 */
export class GaugesStandIn {
  readonly row: SimulatedThrottles
  speed: ThrottleSpeed = 'hold-2500'
  private readonly server: Server
  private readonly clients = new Set<Socket>()
  private timer: NodeJS.Timeout | undefined
  private began = 0

  constructor(vehicle: Vehicle, seed: number) {
    this.row = new SimulatedThrottles(vehicle, seed)
    this.server = createServer({ noDelay: true }, (socket) => {
      this.clients.add(socket)
      socket.on('error', () => socket.destroy())
      socket.on('close', () => this.clients.delete(socket))
    })
  }

  /** Listens on 127.0.0.1 and begins to send. @returns the port */
  async listen(port = 0): Promise<number> {
    await new Promise<void>((resolve, reject) => {
      this.server.once('error', reject)
      this.server.listen(port, '127.0.0.1', resolve)
    })
    this.began = performance.now()
    this.timer = setInterval(() => this.send(), EVERY_MS)
    return (this.server.address() as AddressInfo).port
  }

  private send(): void {
    const line = JSON.stringify({
      t: Number(((performance.now() - this.began) / 1000).toFixed(2)),
      vacuum_kpa: this.row.vacuumKpa(this.speed).map((x) => Number(x.toFixed(2))),
    })
    for (const c of this.clients) c.write(line + '\n')
  }

  async close(): Promise<void> {
    clearInterval(this.timer)
    for (const c of this.clients) c.destroy()
    if (this.server.listening) await new Promise((r) => this.server.close(r))
  }
}
