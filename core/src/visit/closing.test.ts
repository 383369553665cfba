import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { airPathOf, type StationId } from '../engine/index.js'
import {
  closingOrder,
  diagnoseVisit,
  COOLANT_BLED,
  COOLANT_FILLED,
  facesTick,
  itemMoreProblem,
  itemPresetsAt,
  kindOfName,
  mayIssueReport,
  mayTakeOff,
  openThings,
  partsToOrder,
  piecesOf,
  sheetOf,
  withAll,
  withPiece,
  type ItemMore,
  type ItemRecord,
  type Piece,
  type VisitFile,
} from './index.js'
import { visitOf } from './remedies.fixture.js'

const meta = { version: 1, by: 'R', visitId: 'v' }
const tick = (caution: string): VisitFile['ticks'][number] => ({
  ...meta,
  id: caution,
  at: '2026-01-01T10:00:00Z',
  caution,
})
const piece = (state: Piece['state'], arrival: Piece['arrival'] = 'present'): Piece => ({ state, arrival })

function part(
  id: string,
  station: StationId,
  kind: ItemMore['kind'],
  pieces: readonly Piece[],
  more: Partial<ItemMore> = {},
): ItemRecord {
  const first: ItemRecord = {
    ...meta,
    id,
    at: `2026-01-01T09:00:${id.length.toString().padStart(2, '0')}Z`,
    station,
    name: kind,
    count: pieces.length,
    arrival: 'present',
    state: 'on',
    more: { kind, pieces, ...more },
  }
  return { ...first, ...withPiece(first, 0, {}) }
}
const rules = (f: VisitFile): string[] => openThings(f).map((r) => r.rule)

describe('pieces', () => {
  it('one fastener is off by itself, and the entry says how many', () => {
    const four = part('b', 'throttle', 'bolt', [piece('on'), piece('on'), piece('on'), piece('on')])
    const one = { ...four, ...withPiece(four, 2, { state: 'off' }) }
    expect(one.state).toBe('off')
    expect(openThings(visitOf({ items: [one] }))[0].message).toBe('Off: 1 of 4 × bolt at the throttle.')
  })
  it('an older entry has as many pieces as it counts', () => {
    const old = { ...part('b', 'throttle', 'bolt', [piece('off')]), count: 3, more: undefined }
    expect(piecesOf(old)).toHaveLength(3)
  })
  it('what was missing is not put on with the rest, unless a new one came', () => {
    const two = part('b', 'throttle', 'bolt', [piece('on', 'missing'), piece('off')])
    expect(withAll(two, 'off').more!.pieces.map((p) => p.state)).toEqual(['on', 'off'])
    const fresh = { ...two, ...withPiece(two, 0, { renewed: true }) }
    expect(withAll(fresh, 'off').more!.pieces.map((p) => p.state)).toEqual(['off', 'off'])
  })
  it.each([
    ['clamp bolt', 'bolt'],
    ['coolant hose', 'hose'],
    ['seal', 'gasket'],
    ['O-ring', 'o-ring'],
    ['thing', 'part'],
  ])('%s is a %s', (name, kind) => expect(kindOfName(name)).toBe(kind))
  it('what is no part is refused with what is accepted', () => {
    const ok = { kind: 'bolt', pieces: [piece('off')] }
    expect(itemMoreProblem(ok)).toBeUndefined()
    expect(itemMoreProblem({ ...ok, kind: 'cake' })).toMatch(/more\.kind/)
    expect(itemMoreProblem({ ...ok, pieces: [] })).toMatch(/1 to 60/)
    expect(itemMoreProblem({ ...ok, pieces: [{ state: 'gone', arrival: 'present' }] })).toMatch(/more\.pieces/)
    expect(itemMoreProblem({ ...ok, torque: { value: NaN, unit: 'N·m', from: 'book' } })).toMatch(/more\.torque/)
    expect(itemMoreProblem({ ...ok, seal: 'glued' })).toMatch(/more\.seal/)
  })
})

describe('what stands in the way of closing', () => {
  const gasket = (more: Partial<ItemMore> = {}): ItemRecord => part('g', 'throttle', 'gasket', [piece('on')], more)
  it('a seal must be spoken for and its faces seen, once the joint is together', () => {
    expect(rules(visitOf({ items: [gasket()] }))).toEqual(['seal-unsaid', 'faces-unseen'])
    expect(rules(visitOf({ items: [gasket({ seal: 'new' })], ticks: [tick(facesTick('throttle'))] }))).toEqual([])
    expect(rules(visitOf({ items: [gasket({ seal: 'doubtful' })], ticks: [tick(facesTick('throttle'))] }))).toEqual([
      'seal-doubtful',
    ])
    expect(
      rules(visitOf({ items: [gasket({ seal: 'reused', makerSays: 'renew' })], ticks: [tick(facesTick('throttle'))] })),
    ).toEqual(['seal-renew'])
  })
  it('while the joint is open only what is off is told', () =>
    expect(rules(visitOf({ items: [gasket(), part('b', 'throttle', 'bolt', [piece('off')])] }))).toEqual(['item-off']))
  it('two o-rings in one groove are refused; in two grooves they are not', () => {
    const ring = (id: string, groove?: string): ItemRecord =>
      part(id, 'map-sensor', 'o-ring', [piece('on')], { seal: 'new', ...(groove ? { groove } : {}) })
    const ticks = [tick(facesTick('map-sensor'))]
    expect(rules(visitOf({ items: [ring('a'), ring('b')], ticks }))).toEqual(['two-in-groove'])
    expect(rules(visitOf({ items: [ring('a', 'upper'), ring('b', 'lower')], ticks }))).toEqual([])
  })
  it('coolant hoses ask for their level before the start and for bleeding before the sheet', () => {
    const hose = part('h', 'throttle', 'hose', [piece('on'), piece('on')], { carries: 'coolant' })
    expect(rules(visitOf({ items: [hose] }))).toEqual(['coolant-level'])
    const filled = visitOf({ items: [hose], ticks: [tick(COOLANT_FILLED)] })
    expect(rules(filled)).toEqual([])
    const gate = mayIssueReport(filled, 0)
    expect(gate.ok ? [] : gate.refusals.map((r) => r.rule)).toContain('coolant-bled')
    const bled = mayIssueReport(visitOf({ items: [hose], ticks: [tick(COOLANT_FILLED), tick(COOLANT_BLED)] }), 0)
    expect(bled.ok ? [] : bled.refusals.map((r) => r.rule)).not.toContain('coolant-bled')
  })
  it('the sheet says how what is open stands, and gives the customer nothing to tick', () => {
    const f = visitOf({
      items: [
        part('h', 'throttle', 'hose', [piece('on')], { carries: 'coolant' }),
        part('gs', 'throttle', 'gasket', [piece('on')]),
      ],
      visit: { ...visitOf().visit, asFound: { booster: 'off' } },
    })
    expect(rules(f)).toEqual(['seal-unsaid', 'faces-unseen', 'coolant-level', 'routing'])
    const { left } = sheetOf(f, diagnoseVisit(f, 0), 60)
    expect(left).toEqual(
      expect.arrayContaining([
        'Whether the gasket at the throttle is a new one is not written down.',
        'Coolant hoses were off; the level is not made up yet.',
      ]),
    )
    expect(left.join(' ')).not.toMatch(/\btick\b|Say which|Put it right|\?/)
  })
  it('a coolant hose that came off once more is asked for once more', () => {
    const hose = part('h', 'throttle', 'hose', [piece('on')], { carries: 'coolant' })
    const again = { ...hose, at: '2026-01-01T11:00:00Z' }
    expect(rules(visitOf({ items: [again], ticks: [tick(COOLANT_FILLED)] }))).toEqual(['coolant-level'])
  })
  it('a hose on the wrong nipple stands in the way until it is put right', () => {
    const f = visitOf()
    const wrong: VisitFile = { ...f, visit: { ...f.visit, asFound: { booster: 'duct' } } }
    expect(openThings(wrong)[0].message).toMatch(/booster hose was found on the duct; it belongs on the plenum/)
    const right: VisitFile = { ...f, visit: { ...f.visit, asFound: { booster: 'plenum' } } }
    expect(openThings(right)).toEqual([])
  })
  it('nothing comes off before its STOPs; a fuel line has its own', () => {
    const f = visitOf({ ticks: [tick('belts-fan-hot-coolant')] })
    expect(mayTakeOff(f, { station: 'duct' }).ok).toBe(true)
    const gate = mayTakeOff(f, { station: 'gaskets', more: { kind: 'hose', pieces: [], carries: 'fuel' } })
    expect(gate.ok ? [] : gate.refusals.map((r) => r.rule)).toEqual(['test-fuel-line'])
    expect(mayTakeOff(f, { station: 'throttle' }).ok).toBe(false)
  })
})

describe('the way back', () => {
  it('the deepest joint first; in it the seal, the part, what is blind while it is loose, the fasteners, the rest', () => {
    const items = [
      part('duct', 'duct', 'clamp', [piece('off')]),
      part('plug', 'gaskets', 'connector', [piece('off')], { before: 'blind while the part is loose' }),
      part('nuts', 'gaskets', 'nut', [piece('off'), piece('off')]),
      part('seal', 'gaskets', 'gasket', [piece('off')]),
      part('fuel', 'gaskets', 'hose', [piece('off')]),
      part('body', 'gaskets', 'part', [piece('off')]),
    ]
    expect(closingOrder(visitOf({ items })).map((s) => s.item.id)).toEqual([
      'seal',
      'body',
      'plug',
      'nuts',
      'fuel',
      'duct',
    ])
  })
  const stations = airPathOf(visitOf().vehicle.spec).stations.map((s) => s.info.id)
  const state = fc.constantFrom('on' as const, 'off' as const, 'loose' as const)
  const anyPart = fc.record({
    station: fc.constantFrom(...stations),
    kind: fc.constantFrom('bolt' as const, 'gasket' as const, 'hose' as const, 'connector' as const, 'part' as const),
    states: fc.array(state, { minLength: 1, maxLength: 8 }),
    before: fc.option(fc.constant('harness before hose'), { nil: undefined }),
  })
  it('a random inventory closes in that order and leaves no part behind', () =>
    fc.assert(
      fc.property(fc.array(anyPart, { maxLength: 14 }), (parts) => {
        let f = visitOf({
          items: parts.map((p, n) =>
            part(
              `i${n}`,
              p.station,
              p.kind,
              p.states.map((s) => piece(s)),
              {
                seal: 'new',
                ...(p.before ? { before: p.before } : {}),
              },
            ),
          ),
          ticks: stations.map((s) => tick(facesTick(s))),
        })
        const open = parts.flatMap((p) => p.states).filter((s) => s !== 'on').length
        const order = closingOrder(f)
        expect(order.reduce((n, s) => n + s.pieces.length, 0)).toBe(open)
        for (const s of order)
          f = { ...f, items: f.items.map((i) => (i.id === s.item.id ? { ...i, ...withAll(i, 'on') } : i)) }
        expect(openThings(f)).toEqual([])
        expect(closingOrder(f)).toEqual([])
      }),
    ))
  it('every station has parts that usually come off', () => {
    for (const injection of ['port', 'carburettor'] as const)
      for (const s of stations) expect(itemPresetsAt(s, { injection }).length).toBeGreaterThan(0)
    // where a carburettor stands no connector is taken off, and its fuel hose has its STOP
    const parts = itemPresetsAt('throttle', { injection: 'carburettor' })
    expect(parts.map((p) => p.name)).not.toContain('connector')
    expect(parts.find((p) => p.name === 'fuel hose')?.carries).toBe('fuel')
  })
})

describe('parts to order', () => {
  // 2026-01-05 is a Monday; parts come on Wednesdays and Fridays
  const order = (f: VisitFile): string[] =>
    partsToOrder(f, [3, 5], '2026-01-05', ['duct']).map((p) =>
      `${p.count} ${p.words}: ${p.why} ${p.comesOn ?? ''}`.trim(),
    )
  it('what was not whole, seals that are doubtful, what is bought together', () => {
    const bolts = part('b', 'throttle', 'bolt', [piece('on', 'missing'), piece('on', 'stripped'), piece('on')])
    const seal = part('g', 'throttle', 'gasket', [piece('off')], { seal: 'doubtful', pairedWith: 'duct seal' })
    expect(order(visitOf({ items: [bolts, seal] }))).toEqual([
      '2 bolt at the throttle: missing on arrival 2026-01-07',
      '1 gasket at the throttle: doubtful 2026-01-07',
      '1 duct seal: bought together with the gasket 2026-01-07',
    ])
  })
  it('old plastic on the way in is presumed lost; young or metal is not', () => {
    const f = visitOf()
    const with_ = (fittedOn: string, material: 'plastic' | 'metal'): VisitFile => ({
      ...f,
      vehicle: { ...f.vehicle, spec: { ...f.vehicle.spec, stations: { duct: { fittedOn, material } } } },
    })
    expect(order(with_('2012-05-01', 'plastic'))).toEqual([
      '1 duct: plastic older than 10 years: presume it lost 2026-01-07',
    ])
    expect(order(with_('2024-05-01', 'plastic'))).toEqual([])
    expect(order(with_('2012-05-01', 'metal'))).toEqual([])
  })
})
