import { expect, it } from '@jest/globals'
import { codeWords } from './index.js'

it.each([
  ['P0171', 'bank 1 lean'],
  ['P0300', 'misfire on several cylinders'],
  ['P0304', 'misfire on cylinder 4'],
  ['P0312', 'misfire on cylinder 12'],
  ['P0205', 'injector circuit'],
  ['B1234', undefined],
])('%s: %s', (code, words) => {
  expect(codeWords(code)).toBe(words)
})
