import { Download, Printer } from 'lucide-react'
import { bankDifference, figureText, roundToFill, trimSheet, type TrimRow, type VisitFile } from '@uvula/core'
import { saveFile } from '../../parts/saveFile.js'
import { TRIM_KINDS, TRIM_HEAD } from './words.js'

const show = (x: number | undefined, digits = 1): string => (x === undefined ? '' : figureText(x, digits))

/** Lines of the sheet, one a bank: what is the same for both stands once. */
function linesOf(rows: readonly TrimRow[]): string[][] {
  return rows.flatMap((r) =>
    r.banks.map((b, i) => [
      i ? '' : (TRIM_KINDS[r.kind] ?? r.kind),
      i ? '' : r.rpm.toFixed(0),
      String(b.bank),
      show(b.short),
      show(b.long),
      show(b.total),
      b.verdict ?? '',
      i ? '' : show(r.airGS, 2),
      i || !r.expectedGS
        ? ''
        : `${show(r.expectedGS.low, 2)} to ${show(r.expectedGS.high, 2)}${r.air === 'inside' ? '' : `, ${r.air}`}`,
    ]),
  )
}

/** Both banks at every point: short, long, total, airflow against what belongs there. */
export function TrimSheet({ file }: { file: VisitFile }) {
  const round = roundToFill(file)
  const rows = trimSheet(file, round)
  const banks = bankDifference(rows)
  const lines = linesOf(rows)
  if (!lines.length)
    return <p className="py-8">No trims yet in this round: type them under figures, or take a recording.</p>
  const csv = (): void =>
    saveFile(
      new Blob([[TRIM_HEAD, ...lines].map((l) => l.map((x) => `"${x.replace('−', '-')}"`).join(',')).join('\r\n')], {
        type: 'text/csv',
      }),
      `${file.vehicle.plate.replace(/\W+/g, '-')}-trims.csv`,
    )
  return (
    <div className="py-8">
      <p className="hidden print:block">
        {file.vehicle.spec.name}, {file.vehicle.plate}
        {round > 0 ? `, round ${round}` : ''}
      </p>
      <p className="hidden text-small text-soft narrow:block print:hidden">push sideways for verdict and airflow</p>
      <div className="overflow-x-auto" role="region" aria-label="trims" tabIndex={0}>
        <table className="w-full max-w-820 border-collapse">
          <thead>
            <tr className="border-b-2 border-b-ink text-left text-small text-soft">
              {TRIM_HEAD.map((h) => (
                <th key={h} scope="col" className="py-4 pr-14 font-medium whitespace-nowrap">
                  {h}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {lines.map((l, i) => (
              <tr key={i} className={l[0] ? 'border-t border-t-line' : ''}>
                {l.map((x, j) => (
                  <td
                    key={j}
                    className={`py-4 pr-14 whitespace-nowrap ${j > 0 && j !== 6 ? 'fig' : ''} ${x === 'outside' || /, (low|high)$/.test(x) ? 'font-semibold underline decoration-2' : ''}`}
                  >
                    {x}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {banks && <p className="mt-8 max-w-640 border-l-6 border-l-ink pl-10">{banks}</p>}
      <p className="mt-8 text-small text-soft">
        Total is (1 + short)·(1 + long) − 1. Good within ±5 %, acceptable within ±10 %.
      </p>
      <div className="mt-8 flex gap-8 print:hidden">
        <button type="button" className="act" onClick={() => print()}>
          <Printer size={22} aria-hidden /> print
        </button>
        <button type="button" className="act" onClick={csv}>
          <Download size={22} aria-hidden /> as a table
        </button>
      </div>
    </div>
  )
}
