import fc from 'fast-check'
import { describe, expect, it } from '@jest/globals'
import { gzipSync, strToU8, zipSync } from 'fflate'
import { columnsToAsk, readRecording } from './index.js'

const table = [
  'Time,RPM,MAF (g/s)',
  ...Array.from({ length: 40 }, (_, i) => `${i / 2},${700 + i},${i % 2 ? '' : '3.1'}`),
].join('\n')
const SHARED = ['Time', 'RPM', 'MAF (g/s)'].map((x) => `<si><t>${x}</t></si>`).join('')

/** A spreadsheet as an office program keeps it: names shared, empty cells left out, one sheet of words beside. */
function spreadsheet(): Uint8Array {
  const head = `<row r="1">${[0, 1, 2].map((k) => `<c r="${'ABC'[k]}1" t="s"><v>${k}</v></c>`).join('')}</row>`
  const rows = Array.from({ length: 40 }, (_, i) => {
    const r = i + 2
    const maf = i % 2 ? `<c r="C${r}" s="1"/>` : `<c r="C${r}"><v>3.1000000000000001</v></c>`
    return `<row r="${r}"><c r="A${r}"><v>${i / 2}</v></c><c r="B${r}" t="n"><v>${700 + i}</v></c>${maf}</row>`
  })
  return zipSync({
    'xl/sharedStrings.xml': strToU8(`<sst>${SHARED}</sst>`),
    'xl/worksheets/sheet1.xml': strToU8('<sheetData><row><c t="inlineStr"><is><t>Notes</t></is></c></row></sheetData>'),
    'xl/worksheets/sheet2.xml': strToU8(`<worksheet><sheetData>${head}${rows.join('')}</sheetData></worksheet>`),
  })
}
const archive = zipSync({
  'readme.txt': strToU8('nothing of use '.repeat(500)),
  'drive/log.csv': strToU8(table),
  '__MACOSX/drive/._log.csv': strToU8(table),
})

describe('packed files', () => {
  const plain = readRecording(strToU8(table))
  it.each([
    ['gzip', gzipSync(strToU8(table)), []],
    ['an archive', archive, ['2 tables are packed in this file; "drive/log.csv" is read.']],
    ['a spreadsheet', spreadsheet(), ['2 tables are packed in this file; one sheet is read.']],
  ])('%s reads as the table inside', (_, bytes, said) => {
    const read = readRecording(bytes)
    expect(read.ok && plain.ok && read.recording.columns).toEqual(plain.ok && plain.recording.columns)
    expect(read.ok && read.recording.warnings.map((w) => w.message)).toEqual(said)
  })
  it('without a table, or packed twice: said', () => {
    const said = (files: Record<string, Uint8Array>): string => {
      const r = readRecording(zipSync(files))
      return r.ok ? '' : r.error.message
    }
    expect(said({ 'a.png': strToU8('x') })).toMatch(/holds no table of text/)
    expect(said({ 'a.csv': gzipSync(strToU8(table)) })).toMatch(/packed file inside a packed file/)
    expect(said({ 'a.csv': strToU8('hello\nworld\n') })).toMatch(/No line names the channels/)
  })
  it('names that are not understood are asked about all the same', () => {
    const odd = table.replace('RPM', 'Kurbel xyz').replace('MAF (g/s)', 'Qm zq')
    expect(columnsToAsk(zipSync({ 'log.csv': strToU8(odd) })).map((g) => g.label)).toEqual([
      'Time',
      'Kurbel xyz',
      'Qm zq',
    ])
  })
  it('damaged anywhere: read or refused, never thrown', () => {
    const whole = spreadsheet()
    const damage = fc.array(fc.tuple(fc.integer({ min: 4, max: whole.length - 1 }), fc.integer({ min: 0, max: 255 })), {
      maxLength: 6,
    })
    fc.assert(
      fc.property(damage, fc.integer({ min: 4, max: whole.length }), (changes, length) => {
        const bytes = whole.slice(0, length)
        for (const [at, to] of changes) bytes[at] = to
        expect(() => readRecording(bytes)).not.toThrow()
      }),
    )
  })
})
