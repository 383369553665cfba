import { describe, expect, it } from '@jest/globals'
import { Guesses } from './guesses.js'

const MINUTE = 60_000

describe('guesses at a secret', () => {
  it('five are free, then each waits twice as long, a quarter of an hour at most', () => {
    const g = new Guesses()
    for (let i = 0; i < 5; i++) expect(g.begin('here', 0)).toBeUndefined()
    let now = 0
    const waits = Array.from({ length: 7 }, () => {
      const wait = g.begin('here', now)!
      now += wait * 1000
      expect(g.begin('here', now)).toBeUndefined()
      return wait
    })
    expect(waits).toEqual([30, 60, 120, 240, 480, 900, 900])
  })
  it('one place does not lock another; a right one begins anew', () => {
    const g = new Guesses()
    for (let i = 0; i < 5; i++) g.begin('a', 0)
    expect(g.begin('a', 1000)).toBe(29)
    expect(g.begin('b', 1000)).toBeUndefined()
    g.right('a')
    expect(g.begin('a', 1000)).toBeUndefined()
  })
  it('ten thousand PINs take weeks from one tablet', () => {
    const g = new Guesses()
    let tried = 0
    for (let now = 0; now < 7 * 24 * 60 * MINUTE; now += 10_000) if (g.begin('here', now) === undefined) tried++
    expect(tried).toBeLessThan(1000)
  })
})
