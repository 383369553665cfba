import fc from 'fast-check'
import { describe, expect, it } from '@jest/globals'
import {
  answerRequest,
  canFrame,
  dataByPid,
  decodeMonitors,
  decodeTroubleCode,
  encodeFrame,
  encodeMonitors,
  encodeTroubleCode,
  FrameDecoder,
  infoText,
  mapOfPids,
  PIDS,
  pidsOfMap,
  Reassembler,
  refusalOf,
  segment,
  troubleCodesOf,
  valuesOf,
  type Controller,
} from './index.js'

const bytes = (hex: string): Uint8Array => Uint8Array.from(hex.split(' ').map((x) => parseInt(x, 16)))
const hex = (b: Iterable<number>): string => [...b].map((x) => x.toString(16).padStart(2, '0')).join(' ')

describe('frames on the wire', () => {
  it('identifier, length, eight data bytes', () => {
    expect(hex(encodeFrame(canFrame(0x7df, [2, 1, 0x0c])))).toBe('00 00 07 df 03 02 01 0c 00 00 00 00 00')
  })
  it.each([NaN, -1, 0x800])('identifier %s is refused', (id) => expect(() => canFrame(id, [1])).toThrow(RangeError))
  it('any cut of the stream gives the same frames', () => {
    const frame = fc.record({
      id: fc.integer({ min: 0, max: 0x7ff }),
      data: fc.uint8Array({ minLength: 1, maxLength: 8 }),
    })
    fc.assert(
      fc.property(fc.array(frame, { maxLength: 12 }), fc.integer({ min: 1, max: 30 }), (list, cut) => {
        const stream = list.flatMap((f) => [...encodeFrame(canFrame(f.id, f.data))])
        const d = new FrameDecoder()
        const out = []
        for (let i = 0; i < stream.length; i += cut) out.push(...d.feed(Uint8Array.from(stream.slice(i, i + cut))))
        expect(out.map((f) => [f.id, hex(f.data.slice(0, f.length))])).toEqual(list.map((f) => [f.id, hex(f.data)]))
        expect(d.skipped).toBe(0)
      }),
    )
  })
  it('finds its step again after rubbish, and counts it', () => {
    const d = new FrameDecoder()
    const good = encodeFrame(canFrame(0x7e8, [3, 0x41, 0x0d, 50]))
    const frames = d.feed(Uint8Array.from([0xff, 0xfe, 0x80, ...good, ...good]))
    expect(frames.map((f) => f.id)).toEqual([0x7e8, 0x7e8])
    expect(d.skipped).toBe(3)
  })
})

describe('messages over frames', () => {
  it('a VIN of twenty bytes as first and consecutive frames (the pattern of ISO 15765-2, 9.6)', () => {
    const frames = segment(Uint8Array.from({ length: 20 }, (_, i) => i + 1))
    expect(frames.map(hex)).toEqual(['10 14 01 02 03 04 05 06', '21 07 08 09 0a 0b 0c 0d', '22 0e 0f 10 11 12 13 14'])
  })
  it('round trip of every length', () => {
    fc.assert(
      fc.property(fc.uint8Array({ minLength: 1, maxLength: 4095 }), (message) => {
        const r = new Reassembler()
        const last = segment(message)
          .map((f) => r.accept(f))
          .at(-1)!
        expect(last.kind === 'message' && hex(last.message)).toBe(hex(message))
      }),
      { numRuns: 40 },
    )
  })
  it('a lost frame gives the message up and says why; the next message is whole again', () => {
    const r = new Reassembler()
    const frames = segment(new Uint8Array(30).fill(7))
    r.accept(frames[0])
    expect(r.accept(frames[2])).toMatchObject({ kind: 'broken', why: 'frame 2 came where 1 was due' })
    expect(r.accept(bytes('02 01 0c 00 00 00 00 00'))).toMatchObject({ kind: 'message' })
  })
  it('flow control: status, block size and pause', () => {
    const r = new Reassembler()
    expect(r.accept(bytes('31 08 f5 00 00 00 00 00'))).toEqual({
      kind: 'flow',
      status: 'wait',
      blockSize: 8,
      pauseMs: 0.5,
    })
    expect(r.accept(bytes('3f 00 00 00 00 00 00 00')).kind).toBe('broken')
    expect(r.accept(bytes('00 00 00 00 00 00 00 00')).kind).toBe('broken')
  })
  it.each([0, 4096])('a message of %s bytes is refused', (n) =>
    expect(() => segment(new Uint8Array(n))).toThrow(RangeError),
  )
})

describe('parameters', () => {
  // worked examples of the scaling in SAE J1979, appendix B, computed by hand
  it.each([
    ['41 0c 1a f8', { rpm: 1726 }],
    ['41 05 7b', { ect_c: 83 }],
    ['41 06 8a 07 73', { stft1_pct: 7.8125, ltft1_pct: -10.15625 }],
    ['41 10 01 2c', { maf_gs: 3 }],
    ['41 0b 23 0f 3c', { map_kpa: 35, iat_c: 20 }],
    ['41 0e 94', { spark_deg: 10 }],
    ['41 44 80 00', { lambda_cmd: 1 }],
    ['41 24 70 00 20 00 0d 32', { lambda1: 0.875, speed_kph: 50 }],
    ['41 34 70 00 80 00 38 90 00 80 00', { lambda1: 0.875, lambda2: 1.125 }],
    ['41 03 02 00', { fuel_status: 1 }],
    ['41 03 04 00', { fuel_status: 0 }],
    ['41 42 36 b0', { battery_v: 14 }],
    ['41 70 02 00 00 0c 80 00 00 00 00 00', { charge_kpa: 100 }],
    ['41 70 01 0c 80 0c 80 00 00 00 00 00', {}],
  ])('%s', (message, values) => expect(valuesOf(bytes(message), 1)).toEqual(values))
  it('what is encoded comes back within half a step', () => {
    for (const row of PIDS) {
      const x =
        row.channel === 'fuel_status' ? 1 : row.channel === 'lambda_cmd' || row.channel.startsWith('lambda') ? 0.9 : 12
      const back = row.decode(Uint8Array.from(row.encode(x)))!
      expect([row.channel, Math.abs(back - x) < 0.5]).toEqual([row.channel, true])
      expect(row.encode(x)).toHaveLength(row.bytes)
    }
  })
  it('an unknown parameter ends the reading: its length is not known', () => {
    expect([...dataByPid(bytes('41 0d 32 99 01 02'), 1).keys()]).toEqual([0x0d])
    expect([...dataByPid(bytes('41 0c 1a'), 1).keys()]).toEqual([])
  })
  it('maps: the highest bit is the first parameter, the last says that more follow', () => {
    expect(pidsOfMap(0, bytes('88 18 80 13'))).toEqual([1, 5, 12, 13, 17, 28, 31, 32])
    expect(hex(mapOfPids(0, [1, 5, 12, 13, 17, 28, 31, 0x42]))).toBe('88 18 80 13')
  })
})

describe('codes and readiness', () => {
  it.each([
    ['P0171', '01 71'],
    ['C0035', '40 35'],
    ['B1A2F', '9a 2f'],
    ['U0100', 'c1 00'],
    ['P2187', '21 87'],
  ])('%s is %s', (code, wire) => {
    expect(hex(encodeTroubleCode(code))).toBe(wire)
    expect(decodeTroubleCode(...encodeTroubleCode(code))).toBe(code)
  })
  it('refuses what is no code', () => expect(() => encodeTroubleCode('P9171')).toThrow(RangeError))
  it('reads a list by its count', () =>
    expect(troubleCodesOf(bytes('43 02 01 71 01 74 00 00'))).toEqual(['P0171', 'P0174']))
  it('lamp on, two codes, catalyst and vapour system still to run', () => {
    const s = decodeMonitors(bytes('82 07 65 05'))
    expect(s).toMatchObject({ lamp: true, codes: 2, compressionIgnition: false })
    expect(s.monitors.filter((m) => !m.complete).map((m) => m.id)).toEqual(['catalyst', 'evaporative'])
    expect(decodeMonitors(encodeMonitors(s))).toEqual(s)
  })
  it('says why it was refused', () => {
    expect(refusalOf(bytes('7f 04 22'))?.reason).toMatch(/conditions/)
    expect(refusalOf(bytes('41 0c 00 00'))).toBeUndefined()
  })
})

describe('a controller’s answers', () => {
  let cleared = 0
  const c: Controller = {
    values: { rpm: 700, ect_c: 90, battery_v: 14.1 },
    monitors: { lamp: false, codes: 0, compressionIgnition: false, monitors: [{ id: 'fuel', complete: true }] },
    stored: ['P0171'],
    pending: [],
    permanent: [],
    frame: { code: 'P0171', values: { rpm: 690 } },
    vin: '0UVULASTAND000001',
    clear: () => ++cleared > 1,
  }
  const ask = (request: string, everybody = false): Uint8Array | undefined =>
    answerRequest(bytes(request), c, everybody)
  it('leaves out what it does not have', () =>
    expect(valuesOf(ask('01 0c 05 10')!, 1)).toEqual({ rpm: 700, ect_c: 90 }))
  it('refuses or keeps silent', () => {
    expect(refusalOf(ask('01 10')!)?.code).toBe(0x12)
    expect(ask('01 10', true)).toBeUndefined()
    expect(refusalOf(ask('22 f1 90')!)?.code).toBe(0x11)
    expect(refusalOf(ask('01 04 05 06 07 08 09 0a')!)?.code).toBe(0x13)
  })
  it('a map names exactly what it answers', () => {
    const map = dataByPid(ask('01 00')!, 1).get(0)!
    expect(pidsOfMap(0, map)).toEqual([1, 5, 12, 32])
    expect(pidsOfMap(0x20, dataByPid(ask('01 20')!, 1).get(0x20)!)).toEqual([0x40])
    expect(pidsOfMap(0x40, dataByPid(ask('01 40')!, 1).get(0x40)!)).toEqual([0x42])
  })
  it('keeps the frame of the code that set it', () => {
    expect(valuesOf(ask('02 0c 00')!, 2)).toEqual({ rpm: 690 })
    expect(hex(ask('02 02 00')!)).toBe('42 02 00 01 71')
  })
  it('clears when it will, and refuses with its condition', () => {
    expect(refusalOf(ask('04')!)?.code).toBe(0x22)
    expect(hex(ask('04')!)).toBe('44')
  })
  it('tells its VIN', () => expect(infoText(ask('09 02')!)).toBe('0UVULASTAND000001'))
})
