import { andList, figureText, QUANTITIES } from '../units/index.js'
import type { OperatingPoint } from '../signals/index.js'
import type { AtStop, Change } from './compare.js'
import type { Pooled, ProofVerdict } from './verdict.js'

const NAMES: Readonly<Partial<Record<OperatingPoint['kind'], string>>> = {
  'key-on': 'key on, engine off',
  'idle-load': 'idle, loaded',
}

/** A point in words: a held one by its speed, an idle without one, since a remedy may change it. */
export const pointWords = (p: { readonly kind: OperatingPoint['kind']; readonly rpm: number }): string =>
  p.kind === 'hold' || p.kind === 'cruise' || p.kind === 'pull'
    ? `${p.kind === 'hold' ? 'held' : p.kind} at ${(Math.round(p.rpm / 100) * 100).toFixed(0)}`
    : (NAMES[p.kind] ?? p.kind)

/** Where a change was read; empty where its label says so itself. */
export const placeOfChange = (c: Pick<Change, 'kind' | 'rpm' | 'quantity'>): string =>
  c.kind === 'snap' || c.quantity === 'pump_loss' ? '' : pointWords(c)

/** The least change of a row that could have been seen, where it changed by less; undefined of one that moved where it belongs. */
export const unseenBelow = (c: Pick<Change, 'difference' | 'leastSeen'>): number | undefined =>
  Math.abs(c.difference) < c.leastSeen ? c.leastSeen : undefined

/** Decimals of units that are not canonical. */
const DECIMALS = new Map(
  Object.values(QUANTITIES).flatMap((q) => q.units.slice(1).map((u): [string, number] => [u.symbol, u.decimals])),
)

/** Canonical figures that are small below this are written in hundredths. */
const SMALL: Readonly<Record<string, number>> = { s: 1, 'g/s': 10, λ: 4 }

/** A figure of the record as it is written everywhere: whole speeds, hundredths of a short time, a small airflow and λ, else tenths. */
export const proofFigure = (x: number, unit: string): string =>
  figureText(
    x,
    DECIMALS.get(unit) ?? (unit === 'rpm' || Math.abs(x) >= 100 ? 0 : Math.abs(x) < (SMALL[unit] ?? 0) ? 2 : 1),
  )

const figure = (x: number, unit: string): string => proofFigure(Math.abs(x), unit)

/** One pooled quantity in a sentence with its interval, and the least that could have been seen. */
export function pooledSaid(p: Pooled): string {
  const at = p.points > 1 ? ` over ${p.points} points` : ''
  const words = `${p.what.charAt(0).toUpperCase()}${p.what.slice(1)}${at}`
  const amount = `${p.atLeast ? 'at least ' : ''}${figure(p.gain, p.unit)} ± ${figure(p.uncertainty, p.unit)} ${p.unit}`
  switch (p.verdict) {
    case 'better':
      return p.toBand ? `${words}: better, ${amount} nearer to where it belongs.` : `${words}: better by ${amount}.`
    case 'worse':
      return p.toBand ? `${words}: worse, ${amount} further from where it belongs.` : `${words}: worse by ${amount}.`
    case 'changed':
      return `${words}: ${amount} ${p.gain > 0 ? 'higher' : 'lower'} than before.`
    case 'no change seen':
      return `${words}: no change seen; one below ${figure(p.leastSeen, p.unit)} ${p.unit} could not have been seen.`
  }
}

/** Changes at one point that are told where nothing taken together has moved. */
const MOST_ALONE = 3

/** What changed at one point, in a sentence. */
function changeSaid(c: Change): string {
  const place = placeOfChange(c)
  const amount = `${figure(c.difference, c.unit)} ± ${figure(c.uncertainty, c.unit)} ${c.unit}`
  return `${c.label.charAt(0).toUpperCase()}${c.label.slice(1)}${place && `, ${place}`}: ${amount} ${c.difference > 0 ? 'higher' : 'lower'} than before.`
}

/** What became worse, shortly: trims once, where all of them say it together; empty where nothing was seen to. */
export const worseSaid = (proof: ProofVerdict): string[] =>
  proof.pooled
    .filter(
      (p, _, all) => p.verdict === 'worse' && !(all[0].verdict === 'worse' && p.what.startsWith(`${all[0].what},`)),
    )
    .map(
      (p) =>
        `${p.what} by ${p.atLeast ? 'at least ' : ''}${figure(p.gain, p.unit)} ± ${figure(p.uncertainty, p.unit)} ${p.unit}`,
    )

/** What a comparison says taken together: what was seen, else how much could have been; then what else was not the same. */
export function provedSaid(proof: ProofVerdict, besides: readonly string[]): string[] {
  if (!proof.changes.length) return ['Nothing was read both before and after the work.']
  const [all] = proof.pooled
  // what a bank says over all its points is said by all points together, where they say the same
  const twice = (p: Pooled): boolean => p !== all && /^total trim, bank \d$/.test(p.what) && p.verdict === all.verdict
  const seen = proof.pooled.filter((p) => p.verdict !== 'no change seen' && !twice(p))
  const alone = seen.length ? [] : proof.changes.filter((c) => c.verdict === 'changed').slice(0, MOST_ALONE)
  const said = seen.length || alone.length ? seen : proof.pooled.slice(0, 1)
  return [
    ...said.map(pooledSaid),
    ...alone.map(changeSaid),
    ...stopsSaid(proof.changes),
    ...besides.map((b) => `Not the same in both: ${b}.`),
  ]
}

const WHEN: Readonly<Record<AtStop, string>> = { both: 'before and after', before: 'before', after: 'after' }

/** Trims at their stop that tell of no change, in sentences: those that stood there at the same time as one, and both banks together. */
function stopsSaid(changes: readonly Change[]): string[] {
  const trims = changes.filter((c) => c.quantity === 'trim1_pct' || c.quantity === 'trim2_pct')
  const stopped = trims.flatMap((c) => (c.verdict === 'at its stop' && c.atStop ? [{ ...c, atStop: c.atStop }] : []))
  const hasTwo = new Set(trims.map((c) => c.quantity)).size === 2
  const banksAt = (c: Change): string =>
    stopped.filter((s) => s.kind === c.kind && s.rpm === c.rpm && s.atStop === c.atStop).length === 2 || !hasTwo
      ? 'total trim'
      : c.label
  const groups = new Map<string, { readonly what: string; readonly when: string; readonly places: Set<string> }>()
  for (const c of stopped) {
    const [what, when] = [banksAt(c), WHEN[c.atStop]]
    const group = groups.get(what + when) ?? { what, when, places: new Set() }
    group.places.add(pointWords(c))
    groups.set(what + when, group)
  }
  return [...groups.values()].map(
    ({ what, when, places }) =>
      `${what.charAt(0).toUpperCase()}${what.slice(1)}, ${andList([...places])}: at its stop ${when}, where no change of the mixture shows.`,
  )
}
