import { describe, expect, it } from '@jest/globals'
import { readRecording } from './index.js'

describe('figures that each stand behind their own name', () => {
  const lines = (f: (i: number) => string): Record<string, number> => {
    const r = readRecording(new TextEncoder().encode(Array.from({ length: 40 }, (_, i) => f(i)).join('\n')))
    if (!r.ok) throw new Error(r.error.message)
    return Object.fromEntries(Object.entries(r.recording.columns).map(([id, xs]) => [id, xs.at(-1)!]))
  }
  const want = { time_s: 39, rpm: 739, maf_gs: 2.5, stft1_pct: -1.5 }
  it.each([
    [
      'a time ahead of them',
      (i: number) => `2026-11-30 10:00:${String(i).padStart(2, '0')} rpm=${700 + i}rpm maf=2.5g/s stft1=-1.5%`,
    ],
    ['a decimal comma', (i: number) => `[${i},5] rpm=${700 + i}; maf=2,5; stft1=-1,5`],
    ['commas between', (i: number) => `t=${i}.5,rpm=${700 + i},maf=2.5,stft1=-1.5`],
    ['attributes of a row', (i: number) => `<row t="${i}.5" rpm="${700 + i}" maf="2.5" stft1="-1.5"/>`],
  ])('%s', (_, line) => expect(lines(line)).toEqual(want))
  it('each channel’s samples one after the other', () => {
    const channel = (name: string, figure: (i: number) => number): object => ({
      name,
      samples: Array.from({ length: 40 }, (_, i) => [i, figure(i)]),
    })
    const channels = [channel('rpm', (i) => 700 + i), channel('maf', () => 2.5), channel('stft1', () => -1.5)]
    expect(lines((i) => (i ? '' : JSON.stringify({ channels })))).toEqual(want)
  })
  it('and in lines of one value each, one channel after the other', () => {
    const figures: readonly (readonly [string, (i: number) => number])[] = [
      ['rpm', (i) => 700 + i],
      ['maf', () => 2.5],
      ['stft1', () => -1.5],
    ]
    const text = figures.flatMap(([name, of]) => Array.from({ length: 40 }, (_, i) => `${i},${name},${of(i)}`))
    expect(lines((i) => (i ? '' : ['time,parameter,value', ...text].join('\n')))).toEqual(want)
  })
})

it.each([
  [
    'a page',
    '<html><body><table><tr><td>car</td></tr></table><table border=1>',
    'tr',
    'th',
    'td',
    '</table></body></html>',
  ],
  [
    'a sheet saved as markup',
    '<?xml version="1.0"?><Workbook><Worksheet ss:Name="log"><Table>',
    'Row',
    'Data',
    'Data',
    '</Table></Worksheet></Workbook>',
  ],
])('the table of %s is read', (_, before, row, head, cell, after) => {
  const line = (tag: string, cells: readonly (string | number)[]): string =>
    `<${row}>${cells.map((c) => `<${tag} class="c"><b>${c}</b>&nbsp;</${tag}>`).join('')}</${row}>`
  const rows = Array.from({ length: 40 }, (_, i) => line(cell, [i, 700 + i, '2,5', '-1,5']))
  const text = [before, line(head, ['Time', 'RPM', 'Air flow [g/s]', 'STFT 1 [&#37;]']), ...rows, after].join('\n')
  const r = readRecording(new TextEncoder().encode(text))
  if (!r.ok) throw new Error(r.error.message)
  expect(Object.fromEntries(Object.entries(r.recording.columns).map(([id, xs]) => [id, xs.at(-1)]))).toEqual({
    time_s: 39,
    rpm: 739,
    maf_gs: 2.5,
    stft1_pct: -1.5,
  })
})

describe('frames of a bus as other logs write them', () => {
  const HEX = ['04 41 0C 0A F0 00 00 00', '04 41 10 01 36 00 00 00', '03 41 06 82 00 00 00 00']
  it.each([
    [
      'counted, in milliseconds',
      (i: number, hex: string) => `${i + 1})  ${(1000 + i * 100.5).toFixed(1)}  Rx  07E8  8  ${hex} `,
    ],
    ['with channel and direction', (i: number, hex: string) => `   ${(i / 10).toFixed(6)} 1  7E8   Rx   d 8 ${hex}`],
    ['of 29 bits', (i: number, hex: string) => `   ${(i / 10).toFixed(6)} 1  18DAF110x  Rx   d 8 ${hex}  Length = 0`],
    ['behind a clock', (i: number, hex: string) => `10:00:${(i / 10).toFixed(3).padStart(6, '0')} 7E8 8 ${hex}`],
  ])('%s', (_, line) => {
    const text = ['; a line ahead', ...Array.from({ length: 90 }, (_, i) => line(i, HEX[i % 3]))].join('\n')
    const r = readRecording(new TextEncoder().encode(text))
    if (!r.ok) throw new Error(r.error.message)
    const { time_s, rpm, maf_gs, stft1_pct } = r.recording.columns
    expect([rpm![0], maf_gs![0], stft1_pct![0]]).toEqual([700, 3.1, 1.5625])
    expect(time_s!.at(-1)).toBeCloseTo(8.7, 0)
  })
})
