import { createInterface } from 'node:readline'
import type { SimulatedFaults, Vehicle } from '@uvula/core'
import { NO_TROUBLE, parseFoot, VehicleStandIn } from '@uvula/standin'
import { CommandError } from './files.js'

/** What stands on the port. */
export interface VehicleRequest {
  readonly vehicle: Vehicle
  readonly faults: SimulatedFaults
  readonly port: number
  readonly latencyMs: number
  readonly seed: number
  readonly coolantC?: number
}

const HELP = 'off, key-on, start, idle, load, hold 2500, snap, cruise 60, pull, coast; quit'

/** Runs the stand-in and takes the driver's words from standard input. @throws CommandError when the port is taken */
export async function runVehicle(q: VehicleRequest): Promise<number> {
  const standIn = new VehicleStandIn({ ...q, link: { ...NO_TROUBLE, latencyMs: q.latencyMs } })
  const port = await standIn.listen(q.port).catch((e: NodeJS.ErrnoException) => {
    throw e.code === 'EADDRINUSE' ? new CommandError('port-taken', `--port ${q.port} is taken: name another.`) : e
  })
  process.stdout.write(`${q.vehicle.name} is at 127.0.0.1:${port}\nfoot: ${HELP}\n`)
  // a signal ends it too; closed input alone does not, so that it can stand in the background
  await new Promise<void>((resolve) => {
    process.once('SIGINT', resolve)
    process.once('SIGTERM', resolve)
    createInterface({ input: process.stdin }).on('line', (line) => {
      if (line.trim() === '') return
      if (line.trim() === 'quit') return resolve()
      const foot = parseFoot(line)
      if (foot) standIn.drive(foot)
      const { rpm, kph, stalled } = standIn.engine
      process.stdout.write(
        foot
          ? `${foot.kind}; was at ${Math.round(rpm)} rpm, ${Math.round(kph)} km/h${stalled ? ', stalled' : ''}\n`
          : `Not understood: ${HELP}\n`,
      )
    })
  })
  await standIn.close()
  process.stdin.destroy()
  return 0
}
