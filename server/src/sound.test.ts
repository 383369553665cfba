import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import { CONFIRMED_FIELDS, ENGINE_PATTERNS } from '@uvula/core'
import type { SoundAnswer } from '@uvula/contract'
import { Harness } from './harness.fixture.js'

const server = new Harness()
const { call, put } = server
beforeAll(() => server.open(), 60_000)
afterAll(() => server.close())

const at = '2026-03-01T09:00:00.000Z'
const spec = {
  ...ENGINE_PATTERNS.find((p) => p.id === 'four-maf')!.vehicle,
  name: 'Tarn 2.3',
  displacementL: 2.3,
  altitudeM: 300,
  confirmed: CONFIRMED_FIELDS,
}

/** A car with one visit that measured idle and 2500 rpm. */
async function car(
  id: string,
  of: object,
  values: { readonly maf: number; readonly trim: number },
  more: object = {},
): Promise<void> {
  await put(`/api/vehicles/${id}`, { by: 'R', at, plate: id.toUpperCase(), customer: 'made up', spec: of })
  const visit = {
    by: 'R',
    at,
    vehicleId: id,
    openedAt: at,
    state: 'open',
    altitudeM: 300,
    ambientC: 20,
    intent: 'check-up',
    complaint: '',
    signs: [],
    conditions: [],
  }
  expect((await put(`/api/visits/of-${id}`, visit)).status).toBe(200)
  for (const [slot, rpm, maf] of [
    ['idle', 700, values.maf],
    ['hold-2500', 2500, 3.3 * values.maf],
  ] as const)
    for (const [channel, value] of Object.entries({ rpm, maf_gs: maf, stft1_pct: 0, ltft1_pct: values.trim }))
      await put(`/api/readings/of-${id}:0:${slot}:${channel}`, {
        by: 'R',
        at,
        visitId: `of-${id}`,
        round: 0,
        slot,
        channel,
        value,
        typed: String(value),
      })
  const { body } = await call('GET', `/api/visits/of-${id}`)
  const version = (body.visit as { version: number }).version
  const handed = await put(
    `/api/visits/of-${id}`,
    { ...visit, state: 'handed-over', ...more },
    { baseVersion: version },
  )
  expect(handed.status).toBe(200)
}
const sound = async (id: string, except = ''): Promise<SoundAnswer['sound']> =>
  ((await call('GET', `/api/vehicles/${id}/sound?except=${except}`)).body as unknown as SoundAnswer).sound

describe('sound cars of one kind', () => {
  beforeAll(async () => {
    await car('mine', spec, { maf: 2.75, trim: 0 })
    await car('like-1', { ...spec, name: 'another name' }, { maf: 2.8, trim: 1 })
    await car('like-2', { ...spec, altitudeM: 900 }, { maf: 2.7, trim: -1 })
    // a leak, another throttle, figures that nobody confirmed
    await car('leaks', spec, { maf: 2.2, trim: 24 })
    await car('wider', { ...spec, throttleBoreMm: spec.throttleBoreMm + 4 }, { maf: 2.75, trim: 0 })
    await car('unread', { ...spec, name: 'guessed', confirmed: [] }, { maf: 2.75, trim: 0 })
  }, 60_000)
  it('are found beside this car’s own record, which comes first', async () => {
    const found = await sound('mine')
    expect(found.map((s) => [s.of, s.vehicleId])).toEqual([
      ['same-car', 'mine'],
      ['same-model', expect.stringMatching(/^like-/)],
      ['same-model', expect.stringMatching(/^like-/)],
    ])
    expect(found[1].points.find((p) => p.kind === 'idle')!.means.maf_gs).toBeGreaterThan(2.6)
  })
  it('the visit at hand does not speak for itself', async () =>
    expect((await sound('mine', 'of-mine')).map((s) => s.of)).toEqual(['same-model', 'same-model']))
  it('a car that nobody knows has none', async () => expect(await sound('nobody')).toEqual([]))
})
