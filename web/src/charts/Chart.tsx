import type { ECharts, EChartsCoreOption } from 'echarts/core'
import { useEffect, useRef, useState } from 'react'
import { Dialog } from '../kit/Dialog.js'
import { Menu } from '../kit/Menu.js'
import { Working } from '../kit/Working.js'
import { saveFile } from '../parts/saveFile.js'
import { useSettings } from '../store/settings.js'
import { baseOption } from './base.js'
import { chartTokens, type ChartTokens } from './tokens.js'

/** A calm chart waits so long for the next change [ms]. */
const CALM_MS = 150

/** A canvas does not wait for its letters: they are asked for before anything is drawn. */
async function lettersLoaded(): Promise<void> {
  const { word, fig } = chartTokens()
  await Promise.all([document.fonts.load(`16px ${word}`), document.fonts.load(`600 16px ${fig}`), document.fonts.ready])
}

/** What a chart shows, as rows: for those who hear the page, and for anyone who wants the figures. */
export interface ChartTable {
  readonly head: readonly string[]
  readonly rows: readonly (readonly (string | number)[])[]
}

/**
 * The one part that draws charts: lazy, in the colours and letters of the page, with its figures as a table and as a
 * picture one tap away.
 */
export function Chart({
  label,
  option,
  table,
  className,
  calm = false,
  onReady,
}: {
  /** What it shows, in words. */
  label: string
  /** Made anew when what it is made of changes; keep it with useCallback. */
  option: (t: ChartTokens) => EChartsCoreOption
  table: ChartTable
  /** Its size. */
  className: string
  /** Drawn anew only when nothing has changed for a moment: what is typed and weighed goes before it. */
  calm?: boolean
  /** Called with the drawn chart, for what reacts to it; called anew when it is drawn anew. */
  onReady?: (chart: ECharts) => (() => void) | void
}) {
  const box = useRef<HTMLDivElement>(null)
  const chart = useRef<ECharts>(undefined)
  const painted = useRef(false)
  const [drawn, setDrawn] = useState(false)
  const [failed, setFailed] = useState(false)
  const [asTable, setAsTable] = useState(false)
  const { theme } = useSettings()
  const ready = useRef(onReady)
  ready.current = onReady

  useEffect(() => {
    const el = box.current!
    let gone = false
    let leave: (() => void) | void
    const fit = new ResizeObserver(() => chart.current?.resize())
    void Promise.all([import('./echarts.js'), lettersLoaded()]).then(
      ([{ init }]) => {
        if (gone) return
        chart.current = init(el, undefined, { renderer: 'canvas' })
        setDrawn(true)
        leave = ready.current?.(chart.current)
        fit.observe(el)
      },
      () => !gone && setFailed(true),
    )
    return () => {
      gone = true
      fit.disconnect()
      leave?.()
      chart.current?.dispose()
      chart.current = undefined
    }
  }, [])

  useEffect(() => {
    if (!drawn) return
    const draw = (): void => {
      const t = chartTokens()
      const aria = { enabled: true, label: { description: label } }
      chart.current?.setOption({ ...baseOption(t), ...option(t), aria }, true)
      painted.current = true
    }
    if (!calm || !painted.current) return draw()
    const timer = setTimeout(draw, CALM_MS)
    return () => clearTimeout(timer)
  }, [drawn, option, label, theme, calm])

  const asPicture = (): void => {
    const canvas = chart.current?.renderToCanvas({ pixelRatio: 2, backgroundColor: chartTokens().face })
    canvas?.toBlob((blob) => blob && saveFile(blob, `${label.slice(0, 60)}.png`), 'image/png')
  }
  return (
    <figure className={className.includes('h-full') ? 'relative h-full' : 'relative'}>
      <div ref={box} className={className} role="img" aria-label={label} data-drawn={drawn} />
      {failed && (
        <p className="wrong absolute inset-x-0 top-1/3">
          The drawing could not be loaded: the server does not answer. Its figures stand in the table.
        </p>
      )}
      {!drawn && !failed && <Working label={`drawing: ${label}`} className="absolute inset-x-0 top-1/2" />}
      <Menu
        label={`${label}: more`}
        className="absolute top-0 right-0"
        acts={[
          { label: 'as a table', onSelect: () => setAsTable(true) },
          { label: 'as a picture', onSelect: asPicture },
        ]}
      />
      <Dialog open={asTable} onOpenChange={setAsTable} title={label} wide>
        <table className="w-full border-collapse">
          <thead>
            <tr>
              {table.head.map((h) => (
                <th key={h} scope="col" className="pr-14 text-left text-small font-medium text-soft">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {table.rows.map((row, i) => (
              <tr key={i}>
                {row.map((cell, k) => (
                  <td
                    key={k}
                    className={`border-t border-t-line pr-14 ${typeof cell === 'number' ? 'fig text-lead' : ''}`}
                  >
                    {typeof cell === 'number' ? Number(cell.toPrecision(5)) : cell}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </Dialog>
    </figure>
  )
}
