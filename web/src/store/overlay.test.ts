import { describe, expect, it } from 'vitest'
import { emptyVisit, ENGINE_PATTERNS, type ReadingRecord, type VisitFile } from '@uvula/core'
import type { PendingWrite } from './database.js'
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
  it('leaves out what was refused and keeps what waits for a decision', () => {
    expect(overlay(file, [write({ state: 'refused' })]).readings[0].value).toBe(700)
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

describe('undo', () => {
  const entry = (n: number) => ({ noun: 'readings' as const, id: String(n), data: { value: n } })
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
    undoStack.push('c', { noun: 'reports', id: 'x', data: {} })
    undoStack.push('c', { noun: 'runs', id: 'x', data: {} })
    expect(undoStack.depth('c')).toBe(0)
  })
})
