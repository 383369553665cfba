import { describe, expect, it } from '@jest/globals'
import type { VisitFile } from '@uvula/core'
import { HeldVisits } from './held-visits.js'

const file = (id: string): VisitFile => ({ visit: { id } }) as VisitFile
const wrote = (noun: string, visitId?: string): never => ({ noun, visitId, key: 'k' }) as never

describe('held visits', () => {
  it('tell which lists were written to, and that only the head was', () => {
    const held = new HeldVisits()
    held.hold([file('a'), file('b')], held.mark())
    expect(held.get('a')!.changed).toBeUndefined()
    held.written(wrote('readings', 'a'))
    held.written(wrote('codes', 'a'))
    held.written(wrote('visits', 'b'))
    expect([...held.get('a')!.changed!].sort()).toEqual(['codes', 'readings'])
    expect([...held.get('b')!.changed!]).toEqual([])
  })
  it('take nothing that was read while something was written', () => {
    const held = new HeldVisits()
    const stands = held.mark()
    held.written(wrote('readings', 'a'))
    held.hold([file('a')], stands)
    expect(held.get('a')).toBeUndefined()
  })
  it('forget everything when a car changes, and those asked for longest ago when there are many', () => {
    const held = new HeldVisits()
    held.hold([file('a')], held.mark())
    held.written(wrote('vehicles'))
    expect(held.get('a')).toBeUndefined()
    held.hold(
      Array.from({ length: 201 }, (_, i) => file(`v${i}`)),
      held.mark(),
    )
    expect([held.get('v0'), held.get('v1')?.file.visit.id]).toEqual([undefined, 'v1'])
  })
})
