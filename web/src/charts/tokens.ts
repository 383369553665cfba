/** The tokens a chart is drawn with: read from the page, so that day, night and print have one home. */
export interface ChartTokens {
  readonly face: string
  readonly ink: string
  readonly soft: string
  readonly line: string
  readonly air: string
  readonly now: string
  /** Family of words and of figures. */
  readonly word: string
  readonly fig: string
}

export function chartTokens(): ChartTokens {
  const style = getComputedStyle(document.documentElement)
  const of = (name: string): string => style.getPropertyValue(`--${name}`).trim()
  return {
    face: of('color-face'),
    ink: of('color-ink'),
    soft: of('color-soft'),
    line: of('color-line'),
    air: of('color-air'),
    now: of('color-now'),
    word: of('font-word'),
    fig: of('font-fig'),
  }
}

/** Sizes of figures and words on a chart [px]: nothing is smaller than what is read at arm's length. */
export const CHART_FIGURE = 18
export const CHART_WORD = 16
