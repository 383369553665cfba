import { describe, expect, it } from '@jest/globals'
import { emptyVisit, ENGINE_PATTERNS, type ReadingRecord, type VisitFile } from '@uvula/core'
import type { PendingWrite } from './database.js'
import { entryName, entryValue } from '../words/entries.js'
import { baseOf, newestUpon, nextToSend } from './outbox.js'
import { undoStack } from './undo.js'
import { overlay, ownFields } from './visit.js'

const meta = { version: 1, by: 'R', at: '2026-01-01T09:00:00Z', receivedAt: '2026-01-01T09:00:01Z' }
const reading: ReadingRecord = {
  ...meta,
  id: 'r',
  visitId: 'v',
  round: 0,
  slot: 'idle',
  channel: 'rpm',
  value: 700,
  typed: '700',
}
const vehicle = {
  ...meta,
  id: 'car',
  plate: 'T',
  customer: '',
  spec: { ...ENGINE_PATTERNS[0].vehicle, name: 'x', altitudeM: 0 },
}
const visit: VisitFile['visit'] = {
  ...meta,
  id: 'v',
  vehicleId: 'car',
  openedAt: meta.at,
  state: 'open',
  intent: 'complaint',
  complaint: '',
  signs: [],
  conditions: [],
  altitudeM: 0,
  ambientC: 15,
}
const file: VisitFile = { ...emptyVisit(vehicle, visit), readings: [reading] }
const write = (part: Partial<PendingWrite>): PendingWrite => ({
  key: 'k',
  noun: 'readings',
  id: 'r',
  visitId: 'v',
  baseVersion: 1,
  by: 'R',
  at: '2026-01-01T09:05:00Z',
  data: { ...ownFields(reading), value: 720, typed: '720' },
  state: 'waiting',
  ...part,
})

describe('a visit with what is still on its way', () => {
  it('shows the entry at once, with the version it will have', () => {
    const r = overlay(file, [write({})]).readings[0]
    expect(r).toMatchObject({ value: 720, version: 2, at: '2026-01-01T09:05:00Z' })
  })
  it('lays several on top of each other in order', () => {
    const second = write({ baseVersion: 2, data: { ...ownFields(reading), value: 730 } })
    expect(overlay(file, [write({}), second]).readings[0]).toMatchObject({ value: 730, version: 3 })
  })
  it('adds what is new', () => expect(overlay(file, [write({ id: 'n', baseVersion: 0 })]).readings).toHaveLength(2))
  it('a refused entry stays, with the reason; a refused command did not happen', () => {
    const refused = overlay(file, [write({ state: 'refused', problem: 'no' })]).readings[0]
    expect([refused.value, refused.refused]).toEqual([720, 'no'])
    const run = write({ noun: 'runs', id: 'run', state: 'refused', data: { visitId: 'v' } })
    expect(overlay(file, [run])).toBe(file)
  })
  it('keeps what waits for a decision', () => {
    expect(overlay(file, [write({ state: 'conflict' })]).readings[0].value).toBe(720)
  })
  it('another visit’s entry changes nothing, and the same object comes back', () => {
    expect(overlay(file, [write({ visitId: 'other' })])).toBe(file)
    expect(overlay(file, [])).toBe(file)
  })
  it('shows what this device read out of a recording until the server answers', () => {
    const recording = write({
      noun: 'recordings',
      id: 'rec',
      baseVersion: 0,
      data: { visitId: 'v', round: 0, name: 'a.csv', content: 'eA==' },
      local: { rows: 9, points: [] },
    })
    expect(overlay(file, [recording]).recordings[0]).toMatchObject({ rows: 9, name: 'a.csv' })
  })
  it('a visit’s and a vehicle’s own fields', () => {
    const visit = write({ noun: 'visits', id: 'v', data: { ...ownFields(file.visit), complaint: 'hunts' } })
    const car = write({ noun: 'vehicles', id: 'car', visitId: 'v', data: { ...ownFields(file.vehicle), plate: 'NEW' } })
    const out = overlay(file, [visit, car])
    expect([out.visit.complaint, out.vehicle.plate]).toEqual(['hunts', 'NEW'])
  })
  it('what is sent holds no field of the server', () => {
    expect(Object.keys(ownFields({ ...reading, againstRule: 'x', sha256: 'y' })).sort()).toEqual([
      'channel',
      'round',
      'slot',
      'typed',
      'value',
      'visitId',
    ])
  })
})

describe('what goes out, and upon what', () => {
  const first = write({ key: 'one', seq: 1 })
  const second = write({ key: 'two', seq: 2, basedOnKey: 'one' })
  const other = write({ key: 'else', seq: 3, id: 'other' })
  const stuck = (w: PendingWrite, state: PendingWrite['state'] = 'conflict'): PendingWrite => ({ ...w, state })

  it('the oldest goes first', () => expect(nextToSend([first, second])?.key).toBe('one'))
  it('what was made upon a stuck write waits behind it, and nothing else does', () => {
    expect(nextToSend([stuck(first), second, other])?.key).toBe('else')
    const third = write({ key: 'three', seq: 4, basedOnKey: 'two' })
    expect(nextToSend([stuck(first), second, third])).toBeUndefined()
  })
  it('a second entry names the first while that is under way, and the version once it is not', () => {
    expect(baseOf([first], 'readings', 'r', 2)).toEqual({ baseVersion: 1, basedOnKey: 'one' })
    expect(baseOf([other], 'readings', 'r', 2)).toEqual({ baseVersion: 2 })
  })
  it('nothing stands upon a refused command', () => {
    const run = write({ noun: 'runs', id: 'run', state: 'refused' })
    expect(baseOf([run], 'runs', 'run', 0)).toEqual({ baseVersion: 0 })
  })
  it('a conflict shows the newest of what was made here', () => {
    expect(newestUpon([stuck(first), second, other], stuck(first)).key).toBe('two')
    expect(newestUpon([first], first)).toBe(first)
  })
})

describe('an entry in words', () => {
  it.each([
    ['readings', { slot: 'idle', channel: 'rpm', value: 720, typed: '720' }, 'speed, warm idle', '720'],
    [
      'counts',
      { thing: 'hose plug', station: 'throttle', putIn: 1, takenOut: 0 },
      'hose plug, throttle',
      '1 in, 0 out',
    ],
    ['findings', { station: 'duct', outcome: 'fail', note: 'split' }, 'a look or test, duct', 'split'],
    ['codes', { code: 'P0171', state: 'stored' }, 'P0171', 'stored'],
    ['visits', { complaint: 'hunts', deleted: true }, 'the visit', 'taken off'],
  ] as const)('%s', (noun, data, name, value) =>
    expect([entryName(noun, data), entryValue(noun, data)]).toEqual([name, value]),
  )
})

describe('undo', () => {
  const tick = { visitId: 'a', caution: 'hot' }
  const entry = (n: number) => ({ noun: 'ticks' as const, id: String(n), data: tick })
  it('gives back the last entry of that visit, newest first', () => {
    undoStack.push('a', entry(1))
    undoStack.push('a', entry(2))
    undoStack.push('b', entry(3))
    const seen: string[] = []
    undoStack.pop('a', (u) => seen.push(u.id))
    undoStack.pop('a', (u) => seen.push(u.id))
    undoStack.pop('a', (u) => seen.push(u.id))
    expect(seen).toEqual(['2', '1'])
    expect(undoStack.depth('b')).toBe(1)
  })
  it('undoing is no entry of its own, and what is final is not taken back', () => {
    undoStack.push('c', entry(1))
    undoStack.pop('c', (u) => undoStack.push('c', u))
    expect(undoStack.depth('c')).toBe(0)
    undoStack.push('c', { noun: 'reports', id: 'x', data: tick })
    undoStack.push('c', { noun: 'runs', id: 'x', data: tick })
    expect(undoStack.depth('c')).toBe(0)
  })
})
