/** @jest-environment jsdom */
import { describe, expect, it } from '@jest/globals'
import { screen } from '@testing-library/react'
import userEvent from '@testing-library/user-event'
import type { LeftOut, OperatingPoint } from '@uvula/core'
import '../test/browser.js'
import { draw } from '../test/draw.js'
import { StretchEnds } from './StretchEnds.js'
import { StretchLine } from './StretchLine.js'

const user = userEvent.setup()
const point = (startS: number, endS: number, kind: OperatingPoint['kind'] = 'idle', rpm = 700): OperatingPoint => ({
  kind,
  rpm,
  startS,
  endS,
  n: 10,
  means: {},
  sds: {},
})

describe('the ends of a stretch', () => {
  const moved: [number, number][] = []
  const ends = (): void =>
    void draw(<StretchEnds startS={10} endS={20} range={[0, 60]} onMove={(a, b) => moved.push([a, b])} />)

  it('are named, say their time, and move by key within what is shown', async () => {
    ends()
    const start = screen.getByRole('slider', { name: 'start of this stretch' })
    expect([start.getAttribute('aria-valuetext'), start.getAttribute('aria-valuemax')]).toEqual(['0:10', '60'])
    start.focus()
    await user.keyboard('{ArrowRight}')
    expect(moved.at(-1)![0]).toBeGreaterThan(10)
    expect(moved.at(-1)![1]).toBe(20)
  })
  it('an end out of sight has no handle and stays where it is', async () => {
    moved.length = 0
    draw(<StretchEnds startS={10} endS={20} range={[15, 60]} onMove={(a, b) => moved.push([a, b])} />)
    const [start, end] = screen.getAllByRole('slider', { hidden: true })
    expect([start.hidden, end.hidden]).toEqual([true, false])
    end.focus()
    await user.keyboard('{ArrowRight}')
    expect(moved.at(-1)![0]).toBe(10)
    expect(moved.at(-1)![1]).toBeGreaterThan(20)
  })
  it('an end never comes nearer to the other than a second', async () => {
    moved.length = 0
    ends()
    screen.getByRole('slider', { name: 'end of this stretch' }).focus()
    await user.keyboard('{Home}')
    expect(moved.every(([a, b]) => b - a >= 1)).toBe(true)
  })
})

describe('the line of stretches', () => {
  const said: unknown[] = []
  const gap: LeftOut = { startS: 30, endS: 40, reason: 'gap' }
  const line = (open?: number): void =>
    void draw(
      <StretchLine
        points={[point(0, 10), point(12, 14, 'hold', 2510), point(50, 55, 'cruise')]}
        ways={[gap]}
        open={open}
        why={undefined}
        range={[0, 48]}
        onOpen={(i) => said.push(['open', i])}
        onWhy={(w) => said.push(['why', w?.reason])}
        onMove={() => undefined}
        onWhole={undefined}
      />,
    )

  it('names each by what it is and its time, a held one by its speed; what is out of view is left out', () => {
    line()
    const names = screen.getAllByRole('button').map((b) => b.getAttribute('aria-label'))
    expect(names).toEqual(['gap, 0:30 to 0:40', 'idle, 0:00 to 0:10', '2500, 0:12 to 0:14'])
  })
  it('a tap opens one and a second closes it; a gap says why', async () => {
    said.length = 0
    line(0)
    await user.click(screen.getByRole('button', { name: /^idle/ }))
    await user.click(screen.getByRole('button', { name: /^gap/ }))
    expect(said).toEqual([
      ['open', undefined],
      ['why', 'gap'],
    ])
    // the open one has its ends, and its name however narrow it is
    expect(screen.getAllByRole('slider')).toHaveLength(2)
    expect(screen.getAllByText('idle')).toHaveLength(2)
  })
})
