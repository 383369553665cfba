import pdfmake from 'pdfmake'
import type { Content, TableCell, TDocumentDefinitions } from 'pdfmake/interfaces.js'
import type { Change, Sheet } from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { FONT_FOLDERS, PDF_FONTS, inFonts } from './pdf-fonts.js'
import type { ReportEntity } from './report.entity.js'

pdfmake.addFonts(PDF_FONTS)
pdfmake.setUrlAccessPolicy(() => false)
pdfmake.setLocalAccessPolicy((path) => FONT_FOLDERS.some((f) => path.startsWith(f)))

/** An issued sheet as PDF, one page where the work fits on one. */
export function sheetPdf(report: ReportEntity, shop: Shop): Promise<Buffer> {
  const s = report.sheet
  const rule: Content = {
    canvas: [{ type: 'line', x1: 0, y1: 0, x2: 515, y2: 0, lineWidth: 0.6 }],
    margin: [0, 6, 0, 6],
  }
  const list = (title: string, lines: readonly string[]): Content[] =>
    lines.length
      ? [
          { text: title, fontSize: 9, color: '#454c4e', margin: [0, 6, 0, 1] },
          ...lines.map((x): Content => ({ text: x, margin: [0, 0, 0, 2] })),
        ]
      : []
  const definition: TDocumentDefinitions = {
    pageSize: 'A4',
    pageMargins: [40, 36, 40, 36],
    defaultStyle: { font: 'Barlow', fontSize: 10.5, lineHeight: 1.15 },
    info: { title: `${s.title}, sheet ${report.number}`, creator: 'Uvula' },
    content: [
      {
        columns: [
          { text: shop.name, bold: true },
          {
            text: `Sheet ${report.number}${report.number > 1 ? ', amends the one before' : ''}, ${report.issuedAt.slice(0, 10)}`,
            alignment: 'right',
          },
        ],
      },
      rule,
      { text: s.title, fontSize: 20, bold: true },
      {
        text: [s.plate, s.customer, s.engine, s.odometerKm ? `${s.odometerKm.toLocaleString('en')} km` : '', s.place]
          .filter(Boolean)
          .join('   '),
      },
      { text: s.plain, fontSize: 13, margin: [0, 10, 0, 4] },
      ...list('came with', [s.complaint, ...(s.codes ?? [])].filter(Boolean)),
      ...list('found', s.found),
      ...list('done', s.done),
      ...list('left', s.left),
      ...list('advised', s.advised),
      ...list('its warm idle as it leaves', s.judged ?? []),
      ...list('what a decarbonizing service could bring', s.gain ?? []),
      ...(s.changes.length
        ? [
            { text: 'before and after, same points', fontSize: 9, color: '#454c4e', margin: [0, 8, 0, 2] } as Content,
            changes(s.changes),
            ...list('all points together', s.proved ?? []),
          ]
        : []),
      rule,
      { text: price(s, shop), alignment: 'right' },
      {
        text: 'Change told from noise: two runs of an unchanged car vary too; "no change seen" means within that.',
        fontSize: 8.5,
        color: '#454c4e',
        margin: [0, 8, 0, 0],
      },
    ],
  }
  return pdfmake.createPdf({ ...definition, content: inFonts(definition.content) }).getBuffer()
}

const price = (s: Sheet, shop: Shop): string =>
  `labour ${s.labourMinutes} min ${s.labourPrice.toFixed(2)}   parts ${s.partsPrice.toFixed(2)}   together ${(s.labourPrice + s.partsPrice).toFixed(2)} ${shop.currency}`

function changes(list: readonly Change[]): Content {
  const head = ['point', 'reading', 'before', 'after', 'verdict'].map((text): TableCell => ({
    text,
    fontSize: 9,
    color: '#454c4e',
  }))
  const rows = list.map((c): TableCell[] => [
    `${c.kind} ${c.rpm.toFixed(0)} rpm`,
    c.label,
    { text: `${c.before.toFixed(1)} ${c.unit}`, alignment: 'right' },
    { text: `${c.after.toFixed(1)} ${c.unit}`, alignment: 'right' },
    c.verdict,
  ])
  return {
    table: { headerRows: 1, widths: ['auto', '*', 'auto', 'auto', 'auto'], body: [head, ...rows] },
    layout: 'lightHorizontalLines',
    fontSize: 9.5,
  }
}
