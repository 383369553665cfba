import { expect, it } from '@jest/globals'
import type { NowAct } from '@uvula/core'
import { nowLink } from './nowLink.js'

const act = (part: Partial<NowAct>): NowAct => ({ id: 'test', stage: 'trace', title: '', why: '', then: [], ...part })

it.each([
  [act({ id: 'sheet', stage: 'hand-over' }), '/visit/a%20b/hand-over'],
  [act({ id: 'balance', stage: 'measure' }), '/visit/a%20b/measure?view=throttles'],
  [act({ id: 'read-codes', stage: 'arrive' }), '/visit/a%20b/arrive#codes'],
  [act({ where: 'places' }), '/visit/a%20b/trace?view=place'],
  [act({ where: { station: 'filter' } }), '/visit/a%20b/trace?at=filter'],
  [act({ stage: 'clean', where: { station: 'airflow-sensor' } }), '/visit/a%20b/clean?of=airflow-sensor'],
  [act({ stage: 'learn', where: { station: 'throttle' } }), '/visit/a%20b/learn'],
  [act({ where: { station: 'purge', test: 'purge-pinch' } }), '/visit/a%20b/trace?at=purge&test=purge-pinch'],
])('what is next leads to its own bench: %#', (now, address) => {
  expect(nowLink('a b', now)).toBe(address)
})
