/** @jest-environment jsdom */
import { describe, expect, it } from '@jest/globals'
import type { OperatingPoint } from '@uvula/core'
import '../test/browser.js'
import { stripRows } from '../live/Strip.js'
import { inTurn } from '../live/inTurn.js'
import { nearest } from '../recording/TraceStack.js'
import { closerOption, roomy, scaleFigures, stretchesOption, traceOption } from '../recording/traceOption.js'
import { baseOption, sayFigure, scaleAxis } from './base.js'
import { trimMarks } from './TrimChart.js'
import type { ChartTokens } from './tokens.js'

const t: ChartTokens = {
  face: '#fff',
  ink: '#000',
  soft: '#444',
  line: '#aaa',
  air: '#bcd',
  now: '#df2',
  word: 'Word',
  fig: 'Fig',
}
const point = (kind: OperatingPoint['kind'], means: OperatingPoint['means']): OperatingPoint => ({
  kind,
  rpm: 700,
  startS: 0,
  endS: 10,
  n: 20,
  means,
  sds: {},
})

describe('scales', () => {
  it('say a true minus, and no more decimals than they need', () => {
    expect([sayFigure(-5), sayFigure(0.30000000000000004), sayFigure(1200)]).toEqual(['−5', '0.3', '1200'])
  })
  it.each([
    [350, 6450, [2000, 6000]],
    [-21, 17, [-20, 10]],
    [0, 1, [0, 1]],
    [29.9, 34.2, [30, 34]],
  ] as const)('between %d and %d: a low and a high figure', (low, high, figures) => {
    const [a, b] = scaleFigures([low, high])
    expect([a, b]).toEqual(figures)
    expect(a >= low && b <= high && b > a).toBe(true)
  })
  it('noise does not fill a chart, and a channel without a value has a scale all the same', () => {
    const [low, high] = roomy('rpm', 698, 702)
    expect(high - low).toBeGreaterThan(200)
    expect(roomy('rpm', null, null)).toEqual([0, 1])
  })
  it('an axis names its quantity and unit; a chart has no palette, box or animation of its own', () => {
    expect(scaleAxis(t, 'x', { name: 'airflow, g/s' })).toMatchObject({
      name: 'airflow, g/s',
      splitLine: { show: false },
    })
    expect(baseOption(t)).toMatchObject({ animation: false, color: ['#000'], tooltip: { renderMode: 'richText' } })
  })
})

describe('trims over airflow', () => {
  it('both banks, only steady points, by load where one has no airflow', () => {
    const idle = point('idle', { maf_gs: 2.4, trim1_pct: 12, trim2_pct: 10 })
    const { against, marks } = trimMarks([idle, point('snap', { maf_gs: 30, trim1_pct: 3 })])
    expect(against).toBe('maf_gs')
    expect(marks.map((m) => [m.kind, m.bank, m.x, m.trim])).toEqual([
      ['idle', 1, 2.4, 12],
      ['idle', 2, 2.4, 10],
    ])
    const loaded = [20, 30].map((load_pct) => point('hold', { load_pct, trim1_pct: 4 }))
    expect(trimMarks(loaded)).toMatchObject({ against: 'load_pct', marks: [{ x: 20 }, { x: 30 }] })
    // neither of every one: the speed, and it is called that
    const mixed = trimMarks([idle, ...loaded])
    expect(mixed.against).toBe('rpm')
    expect(mixed.marks[0].x).toBe(idle.rpm)
    expect(trimMarks([]).marks).toEqual([])
  })
})

describe('a recording', () => {
  const trace = { time_s: [0, 1, 2, 3], rpm: [700, 710, null, 705], maf_gs: [2, 3, 2, 2] }
  const option = traceOption(t, {
    trace,
    channels: ['rpm', 'maf_gs'],
    expected: { maf_gs: [[1.5, 1.5, null, 1.5]] },
    heightPx: 600,
    say: (_, x) => `${x}\u2009u`,
  }) as {
    series: { id?: string; data: unknown[]; connectNulls: boolean }[]
    grid: unknown[]
    yAxis: { axisLabel: { formatter: (x: number) => string } }[]
  }

  it('has a chart and a scale for each channel, what is expected under its trace', () => {
    expect(option.grid).toHaveLength(2)
    expect(option.series.map((s) => s.id)).toEqual(['trace-rpm', undefined, 'trace-maf_gs'])
    expect(option.series[0].data[2]).toEqual([2, null])
    // a gap in what is expected stays one
    expect(option.series[1].connectNulls).toBe(false)
    expect(option.yAxis[0].axisLabel.formatter(-5)).toBe('−5')
  })
  it('a closer look has its own rows, and scales that fit what is in sight', () => {
    const near = { time_s: [0, 1, 1.5, 2, 3], rpm: [700, 2500, 2510, 2490, 705], maf_gs: [2, 3, 3, 3, 2] }
    const say = (_: unknown, x: number): string => String(x)
    const closer = closerOption(t, { trace: near, channels: ['rpm'], range: [0.9, 2.1], say }) as {
      series: { id: string; data: unknown[] }[]
      yAxis: { min: number; max: number }[]
    }
    expect(closer.series).toMatchObject([{ id: 'trace-rpm' }])
    expect(closer.series[0].data).toHaveLength(5)
    expect([closer.yAxis[0].min > 2300, closer.yAxis[0].max < 2700]).toEqual([true, true])
  })
  it('stretches lie on every chart, the open one between heavy edges', () => {
    const { series } = stretchesOption(
      t,
      ['rpm', 'maf_gs'],
      [
        { startS: 0, endS: 1, strong: false },
        { startS: 2, endS: 3, strong: true },
      ],
    ) as { series: { markArea: { data: [{ xAxis: number; itemStyle: { borderWidth?: number } }, unknown][] } }[] }
    expect(series).toHaveLength(2)
    expect(series[0].markArea.data.map(([a]) => [a.xAxis, a.itemStyle.borderWidth])).toEqual([
      [0, undefined],
      [2, 3],
    ])
  })
  it('the cursor takes the nearest row', () => {
    expect([-5, 0.4, 0.6, 2.4, 99].map((s) => nearest(trace.time_s, s))).toEqual([0, 0, 1, 2, 3])
  })
})

describe('a live strip', () => {
  it('a gap stays a gap, and the scale has at least its span', () => {
    const drawn = stripRows(
      [
        [0, 10],
        [0.1, 10.2],
        [5, 10.1],
      ],
      1.5,
      4,
    )!
    expect(drawn.rows).toEqual([
      [0, 10],
      [0.1, 10.2],
      [2.55, null],
      [5, 10.1],
    ])
    expect(drawn.high - drawn.low).toBeCloseTo(4.4, 6)
    expect(stripRows([], 1, 1)).toBeUndefined()
  })
  it('three are drawn in one frame, the newest of each, and what is taken back not at all', async () => {
    const frames: (() => void)[] = []
    globalThis.requestAnimationFrame = (f) => frames.push(f as () => void)
    const drawn: string[] = []
    const keys = ['a', 'b', 'c', 'd'].map((name) => ({ name }))
    keys.forEach((k) => inTurn(k, () => drawn.push(`${k.name} old`)))
    keys.forEach((k) => inTurn(k, () => drawn.push(k.name)))
    inTurn({ name: 'e' }, () => drawn.push('never'))()
    frames.shift()!()
    expect(drawn).toEqual(['a', 'b', 'c'])
    frames.shift()!()
    expect(drawn).toEqual(['a', 'b', 'c', 'd'])
    expect(frames).toEqual([])
  })
})
