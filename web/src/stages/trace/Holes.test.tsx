/** @jest-environment jsdom */
import { describe, expect, it } from '@jest/globals'
import { render } from '@testing-library/react'
import { Holes, holeTimes } from './Holes.js'

describe('a hole among holes', () => {
  const filled = (mm: number): number => {
    const { container } = render(<Holes diameterMm={mm} />)
    return Number(container.querySelector('.ring-fill')!.getAttribute('r'))
  }
  it.each([
    [2.1, 'three times', 2],
    [5.4, 'three times', 5],
    [7.4, 'twice', 8],
    [10.3, 'twice', 10],
  ])('of %d mm is drawn %s its size, and the nearest size is filled', (mm, times, nearest) => {
    expect(holeTimes(mm)).toBe(times)
    expect((2 * filled(mm)) / 3.78 / (times === 'twice' ? 2 : 3)).toBeCloseTo(nearest, 6)
  })
})
