import { describe, expect, it } from '@jest/globals'
import {
  escalation,
  filterOil,
  mayTouch,
  nextProduct,
  PRODUCTS,
  SCHOOLS,
  stageRefused,
  stagesOwed,
  SURFACES,
  washOf,
  waysByHand,
  wayOn,
  type StageDone,
} from './index.js'

const at = '2026-03-01T09:00:00Z'
const done = (...stages: [StageDone['id'], number?][]): StageDone[] =>
  stages.map(([id, cylinder]) => ({ id, at, cylinder }))

describe('products on surfaces', () => {
  it.each(SURFACES.map((s) => s.id))(
    '%s: something may touch it by hand, the weaker first, nothing that is forbidden',
    (id) => {
      const ways = escalation(id)
      expect(ways.length).toBeGreaterThan(0)
      expect(ways.map((p) => p.strength)).toEqual([...ways.map((p) => p.strength)].sort((a, b) => a - b))
      for (const p of ways) expect(p.never[id]).toBe(undefined)
      expect(waysByHand(id, true).length).toBeGreaterThan(0)
    },
  )
  it.each(PRODUCTS.map((p) => p.id))('%s is never allowed and forbidden on one surface', (id) => {
    const p = PRODUCTS.find((x) => x.id === id)!
    for (const s of p.may) expect(p.never[s]).toBe(undefined)
  })
  it('air goes outward: never at an element, a diaphragm, a gauze, nor into an open intake', () => {
    for (const s of ['airflow-element', 'vent-valve', 'filter-washable', 'intake-valves'] as const)
      expect(mayTouch('compressed-air', s)).toMatchObject({ ok: false, never: true })
    expect(mayTouch('compressed-air', 'intercooler')).toMatchObject({
      ok: true,
      remark: expect.stringContaining('outward'),
    })
  })
  it('an element knows its own cleaner and nothing stronger; contact cleaner only by its label', () => {
    expect(escalation('airflow-element').map((p) => p.id)).toEqual(['airflow-cleaner'])
    expect(nextProduct('airflow-element', ['airflow-cleaner'])).toBe(undefined)
    expect(mayTouch('contact-cleaner', 'airflow-element')).toMatchObject({ ok: false, never: false })
  })
  it('what fails is followed by what is no weaker', () => {
    expect(nextProduct('sooted-metal', [])!.strength).toBe(1)
    const next = nextProduct('sooted-metal', ['soft-brush-cloth', 'plastic-scraper', 'throttle-cleaner'])!
    expect(next.strength).toBe(3)
  })
  it('ports stay in the head; only a plate with a motor is opened by command', () => {
    expect(waysByHand('intake-valves', true).map((m) => m.id)).toEqual(['ports-open'])
    expect(waysByHand('throttle-plate', true).map((m) => m.id)).toContain('plate-commanded')
    for (const surface of ['throttle-plate', 'rubber'] as const)
      expect(waysByHand(surface, false).map((m) => m.id)).toEqual(['cloth-in-place', 'off-the-car'])
  })
  it('what is soaked or flushed comes off; a filter is not washed where it sits', () => {
    for (const surface of ['filter-washable', 'egr-cooler', 'intercooler', 'idle-valve', 'manifold-plastic'] as const)
      expect(waysByHand(surface, false).map((m) => m.id)).toEqual(['off-the-car'])
  })
  it.each(SURFACES.map((s) => s.id))('%s: no way by hand wipes what no cloth may touch', (id) => {
    const isTouched = mayTouch('soft-brush-cloth', id).ok
    for (const m of waysByHand(id, true)) if (!isTouched) expect(wayOn(m.id, id)).not.toMatch(/cloth|wiped/)
  })
})

describe('stages of a wash', () => {
  it.each(SURFACES.map((s) => [s.id, s.drySeconds] as const))(
    '%s: stages that can be done, ending with a look',
    (id, dry) => {
      const stages = washOf(id, dry)
      expect(stages.at(-1)!.id).toBe('inspect')
      expect(new Set(stages.map((s) => s.id)).size).toBe(stages.length)
      for (const s of stages) if (s.products) expect(s.products.some((p) => mayTouch(p, id).ok)).toBe(true)
    },
  )
  const ports = washOf('intake-valves', 0)
  it('ports: shut, cleaned, drawn out, one cylinder after the other', () => {
    expect(stageRefused([], ports, 'blast', 1)).toMatch(/valves shut comes first/)
    expect(stageRefused(done(['shut', 1]), ports, 'blast', 1)).toBe(undefined)
    expect(stageRefused(done(['shut', 1], ['blast', 1]), ports, 'shut', 3)).toMatch(/Cylinder 1 is not drawn out/)
    expect(stageRefused(done(['shut', 1], ['blast', 1], ['draw-out', 1]), ports, 'shut', 3)).toBe(undefined)
    expect(stageRefused([], ports, 'inspect')).toBe(undefined)
  })
  it('no end before every port is through, nor before a filter is flushed, dried and oiled', () => {
    expect(stagesOwed(done(['shut', 1], ['blast', 1], ['draw-out', 1]), ports, 4)).toHaveLength(9)
    const filter = washOf('filter-washable', 3600)
    expect(stagesOwed(done(['flush'], ['settle']), filter, 4).map((o) => o.stage.id)).toEqual(['oil'])
  })
  it('a filter is oiled by weight: 18 of 25 g is right, 45 films the sensor, none is none', () => {
    expect(filterOil(410, 428)).toMatchObject({ oilG: 18, over: false })
    expect(filterOil(410, 455)).toMatchObject({ over: true, said: expect.stringContaining('film the airflow sensor') })
    expect(filterOil(410, 440, 40).over).toBe(false)
    expect(filterOil(410, 409).said).toMatch(/not oiled/)
  })
})

it.each(SCHOOLS.map((s) => [s.id, s] as const))('the school %s gives both sides their reason', (_, s) => {
  for (const words of [s.ours, s.why, s.other, s.otherWhy]) expect(words.length).toBeGreaterThan(3)
})
