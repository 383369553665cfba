import { codeWords } from '../diagnosis/index.js'
import { live, type CodeRecord, type VisitFile } from './records.js'
import { remediesOf } from './remedies.js'
import { stateOfRun } from './runs.js'

/** Work that may set a code of its own. */
export type CodeSource = 'sensor-unplugged' | 'throttle-cleaned' | 'fed' | 'battery-off'

/** A code that our own work may set: number, meaning in our words, and which work. */
export interface ExpectedCode {
  readonly code: string
  readonly label: string
  readonly from: CodeSource
}

export const EXPECTED_CODES: readonly ExpectedCode[] = [
  { code: 'P0102', label: 'airflow signal too low: the sensor was unplugged', from: 'sensor-unplugged' },
  { code: 'P0113', label: 'intake temperature open: the sensor was unplugged', from: 'sensor-unplugged' },
  { code: 'P0507', label: 'idle above command: more air passes than was learnt', from: 'throttle-cleaned' },
  { code: 'P0172', label: 'mixture rich, bank 1: cleaner is fuel', from: 'fed' },
  { code: 'P0175', label: 'mixture rich, bank 2: cleaner is fuel', from: 'fed' },
  { code: 'P0300', label: 'misfire of changing cylinders: while liquid was fed', from: 'fed' },
  { code: 'P0562', label: 'supply low: the battery was off', from: 'battery-off' },
]

/** What clearing wipes; said before it is done. */
export const CLEARING_WIPES =
  'Clearing wipes freeze-frame, readiness and learnt trims. An inspection then needs completed drive cycles. Permanent codes stay until their monitor has passed.'

/** The expected code of a number, or undefined: then it is a finding. */
export const expectedCode = (code: string): ExpectedCode | undefined =>
  EXPECTED_CODES.find((c) => c.code === code.toUpperCase())

/** What of this visit's work may have set codes. */
export function codeSources(f: VisitFile): ReadonlySet<CodeSource> {
  const out = new Set<CodeSource>()
  const at = (station: string): boolean =>
    live(f.items).some((i) => i.station === station) ||
    live(f.steps).some((s) => s.station === station) ||
    live(f.repairs).some((r) => r.state === 'done' && r.station === station && r.kind !== 'leave')
  if (at('airflow-sensor')) out.add('sensor-unplugged')
  if (live(f.steps).some((s) => s.station === 'throttle' || s.station === 'idle-valve')) out.add('throttle-cleaned')
  if (live(f.repairs).some((r) => r.state === 'done' && r.kind === 'clean' && r.station === 'throttle'))
    out.add('throttle-cleaned')
  if (live(f.runs).some((r) => r.procedure === 'feed' && r.events.length > 0)) out.add('fed')
  if (batteryWasOff(f)) out.add('battery-off')
  return out
}

/** Whether the battery was off in this visit, by a timer or by its procedure. */
export const batteryWasOff = (f: VisitFile): boolean =>
  live(f.timers).some((t) => t.kind === 'battery-off') ||
  live(f.runs).some((r) => r.procedure === 'battery-off' && stateOfRun(f, r)?.status === 'passed')

/** Codes that it came with and that nobody has cleared: with one of them the lamp can stay on. A pending one sets none. */
export const keptCodes = (f: VisitFile): CodeRecord[] =>
  live(f.codes).filter((c) => c.when === 'before' && !c.cleared && c.state !== 'pending')

/** Whether it came with a code that was noted and not confirmed, which nobody has cleared. */
export const hasPending = (f: VisitFile): boolean =>
  live(f.codes).some((c) => c.when === 'before' && !c.cleared && c.state === 'pending')

/** Whose a code is that was read: what it came with, what this work can have set, else a finding. */
export type Whose = { readonly whose: 'came' | 'finding' } | { readonly whose: 'ours'; readonly label: string }

/** Only a code that was not there before and that something done here can set may be ours. */
export function whoseCode(f: VisitFile, c: Pick<CodeRecord, 'code' | 'when'>): Whose {
  if (c.when === 'before') return { whose: 'came' }
  if (live(f.codes).some((x) => x.when === 'before' && x.code === c.code)) return { whose: 'came' }
  const expected = expectedCode(c.code)
  return expected && codeSources(f).has(expected.from) ? { whose: 'ours', label: expected.label } : { whose: 'finding' }
}

/** Whose a code is, in words. */
export function whoseSaid(f: VisitFile, c: Pick<CodeRecord, 'code' | 'when'>): string {
  const w = whoseCode(f, c)
  switch (w.whose) {
    case 'ours':
      return `can be ours, ${w.label}`
    case 'came':
      return c.when === 'before' ? (codeWords(c.code) ?? 'came with it') : 'was there before: not ours'
    case 'finding':
      return 'not ours: a finding'
  }
}

/** A code that still stands after the work and is none of it. */
export interface OpenCode {
  readonly code: CodeRecord
  /** It came with it, was cleared, and was read again: what set it is still there. */
  readonly isBack: boolean
}

/** Codes that still stand after the work and are none of it. Read again after the drive, the newer word counts. */
export function openCodes(f: VisitFile): OpenCode[] {
  const codes = live(f.codes)
  const drives = codes.filter((c) => c.when === 'after-drive')
  const wasCleared = (c: CodeRecord): boolean =>
    codes.some((x) => x.when === 'before' && x.code === c.code && x.cleared === true)
  return codes
    .filter((c) => c.when !== 'before' && !c.cleared)
    .filter((c) => c.when === 'after-drive' || !drives.some((d) => d.code === c.code))
    .flatMap((code): OpenCode[] => {
      const { whose } = whoseCode(f, code)
      if (whose === 'finding') return [{ code, isBack: false }]
      return whose === 'came' && wasCleared(code) ? [{ code, isBack: true }] : []
    })
}

/** Open codes that were read before the last of the work: it may have answered them, and only clearing, a drive and reading tell. */
export function overtakenCodes(f: VisitFile): OpenCode[] {
  const last = remediesOf(f).reduce((at, r) => (r.at > at ? r.at : at), '')
  return openCodes(f).filter(({ code }) => code.at < last)
}
