import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import {
  airPathOf,
  airPathProblems,
  checkVehicle,
  confirm,
  describeEngine,
  ENGINE_PATTERNS,
  lookItemsOf,
  nipplesOf,
  QUESTIONS,
  questionsOf,
  trimBanksOf,
  vinDoubt,
  withAnswer,
  worstOf,
  type Vehicle,
} from './index.js'

const vehicle = (id = 'four-maf', part: Partial<Vehicle> = {}): Vehicle => ({
  ...ENGINE_PATTERNS.find((p) => p.id === id)!.vehicle,
  name: 'x',
  altitudeM: 0,
  ...part,
})

describe('answers', () => {
  it('whatever is answered in whatever order, it stays an engine that can be drawn and looked at', () => {
    const answer = fc.record({
      id: fc.constantFrom(...QUESTIONS.map((q) => q.id)),
      pick: fc.nat(20),
      share: fc.double({ min: 0, max: 1, noNaN: true }),
    })
    fc.assert(
      fc.property(
        fc.constantFrom(...ENGINE_PATTERNS.map((p) => p.id)),
        fc.array(answer, { maxLength: 25 }),
        (id, answers) => {
          let v = vehicle(id)
          for (const a of answers) {
            const q = questionsOf(v).find((x) => x.id === a.id)
            if (!q) continue
            const raw = q.kind === 'number' ? q.min + a.share * (q.max - q.min) : 0
            v = withAnswer(
              v,
              q.id,
              q.kind === 'number' ? (q.whole ? Math.round(raw) : raw) : q.choices[a.pick % q.choices.length].value,
            )
            if (q.kind === 'choice') expect(q.choices.map((c) => c.value)).toContain(q.get(v))
          }
          expect(checkVehicle(v)).toMatchObject({ ok: true })
          expect(JSON.parse(JSON.stringify(v))).toEqual(v)
          const ids = lookItemsOf(v).map((i) => i.id)
          expect(new Set(ids).size).toBe(ids.length)
        },
      ),
    )
  })
  it('a ten-cylinder, a straight six with two sets of trims, a diesel, twin inlets: a few answers each', () => {
    expect(describeEngine(withAnswer(vehicle('v8-maf'), 'cylinders', 10))).toMatch(/^V10 5\.2/)
    const six = withAnswer(vehicle('six-line'), 'trimBanks', '2')
    expect([trimBanksOf(six), six.banks, airPathOf(six).stations.filter((s) => s.lane === 'bank').length]).toEqual([
      2, 1, 2,
    ])
    const diesel = withAnswer(vehicle(), 'fuel', 'diesel')
    expect(diesel).toMatchObject({ injection: 'direct', purge: false, metering: 'maf+map' })
    expect(airPathOf(diesel).stations.map((s) => s.info.id)).toContain('throttle-flap')
    const twin = withAnswer(vehicle('v8-maf'), 'inlets', '2')
    expect(twin.throttleBodies).toBe(2)
    expect(airPathOf(twin).stations.map((s) => s.info.id)).toContain('throttle-2')
  })
  it('a diesel without a flap whose vent should join it still holds together', () =>
    expect(checkVehicle(vehicle('diesel-four', { throttleFlap: false, pcvJoins: 'throttle' }))).toMatchObject({
      ok: true,
    }))
  it('a figure that is none of an engine is refused with what is accepted', () => {
    expect(() => withAnswer(vehicle(), 'compressionRatio', 99)).toThrow(/compression = 99, must be 6 to 25/)
    expect(() => withAnswer(vehicle(), 'cylinders', 4.5)).toThrow(RangeError)
    expect(() => withAnswer(vehicle(), 'displacementL', NaN)).toThrow(RangeError)
    expect(() => withAnswer(vehicle(), 'fuel', 'coal')).toThrow(RangeError)
    expect(() => withAnswer(vehicle(), 'wings', 2)).toThrow(RangeError)
  })
  it('a typed figure is confirmed by that; what nobody confirmed is the worst it could be', () => {
    const guessed = worstOf(vehicle())
    expect(guessed.guessed).toEqual(['displacementL', 'cylinders', 'compressionRatio'])
    expect(guessed.vehicle).toEqual({ displacementL: 1.6, cylinders: 5, compressionRatio: 13 })
    const typed = withAnswer(confirm(confirm(vehicle(), 'cylinders'), 'displacementL'), 'compressionRatio', 9.5)
    expect(worstOf(typed)).toEqual({ guessed: [], vehicle: { displacementL: 2, cylinders: 4, compressionRatio: 9.5 } })
  })
})

describe('a path that is none', () => {
  it('a branch to nothing, a loop, a path in two pieces: each with its reason', () => {
    expect(airPathProblems(vehicle('four-maf', { branches: { joins: { 'cruise-line': 'egr' } } }))).toEqual([
      'the cruise line is a branch to nothing: this engine has no EGR valve',
    ])
    expect(
      airPathProblems(
        vehicle('four-maf', { branches: { joins: { booster: 'vacuum-lines', 'vacuum-lines': 'booster' } } }),
      )[0],
    ).toMatch(/runs in a loop: booster hose to vacuum lines to booster hose/)
    expect(airPathProblems(vehicle('four-maf', { branches: { without: ['duct'] } }))).toEqual([
      'without the duct the path is in two pieces: it is part of the pipe and stays',
    ])
    expect(
      airPathProblems(vehicle('diesel-four', { branches: { without: ['egr'] } })).every((x) => /EGR/.test(x)),
    ).toBe(true)
  })
  it('the vehicle file says so too, and takes what holds together', () => {
    expect(checkVehicle(vehicle('four-maf', { branches: { without: ['duct'] } }))).toMatchObject({
      ok: false,
      problems: [{ field: 'branches' }],
    })
    expect(checkVehicle({ ...vehicle(), branches: { joins: 5 } })).toMatchObject({ ok: false })
    expect(checkVehicle({ ...vehicle(), stations: { duct: { hoseMm: 900 } } })).toMatchObject({ ok: false })
    expect(checkVehicle({ ...vehicle(), stations: { duct: { hoseMm: 60, material: 'rubber' } } }).ok).toBe(true)
  })
  it('a branch is offered only nipples that do not hang on it', () => {
    const v = vehicle('diesel-four')
    expect(nipplesOf(airPathOf(v), 'egr')).not.toContain('egr-cooler')
    expect(nipplesOf(airPathOf(v), 'egr')).toContain('boost-pipe')
  })
})

describe('the number on the frame', () => {
  it.each([
    ['', undefined],
    // worked example of 49 CFR 565
    ['1M8GDM9AXKP042788', undefined],
    ['1M8GDM9A1KP042788', /check digit would be X and is 1/],
    ['1M8GDM9AXKP04278', /16 signs/],
    ['IM8GDM9AXKP042788', /I does not occur/],
  ])('%s', (vin, doubt) => {
    const said = vinDoubt(vin)
    if (doubt === undefined) expect(said).toBeUndefined()
    else expect(said).toMatch(doubt)
  })
})
