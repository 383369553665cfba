import { describe, expect, it } from '@jest/globals'
import { diagnoseVisit } from './evidence.js'
import { nowAct } from './now/index.js'
import { sheetOf } from './sheet/sheet.js'
import { afterTick, afterWorkOf, monitorsOf, readinessWiped } from './afterWork.js'
import { whoseCode, whoseSaid } from './codes.js'
import { feltTick } from './felt.js'
import type { ItemRecord } from './itemRecords.js'
import type { CodeRecord, TickRecord, TimerRecord, VisitFile } from './records.js'
import { at, fed, idleOf, repairAt, stepAt, visitOf } from './remedies.fixture.js'
import { leftLines } from './sheet/left.js'

const meta = (id: string, minutes: number) => ({ id, version: 1, by: 'R', at: at(minutes), visitId: 'v' })
const item = (part: Partial<ItemRecord>): ItemRecord => ({
  ...meta(`i-${part.name}`, 5),
  station: 'duct',
  name: 'duct clamp',
  count: 1,
  arrival: 'present',
  state: 'on',
  ...part,
})
const tick = (id: string, minutes: number): TickRecord => ({
  ...meta(`t${id}${minutes}`, minutes),
  caution: afterTick(id),
})
const code = (c: string, when: CodeRecord['when'], part: Partial<CodeRecord> = {}): CodeRecord => ({
  ...meta(`c${c}${when}`, 30),
  code: c,
  state: 'stored',
  when,
  cleared: false,
  ...part,
})
const batteryOff: TimerRecord = {
  ...meta('b', 6),
  label: 'battery off',
  kind: 'battery-off',
  startedAt: at(6),
  seconds: 900,
  ended: true,
}
const ids = (f: VisitFile): string[] => afterWorkOf(f).map((a) => a.id)

describe('after the work', () => {
  it('nothing was opened or done: nothing is owed', () => expect(afterWorkOf(visitOf())).toEqual([]))
  it('a clamp: cranked, watched, looked for leaks, codes read; no coolant, no oil, no battery', () =>
    expect(ids(visitOf({ items: [item({})] }))).toEqual(['crank', 'first-minute', 'leaks', 'codes']))
  it('each thing that was opened brings its own act, in its order', () => {
    const f = visitOf({
      items: [
        item({ name: 'throttle', station: 'throttle', more: { kind: 'part', pieces: [] } }),
        item({ name: 'hose', more: { kind: 'hose', pieces: [], carries: 'coolant' } }),
        item({ name: 'rail', more: { kind: 'part', pieces: [], carries: 'fuel' } }),
      ],
      timers: [batteryOff],
    })
    expect(ids(f)).toEqual([
      'battery-on',
      'coolant',
      'key-on',
      'fuel-pressure',
      'crank',
      'first-minute',
      'leaks',
      'codes',
      'codes-after-drive',
    ])
    expect(afterWorkOf(f).find((a) => a.id === 'leaks')?.say).toMatch(/coolant, fuel$/)
    expect(afterWorkOf(f).find((a) => a.id === 'battery-on')?.why).not.toMatch(/exhaust gas valve/)
  })
  it('a feed: oil looked at, first crank with the pedal down; without a controller no codes and no flood clearing', () => {
    expect(ids(visitOf({ runs: [fed()] }))).toEqual(expect.arrayContaining(['oil', 'clear-flood']))
    const old = visitOf(
      { items: [item({})] },
      { injection: 'carburettor', throttle: 'cable', idleControl: 'none', metering: 'none' },
    )
    expect(ids(old)).not.toContain('codes')
  })
  it('a tick from before the last work does not stand for what came after it', () => {
    const f = visitOf({ items: [item({})], ticks: [tick('leaks', 8)] })
    expect(afterWorkOf(f).find((a) => a.id === 'leaks')?.done).toBe(true)
    const more = { ...f, repairs: [{ ...repairAt('duct', 0), at: at(20) }] }
    expect(afterWorkOf(more).find((a) => a.id === 'leaks')?.done).toBe(false)
  })
})

describe('whose a code is', () => {
  const cleaned = visitOf({ steps: [stepAt({ station: 'throttle' })], codes: [code('P0171', 'before')] })
  it('ours only where something done here can set it', () => {
    expect(whoseCode(cleaned, code('P0507', 'after')).whose).toBe('ours')
    expect(whoseCode(visitOf(), code('P0507', 'after')).whose).toBe('finding')
    expect(whoseCode(cleaned, code('P0172', 'after')).whose).toBe('finding')
    expect(whoseCode(visitOf({ runs: [fed()] }), code('P0172', 'after')).whose).toBe('ours')
    expect(whoseCode(visitOf({ timers: [batteryOff] }), code('P0562', 'after')).whose).toBe('ours')
  })
  it('what was there before is not ours afterwards', () => {
    expect(whoseSaid(cleaned, code('P0171', 'after'))).toBe('was there before: not ours')
    expect(whoseSaid(cleaned, code('P0171', 'before'))).toMatch(/lean/)
    expect(whoseSaid(cleaned, code('P0420', 'after-drive'))).toBe('not ours: a finding')
  })
})

it('readiness goes with the battery and with clearing, and names what this engine has', () => {
  expect(readinessWiped(visitOf())).toBe(false)
  expect(readinessWiped(visitOf({ codes: [code('P0171', 'before', { cleared: true })] }))).toBe(true)
  expect(readinessWiped(visitOf({ timers: [batteryOff] }))).toBe(true)
  expect(monitorsOf(visitOf({}, { egr: 'valve', purge: false })).map((m) => m.id)).toEqual([
    'oxygen',
    'catalyst',
    'egr',
  ])
  expect(monitorsOf(visitOf({}, { fuel: 'diesel', injection: 'direct' })).map((m) => m.id)).toEqual([
    'egr-flow',
    'filter',
  ])
  expect(monitorsOf(visitOf({}, { injection: 'carburettor' }))).toEqual([])
})

it('a code that came after the work and is none of it stands as left, until a drive or clearing says more', () => {
  const left = (codes: CodeRecord[]): string[] =>
    leftLines(visitOf({ codes, items: [item({})] })).filter((l) => l.startsWith('Code'))
  expect(left([code('P0420', 'after')])).toEqual([
    'Code P0420, read after the work, is not of this work: a finding, still open.',
  ])
  expect(left([code('P0420', 'after', { cleared: true })])).toEqual([])
  expect(left([code('P0420', 'after'), code('P0420', 'after-drive')])).toEqual([
    'Code P0420, read after the drive, is not of this work: a finding, still open.',
  ])
  expect(left([code('P0420', 'before')])).toEqual([
    'Code P0420, which it came with, has not been cleared here: its lamp can stay on.',
  ])
  expect(left([code('P0420', 'before', { cleared: true })])).toEqual([])
  expect(left([code('P0171', 'before', { cleared: true }), code('P0171', 'after-drive')])).toEqual([
    'Code P0171, cleared here, was read after the drive again: what sets it is still there.',
  ])
})

it('a code that still stands is told to the technician and to the customer', () => {
  const f = visitOf({
    readings: [...idleOf(0, { trim: 24 }), ...idleOf(1)],
    repairs: [repairAt('booster', 0)],
    codes: [code('P0420', 'after-drive')],
    ticks: [{ ...meta('gone', 20), caution: feltTick('idle-hunts', 'gone', 1) }],
  })
  const d = diagnoseVisit(f, 1)
  expect(nowAct(f, d)).toMatchObject({ id: 'sheet', why: expect.stringMatching(/; code P0420 still to be traced\.$/) })
  expect(sheetOf(f, diagnoseVisit(f, 0), 60, d).plain).toMatch(/A fault code has been read since: see below\./)
})
