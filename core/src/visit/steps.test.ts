import { describe, expect, it } from '@jest/globals'
import { checkStep, endRefusals, oilOf, productsOf, stepMoreProblem, stepWords, type StepWork } from './index.js'
import { visitOf } from './remedies.fixture.js'
import type { StageDone } from '../cleaning/index.js'

const vehicle = visitOf().vehicle.spec
const done = (id: StageDone['id'], part: Partial<StageDone> = {}): StageDone => ({
  id,
  at: '2026-03-01T09:00:00Z',
  ...part,
})
const work = (part: Partial<StepWork> = {}): StepWork => ({
  station: 'plenum',
  surface: 'manifold-aluminium',
  product: 'degreaser-water',
  method: 'off-the-car',
  passed: true,
  ...part,
})
const rules = (s: StepWork, v = vehicle): string[] => checkStep(s, v).map((r) => r.rule)

describe('what a cleaned surface went against', () => {
  it('a product of any of its stages', () => {
    const scrubbed = work({ more: { stages: [done('scrub', { product: 'metal-brush' }), done('rinse')] } })
    expect(rules(scrubbed)).toEqual([])
    expect(rules({ ...scrubbed, surface: 'manifold-plastic' })).toEqual(['product-on-surface'])
    expect(productsOf(scrubbed)).toEqual(['degreaser-water', 'metal-brush'])
  })
  it('an element is told as sprayed, never as wiped', () => {
    const words = stepWords(
      work({
        station: 'airflow-sensor',
        surface: 'airflow-element',
        product: 'airflow-cleaner',
        method: 'cloth-in-place',
      }),
    )
    expect(words).toBe('airflow sensor element cleaned with airflow sensor cleaner, sprayed in place')
  })
  it('a plate opened by command needs a motor', () => {
    const plate = work({
      station: 'throttle',
      surface: 'throttle-plate',
      product: 'throttle-cleaner',
      method: 'plate-commanded',
    })
    expect(rules(plate, { ...vehicle, throttle: 'electronic' })).toEqual([])
    expect(rules(plate, { ...vehicle, throttle: 'cable' })).toEqual(['no-command'])
    expect(rules(work({ method: 'plate-commanded' }))).toEqual(['no-command'])
  })
  it('ports are cleaned in the head, and a manifold never there', () => {
    const ports = work({ station: 'runners-1', surface: 'intake-valves', product: 'carburettor-solvent' })
    expect(rules(ports)).toEqual(['way-on-surface'])
    expect(checkStep(ports, vehicle)[0].message).toBe(
      'intake ports and valves: not cleaned so. Clean it in the head, manifold off.',
    )
    expect(rules({ ...ports, method: 'ports-open' })).toEqual([])
    expect(rules(work({ method: 'ports-open' }))).toEqual(['way-on-surface'])
  })
  it('of two airflow sensors the second is told as that', () => {
    const element = { surface: 'airflow-element', product: 'airflow-cleaner' } as const
    expect(stepWords(work({ ...element, station: 'airflow-sensor-2' }))).toBe(
      'airflow sensor element (airflow sensor 2) cleaned with airflow sensor cleaner, off the car',
    )
  })
  it('what is fed goes onto no surface by hand, and is told what does', () => {
    const [r] = checkStep(work({ product: 'intake-cleaner' }), vehicle)
    expect(r.rule).toBe('fed-product')
    expect(r.message).toMatch(/running engine, not onto a surface by hand\. Use .*water and soap/)
  })
  it('an end before its stages; a word without any stage stands as it was given', () => {
    expect(rules(work({ more: { stages: [done('soak')] } }))).toEqual(['wash-owed'])
    expect(rules(work({ more: { stages: [] } }))).toEqual([])
    expect(rules(work({ passed: false, more: { stages: [done('soak')] } }))).toEqual([])
  })
  it('ports that are left are counted', () => {
    const one = ['shut', 'blast', 'draw-out'].map((id) => done(id as StageDone['id'], { cylinder: 1 }))
    const [r] = endRefusals({ surface: 'intake-valves', more: { stages: one } }, { ...vehicle, cylinders: 4 })
    expect(r.message).toBe('Not at its end: valves shut at cylinder 2 and 8 more still to do.')
  })
})

describe('a wash in words', () => {
  it('names its stages, its days, its ports', () => {
    const stages = [done('soften'), done('soak'), done('rinse', { at: '2026-03-02T09:00:00Z' })]
    expect(stepWords(work({ more: { stages } }))).toBe(
      'manifold, aluminium cleaned with degreaser and water, off the car (soften, soak, rinse; over 2 days)',
    )
    const ports = [1, 3].map((cylinder) => done('draw-out', { cylinder }))
    const valves = work({
      surface: 'intake-valves',
      product: 'soft-media',
      method: 'ports-open',
      more: { stages: ports },
    })
    expect(stepWords(valves)).toMatch(/2 ports with valves shut, drawn out\)$/)
    expect(stepWords(work())).not.toMatch(/\(/)
  })
  it('a filter by its newest weights, against its own label', () => {
    const stages = [done('settle', { value: 400 }), done('oil', { value: 440 }), done('oil', { value: 418 })]
    expect(oilOf({ more: { stages } })).toMatchObject({ oilG: 18, over: false })
    expect(oilOf({ more: { stages, oilLabelG: 12 } })).toMatchObject({ over: true })
    expect(oilOf({ more: { stages: stages.slice(0, 1) } })).toBe(undefined)
  })
})

it.each([
  ['no list', {}, 'list of stages'],
  ['no stage', { stages: [{ id: 'polish', at: '2026-01-01' }] }, '"polish" is none'],
  ['no time', { stages: [{ id: 'dry', at: 'soon' }] }, 'must be a time'],
  ['no cylinder', { stages: [{ id: 'shut', at: '2026-01-01', cylinder: 17 }] }, '1 to 16'],
  ['no product', { stages: [{ id: 'dry', at: '2026-01-01', product: 'acid' }] }, 'product is none'],
  ['no weight', { stages: [{ id: 'oil', at: '2026-01-01', value: -3 }] }, '0 to 20000'],
  ['no class that failed', { stages: [], failed: ['acid'] }, 'product classes'],
  ['no label', { stages: [], oilLabelG: 0 }, '1 to 500'],
])('%s in what is kept of a wash is named', (_, more, words) => expect(stepMoreProblem(more)).toContain(words))
