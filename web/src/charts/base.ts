import type { EChartsCoreOption } from 'echarts/core'
import { CHART_FIGURE, CHART_WORD, type ChartTokens } from './tokens.js'

/** What every chart of ours shares: no palette, no boxes, ink on the face, a scale with ticks. */
export const baseOption = (t: ChartTokens): EChartsCoreOption => ({
  animation: false,
  color: [t.ink],
  textStyle: { fontFamily: t.word, fontSize: CHART_WORD, color: t.ink },
  tooltip: {
    renderMode: 'richText',
    confine: true,
    backgroundColor: t.ink,
    borderWidth: 0,
    borderRadius: 0,
    shadowBlur: 0,
    shadowOffsetX: 0,
    shadowOffsetY: 0,
    padding: [6, 10],
    textStyle: { color: t.face, fontFamily: t.word, fontSize: CHART_WORD },
  },
})

interface AxisWords {
  /** Quantity and unit: "airflow, g/s". */
  readonly name: string
  readonly min?: number
  readonly max?: number
}

/** An axis as a scale: a line, ticks outward, figures under them, its quantity and unit at its end. */
export const scaleAxis = (t: ChartTokens, side: 'x' | 'y', { name, min, max }: AxisWords): object => ({
  type: 'value',
  name,
  min,
  max,
  nameLocation: side === 'x' ? 'middle' : 'end',
  nameGap: side === 'x' ? 30 : 10,
  nameTextStyle: { color: t.soft, fontFamily: t.word, fontSize: CHART_WORD, align: side === 'x' ? 'center' : 'left' },
  axisLine: { show: true, onZero: false, lineStyle: { color: t.ink, width: 1.5 } },
  axisTick: { show: true, length: 8, lineStyle: { color: t.ink, width: 1.5 } },
  axisLabel: {
    color: t.ink,
    fontFamily: t.fig,
    fontWeight: 600,
    fontSize: CHART_FIGURE,
    hideOverlap: true,
    formatter: (x: number) => sayFigure(x),
  },
  splitLine: { show: false },
})

/** A figure on a scale: a true minus, no more decimals than it needs. */
export const sayFigure = (x: number): string => String(Number(x.toPrecision(6))).replace('-', '−')
