import { connect, type Socket } from 'node:net'
import { afterEach, describe, expect, it } from '@jest/globals'
import {
  addFault,
  CAN_IDS,
  canFrame,
  CONTINUE,
  dataByPid,
  encodeFrame,
  ENGINE_PATTERNS,
  FrameDecoder,
  HEALTHY,
  infoText,
  pidsOfMap,
  Reassembler,
  refusalOf,
  segment,
  troubleCodesOf,
  valuesOf,
  type Vehicle,
} from '@uvula/core'
import { NO_TROUBLE, parseFoot, VehicleStandIn, type StandInSetup } from './index.js'

const vehicle = (id: string): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: 'test car',
  altitudeM: 1180,
})
const faults = (spec: string, v: Vehicle): StandInSetup['faults'] => {
  const r = addFault(HEALTHY, spec, v)
  if (!r.ok) throw new Error(r.message)
  return r.faults
}

let standIn: VehicleStandIn
const sockets: Socket[] = []
afterEach(async () => {
  sockets.splice(0).forEach((s) => s.destroy())
  await standIn.close()
})

/** A client that knows bytes only. */
async function tool(
  port: number,
): Promise<{ ask: (request: number[], id?: number) => Promise<Uint8Array>; socket: Socket }> {
  const socket = connect(port, '127.0.0.1')
  sockets.push(socket)
  const decoder = new FrameDecoder()
  const parts = new Reassembler()
  let take: ((m: Uint8Array) => void) | undefined
  socket.on('data', (b) => {
    for (const f of decoder.feed(b)) {
      const got = parts.accept(f.data)
      if (got.kind === 'first') socket.write(encodeFrame(canFrame(CAN_IDS.request, CONTINUE)))
      if (got.kind === 'message') take?.(got.message)
    }
  })
  await new Promise((r) => socket.once('connect', r))
  return {
    socket,
    ask: (request, id = CAN_IDS.request) =>
      new Promise((resolve, reject) => {
        const late = setTimeout(() => reject(new Error('no answer')), 1500)
        take = (m) => {
          clearTimeout(late)
          resolve(m)
        }
        for (const data of segment(Uint8Array.from(request))) socket.write(encodeFrame(canFrame(id, data)))
      }),
  }
}

const open = async (setup: StandInSetup): ReturnType<typeof tool> => {
  standIn = new VehicleStandIn(setup)
  return tool(await standIn.listen())
}

describe('the car on its port', () => {
  it('names what it has and follows the foot in real time', async () => {
    const { ask } = await open({ vehicle: vehicle('v6-maf') })
    const maps = dataByPid(await ask([1, 0], CAN_IDS.everybody), 1)
    expect(pidsOfMap(0, maps.get(0)!)).toEqual(expect.arrayContaining([4, 5, 6, 7, 8, 9, 0x0c, 0x10, 0x20]))
    const idle = valuesOf(await ask([1, 0x0c, 0x10, 0x06, 0x07, 0x05, 0x0d]), 1)
    expect(idle.rpm).toBeGreaterThan(550)
    expect(idle.rpm).toBeLessThan(900)
    expect(idle.speed_kph).toBe(0)
    standIn.drive({ kind: 'hold', rpm: 2500 })
    await new Promise((r) => setTimeout(r, 2500))
    const held = valuesOf(await ask([1, 0x0c, 0x10]), 1)
    expect(held.rpm).toBeGreaterThan(2300)
    expect(held.rpm).toBeLessThan(2700)
    expect(held.maf_gs).toBeGreaterThan(2 * idle.maf_gs!)
    // nobody clears codes at 2500
    expect(refusalOf(await ask([4]))?.reason).toMatch(/conditions/)
  })
  it('tells its VIN over several frames, which begins as no maker’s does', async () => {
    const { ask } = await open({ vehicle: vehicle('four-maf') })
    expect(infoText(await ask([9, 2]))).toMatch(/^0[A-Z0-9]{16}$/)
  })
  it('a leak has set codes with a frame; clearing takes all but the permanent one', async () => {
    const v = vehicle('v6-maf')
    const { ask } = await open({ vehicle: v, faults: faults('unmetered-air:areaMm2=9', v) })
    const stored = troubleCodesOf(await ask([3]))
    expect(stored).toEqual(expect.arrayContaining(['P0171', 'P0174']))
    const frame = valuesOf(await ask([2, 0x07, 0]), 2)
    expect(frame.ltft1_pct).toBeGreaterThan(8)
    expect([...(await ask([4]))]).toEqual([0x44])
    expect(troubleCodesOf(await ask([3]))).toEqual([])
    expect(troubleCodesOf(await ask([0x0a]))).toEqual(stored)
    const [ltft] = Object.values(valuesOf(await ask([1, 0x07]), 1))
    expect(ltft).toBe(0)
  })
  it('an engine metered by pressure has no airflow to tell', async () => {
    const { ask } = await open({ vehicle: vehicle('four-map') })
    expect(refusalOf(await ask([1, 0x10]))?.code).toBe(0x12)
    expect(valuesOf(await ask([1, 0x0b]), 1).map_kpa).toBeGreaterThan(15)
  })
  it('a second tool is hung up on, the first goes on', async () => {
    const { ask } = await open({ vehicle: vehicle('four-maf') })
    const second = connect(standIn.port, '127.0.0.1')
    sockets.push(second)
    await new Promise((r) => second.once('close', r))
    expect(valuesOf(await ask([1, 0x0c]), 1).rpm).toBeGreaterThan(500)
  })
  it('key off: it does not turn, and starts again', async () => {
    const { ask } = await open({ vehicle: vehicle('four-maf') })
    standIn.drive({ kind: 'key-on' })
    await new Promise((r) => setTimeout(r, 1500))
    expect(valuesOf(await ask([1, 0x0c]), 1).rpm).toBe(0)
    standIn.drive({ kind: 'start' })
    await new Promise((r) => setTimeout(r, 3000))
    expect(valuesOf(await ask([1, 0x0c]), 1).rpm).toBeGreaterThan(500)
  })
  it('trouble on the link: silence, refusal', async () => {
    const { ask } = await open({ vehicle: vehicle('four-maf'), link: { ...NO_TROUBLE, silent: true } })
    await expect(ask([1, 0x0c])).rejects.toThrow('no answer')
    standIn.link = { ...NO_TROUBLE, refusing: true }
    expect(refusalOf(await ask([1, 0x0c]))?.reason).toMatch(/busy/)
  })
})

it.each([
  ['hold 1500', { kind: 'hold', rpm: 1500 }],
  [' Idle ', { kind: 'idle' }],
  ['cruise 60', { kind: 'cruise', kph: 60 }],
  ['hold 9000', undefined],
  ['idle 5', undefined],
  ['fly', undefined],
])('foot: "%s"', (text, foot) => expect(parseFoot(text)).toEqual(foot))
