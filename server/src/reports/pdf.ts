import pdfmake from 'pdfmake'
import type { Content, TableCell, TDocumentDefinitions } from 'pdfmake/interfaces.js'
import {
  figureText,
  changesTitle,
  idleTitle,
  placeOfChange,
  proofFigure,
  type Change,
  pictureBand,
  type Picture,
  type Sheet,
  type Technical,
} from '@uvula/core'
import type { Shop } from '@uvula/contract'
import { FONT_FOLDERS, PDF_FONTS, inFonts } from './pdf-fonts.js'

pdfmake.addFonts(PDF_FONTS)
pdfmake.setUrlAccessPolicy(() => false)
pdfmake.setLocalAccessPolicy((path) => FONT_FOLDERS.some((f) => path.startsWith(f)))

/** What of an issued sheet is printed. */
export interface PdfReport {
  readonly sheet: Sheet
  readonly number: number
  readonly issuedAt: string
}

/** An issued sheet as PDF: the customer's page, then the technician's. */
export function sheetPdf(report: PdfReport, shop: Shop): Promise<Buffer> {
  const s = report.sheet
  const name = `Sheet ${report.number}${report.number > 1 ? ', amends the one before' : ''}, ${report.issuedAt.slice(0, 10)}`
  const definition: TDocumentDefinitions = {
    pageSize: 'A4',
    pageMargins: [40, 36, 40, 36],
    defaultStyle: { font: 'Barlow', fontSize: 10.5, lineHeight: 1.15 },
    info: { title: `${s.title}, sheet ${report.number}`, creator: 'Uvula' },
    content: [...customerPage(s, shop, name), { text: '', pageBreak: 'after' }, ...technicianPage(s, shop, name)],
  }
  return pdfmake.createPdf({ ...definition, content: inFonts(definition.content) }).getBuffer()
}

const SOFT = '#454c4e'
const AIR = '#bfd3da'
const WIDE = 515

const rule = (): Content => ({
  canvas: [{ type: 'line', x1: 0, y1: 0, x2: WIDE, y2: 0, lineWidth: 0.6 }],
  margin: [0, 6, 0, 6],
})

const list = (title: string, lines: readonly string[]): Content[] =>
  lines.length
    ? [
        { text: title, fontSize: 9, color: SOFT, margin: [0, 6, 0, 1] },
        ...lines.map((x): Content => ({ text: x, margin: [0, 0, 0, 2] })),
      ]
    : []

const head = (left: string, right: string): Content[] => [
  {
    columns: [
      { text: left, bold: true },
      { text: right, alignment: 'right' },
    ],
  },
  rule(),
]

/** One sentence, one picture, what was done, what is left, when to come back, what it comes to. */
function customerPage(s: Sheet, shop: Shop, name: string): Content[] {
  return [
    ...head(shop.name, name),
    { text: s.title, fontSize: 20, bold: true },
    {
      text: [s.plate, s.customer, s.odometerKm ? `${s.odometerKm.toLocaleString('en')} km` : '']
        .filter(Boolean)
        .join('   '),
    },
    { text: s.plain, fontSize: 13, margin: [0, 10, 0, 4] },
    ...(s.picture ? picture(s.picture) : []),
    ...list('done', s.done),
    ...list('left', s.left),
    ...list('when to come back', s.advised),
    ...list('what a decarbonizing service could bring', s.gain ?? []),
    ...list('not bought', s.avoided ?? []),
    rule(),
    { text: price(s, shop), alignment: 'right' },
    ...(s.price?.agreed
      ? [
          {
            text: `agreed to by ${s.price.agreed.by}, ${s.price.agreed.how}, ${s.price.agreed.at.slice(0, 10)}: ${s.price.agreed.total.toFixed(2)} ${shop.currency}`,
            alignment: 'right',
            fontSize: 9,
          } as Content,
        ]
      : []),
  ]
}

/** One figure as it came and as it leaves, on a scale with the band where it belongs. */
function picture(p: Picture): Content[] {
  const b = pictureBand(p)
  const marks = [p.before, p.after, ...(b ? [b.low, b.high] : [])]
  const [least, most] = [Math.min(...marks), Math.max(...marks)]
  const room = 0.2 * (most - least || 1)
  const at = (x: number): number => (WIDE * (x - least + room)) / (most - least + 2 * room)
  const say = (x: number): string => figureText(x, p.decimals)
  return [
    { text: `${p.label}, ${p.unit}`, fontSize: 9, color: SOFT, margin: [0, 8, 0, 4] },
    {
      canvas: [
        ...(b
          ? [{ type: 'rect' as const, x: at(b.low), y: 8, w: Math.max(2, at(b.high) - at(b.low)), h: 16, color: AIR }]
          : []),
        { type: 'line', x1: 0, y1: 24, x2: WIDE, y2: 24, lineWidth: 1.2 },
        {
          type: 'line',
          x1: at(p.before),
          y1: 0,
          x2: at(p.before),
          y2: 24,
          lineWidth: 1.6,
          dash: { length: 3, space: 2 },
        },
        { type: 'rect', x: at(p.after) - 1.5, y: 0, w: 3, h: 24, color: 'black' },
      ],
    },
    {
      text: [
        { text: `${say(p.before)} before`, bold: true },
        ',  ',
        { text: `${say(p.after)} after`, bold: true },
        ...(b ? [`   (${say(b.low)} to ${say(b.high)} belongs)`] : []),
      ],
      margin: [0, 4, 0, 4],
    },
  ]
}

/** What was found and by what: readings, causes, tests, account, doses, torques. */
function technicianPage(s: Sheet, shop: Shop, name: string): Content[] {
  const t = s.technical
  return [
    ...head(`${shop.name}, for the technician`, name),
    { text: [{ text: s.title, bold: true }, `   ${[s.plate, s.engine, s.place].filter(Boolean).join('   ')}`] },
    ...list('came with', [s.complaint, ...(s.codes ?? [])].filter(Boolean)),
    ...list('found', s.found),
    ...list(idleTitle(s), s.judged ?? []),
    ...(s.changes.length ? [caption(changesTitle(s)), changes(s.changes)] : []),
    ...list('all points together', s.proved ?? []),
    ...(t ? technical(t, (s.measured ?? 'since') === 'since') : []),
    {
      text: 'Change told from noise: two runs of an unchanged car vary too; "no change seen" means within that.',
      fontSize: 8.5,
      color: SOFT,
      margin: [0, 8, 0, 0],
    },
  ]
}

/** @param leaves - it was measured after the work: causes stand as it leaves, too */
function technical(t: Technical, leaves: boolean): Content[] {
  const cell = (text: string, alignment: 'left' | 'right' = 'left'): TableCell => ({ text, alignment })
  const figure = (x: number | null, unit: string): string => (x === null ? '–' : proofFigure(x, unit))
  return [
    ...(t.readings.length
      ? [
          caption('readings'),
          table(
            ['point, figure', ...t.rounds, ''],
            t.readings.map((r) => [
              cell(`${r.point}: ${r.label}`),
              ...r.values.map((x) => cell(figure(x, r.unit), 'right')),
              cell(r.unit),
            ]),
          ),
        ]
      : []),
    ...(t.causes.length
      ? [
          caption('causes, of 100'),
          table(
            ['cause', 'as it came', ...(leaves ? ['as it leaves'] : [])],
            t.causes.map((c) => [
              cell(c.label),
              cell((100 * c.before).toFixed(0), 'right'),
              ...(leaves ? [cell((100 * c.after).toFixed(0), 'right')] : []),
            ]),
          ),
        ]
      : []),
    ...list('tests', t.tests),
    ...list('account of air', t.account),
    ...list('road test', t.road ?? []),
    ...list('doses', t.doses),
    ...list('fasteners that went back', t.torques),
    ...list('photos in the visit file', t.photos),
    ...list('entered by', t.hands.length ? [t.hands.join(', ')] : []),
  ]
}

const caption = (text: string): Content => ({ text, fontSize: 9, color: SOFT, margin: [0, 8, 0, 2] })

function table(names: readonly string[], rows: TableCell[][]): Content {
  const header = names.map((text, i): TableCell => ({
    text,
    fontSize: 9,
    color: SOFT,
    alignment: i ? 'right' : 'left',
  }))
  return {
    table: { headerRows: 1, widths: ['*', ...names.slice(1).map(() => 'auto' as const)], body: [header, ...rows] },
    layout: 'lightHorizontalLines',
    fontSize: 9.5,
  }
}

const price = (s: Sheet, shop: Shop): string => {
  const tax = s.price && s.price.tax > 0 ? `   tax ${s.price.taxPct} % ${s.price.tax.toFixed(2)}` : ''
  const total = s.price?.total ?? s.labourPrice + s.partsPrice
  return `labour ${s.labourMinutes} min ${s.labourPrice.toFixed(2)}   parts ${s.partsPrice.toFixed(2)}${tax}   together ${total.toFixed(2)} ${shop.currency}`
}

function changes(list: readonly Change[]): Content {
  const banks = list.some((c) => c.label.includes('bank 2'))
  const head = ['point', 'reading', 'before', 'after', 'verdict'].map((text): TableCell => ({
    text,
    fontSize: 9,
    color: '#454c4e',
  }))
  const rows = list.map((c): TableCell[] => [
    placeOfChange(c),
    banks ? c.label : c.label.replace(', bank 1', ''),
    { text: `${proofFigure(c.before, c.unit)} ${c.unit}`, alignment: 'right' },
    { text: `${proofFigure(c.after, c.unit)} ${c.unit}`, alignment: 'right' },
    c.verdict,
  ])
  return {
    table: { headerRows: 1, widths: ['auto', '*', 'auto', 'auto', 'auto'], body: [head, ...rows] },
    layout: 'lightHorizontalLines',
    fontSize: 9.5,
  }
}
