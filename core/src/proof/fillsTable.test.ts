import { describe, expect, it } from '@jest/globals'
import { readFillsTable } from './index.js'

describe('a table of fills', () => {
  it('is read by its heads in any order, with semicolons, decimal commas and a mark of thousands', () => {
    const { fills, refused } = readFillsTable(
      'Liter;Datum;km-Stand;voll\n48,2;01.03.2026;120.410;ja\n30;14.03.2026;120 800;nein\n51,05;28.03.2026;121.330;ja',
      [],
    )
    expect(refused).toEqual([])
    expect(fills).toEqual([
      { on: '2026-03-01', odometerKm: 120_410, litres: 48.2, full: true },
      { on: '2026-03-14', odometerKm: 120_800, litres: 30, full: false },
      { on: '2026-03-28', odometerKm: 121_330, litres: 51.05, full: true },
    ])
  })
  it('pasted without heads it is date, odometer, litres; a missing mark is to the brim', () =>
    expect(readFillsTable('2026-03-01\t1,250.5\t40.25\n', []).fills).toEqual([
      { on: '2026-03-01', odometerKm: 1250.5, litres: 40.25, full: true },
    ]))
  it('one day above twelve tells the order of all; without one a row is asked, not guessed', () => {
    expect(readFillsTable('3/28/2026,100,40\n4/2/2026,600,41', []).fills.map((f) => f.on)).toEqual([
      '2026-03-28',
      '2026-04-02',
    ])
    const unsure = readFillsTable('3/4/2026,100,40\n5/5/2026,600,41', [])
    expect(unsure.fills.map((f) => f.on)).toEqual(['2026-05-05'])
    expect(unsure.refused).toEqual([
      { line: 1, text: '3/4/2026, 100, 40', why: '"3/4/2026" can be two days; write it as 2026-03-12.' },
    ])
  })
  it('takes nothing twice, and names what a fill cannot be', () => {
    const here = [{ on: '2026-03-01', odometerKm: 1000, litres: 40, full: true }]
    const t = readFillsTable(
      'date,km,litres\n2026-03-01,1000,40\n2026-03-09,900,30\n2026-03-10,1500,-3\n2026-02-31,2,3',
      here,
    )
    expect([t.fills, t.known]).toEqual([[], 1])
    expect(t.refused.map((r) => [r.line, r.why])).toEqual([
      [3, 'The odometer runs backwards: an earlier fill stands at 1000 km.'],
      [4, 'A fill is more than 0 and at most 400 L.'],
      [5, '"2026-02-31" is no day; 2026-03-12 or 12.3.2026 is read.'],
    ])
  })
  it('litres to the thousandth are no thousands', () =>
    expect(readFillsTable('2026-03-01,1.250,48.250', []).fills).toMatchObject([{ odometerKm: 1250, litres: 48.25 }]))
  it('a table that is none says so', () => {
    expect(() => readFillsTable(' \n', [])).toThrow(/empty/)
    expect(() => readFillsTable('date,price\n2026-03-01,40', [])).toThrow(/No column is headed odometer or km/)
  })
})
