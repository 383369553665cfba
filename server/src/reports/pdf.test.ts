import { describe, expect, it } from '@jest/globals'
import { inflateSync } from 'node:zlib'
import { fontRuns, inFonts } from './pdf-fonts.js'
import { sheetPdf } from './pdf.js'
import type { ReportEntity } from './report.entity.js'

const shop = { name: 'Šafář & Łoś', demo: false, altitudeM: 0, labourPerHour: 60, currency: 'Kč', partsDays: [] }
const sheet = {
  title: 'the vet’s estate',
  plate: 'ŠŁ 1',
  customer: 'Владимир',
  engine: '',
  place: '',
  complaint: '',
  plain: 'λ 1.02, idle ≥ 620 rpm.',
  found: [],
  done: [],
  left: [],
  advised: [],
  changes: [],
  labourMinutes: 0,
  labourPrice: 0,
  partsPrice: 0,
}

describe('letters of a PDF', () => {
  it('each run is set in a font that has it', () =>
    expect(fontRuns('Škoda ≥ 3')).toEqual([
      { text: 'Š', font: 'BarlowExt' },
      { text: 'koda ', font: 'Barlow' },
      { text: '≥', font: 'Roboto' },
      { text: ' 3', font: 'Barlow' },
    ]))
  it('an accent that stands apart is joined to its letter', () =>
    expect(fontRuns('S\u030c')).toEqual([{ text: 'Š', font: 'BarlowExt' }]))
  it('nothing stays nothing; styles and what is no text stay as they are', () => {
    expect(fontRuns('')).toEqual([])
    expect(inFonts([{ text: 'λ', bold: true }, { canvas: [] }])).toEqual([
      { text: [{ text: 'λ', font: 'Roboto' }], bold: true },
      { canvas: [] },
    ])
  })
  it('a printed sheet holds Š, Ł, ≥, λ and Cyrillic as letters', async () => {
    const report = { number: 1, issuedAt: '2026-01-01', sheet } as unknown as ReportEntity
    const pdf = await sheetPdf(report, shop)
    // which glyph stands for which letter is written in each font's own table
    const tables = [...pdf.toString('latin1').matchAll(/stream\r?\n([\s\S]*?)\r?\nendstream/g)]
      .map((m) => {
        try {
          return inflateSync(Buffer.from(m[1], 'latin1')).toString('latin1')
        } catch {
          return ''
        }
      })
      .filter((t) => t.includes('beginbfrange') || t.includes('beginbfchar'))
      .join()
      .toLowerCase()
    for (const letter of 'ŠŁ≥λВ')
      expect([letter, tables.includes(letter.codePointAt(0)!.toString(16).padStart(4, '0'))]).toEqual([letter, true])
  })
})
