import { readFileSync } from 'node:fs'
import { expect, it } from '@jest/globals'
import { CHANNELS, FAULTS, SIGNS, NEEDLES, SIMULATED_FAULTS, STATIONS, TESTS } from '@uvula/core'

it('every id of the tables is listed, kebab-case or a channel’s name', () => {
  const text = readFileSync(new URL('../ids.md', import.meta.url), 'utf8')
  const ids = [...FAULTS, ...SIGNS, ...TESTS, ...STATIONS, ...CHANNELS].map((x) => x.id)
  expect(ids.filter((id) => !text.includes(`| \`${id}\` |`))).toEqual([])
  expect(NEEDLES.filter((n) => !text.includes(`| \`${n.id}\` |`))).toEqual([])
  expect(SIMULATED_FAULTS.filter((id) => !text.includes(`\`${id}\``))).toEqual([])
  expect(ids.filter((id) => !/^[a-z0-9]+([-_][a-z0-9]+)*$/.test(id))).toEqual([])
})
