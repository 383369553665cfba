import { SIGNS, type Sign } from '../diagnosis/index.js'
import { live, type VisitFile } from './records.js'
import { remediesOf, roundToFill } from './remedies.js'
import { andList } from './words.js'

/** What became of a sign that a car came with, as somebody heard, felt or drove it after the work: gone, there still, or not to be told here. */
export type Felt = 'gone' | 'there' | 'untold'

/** Tick that says so of a sign, in the round that proves the work. */
export const feltTick = (sign: string, felt: Felt, round: number): string => `${sign}-${felt}-${round}`

const TICKED = /^([a-z-]+)-(gone|there|untold)-(\d+)$/
/** Signs that figures tell: a lamp by its codes, and an idle by being there. */
const BY_FIGURES: readonly string[] = ['lamp', 'no-idle']

/** Signs that a car came with and that can be asked for again. */
export const signsToAsk = (f: VisitFile): readonly Sign[] =>
  SIGNS.filter((s) => f.visit.signs.includes(s.id) && !BY_FIGURES.includes(s.id))

/** What was said in a round of each sign that the car came with; of two answers the later one counts. */
export function feltIn(f: VisitFile, round: number): ReadonlyMap<string, Felt> {
  const asked = new Set(signsToAsk(f).map((s) => s.id))
  const ticks = live(f.ticks).flatMap(({ caution, at }) => {
    const [, sign, felt, n] = TICKED.exec(caution) ?? []
    return sign && asked.has(sign) && Number(n) === round ? [{ sign, felt: felt as Felt, at }] : []
  })
  return new Map(ticks.sort((x, y) => (x.at < y.at ? -1 : 1)).map((t) => [t.sign, t.felt]))
}

/** What is said of the car as it stands since the last of the work. */
export const feltNow = (f: VisitFile): ReadonlyMap<string, Felt> =>
  remediesOf(f).length ? feltIn(f, roundToFill(f)) : new Map<string, Felt>()

/** Signs that show as it stands in the shop, and that nobody has asked for again. */
export const unasked = (f: VisitFile): readonly Sign[] =>
  signsToAsk(f).filter((s) => s.felt === 'idle' && !feltNow(f).has(s.id))

/** Signs that are gone, or there still, after the work, by their names. */
export const feltAs = (f: VisitFile, felt: 'gone' | 'there'): string[] =>
  signsToAsk(f).flatMap((s) => (feltNow(f).get(s.id) === felt ? [`“${s.label}”`] : []))

/** Whether all that it came with is said to be gone. */
export function isRidOfAll(f: VisitFile): boolean {
  const asked = signsToAsk(f)
  return asked.length > 0 && asked.every((s) => feltNow(f).get(s.id) === 'gone')
}

/** What became of what the customer came with, in sentences; empty where nobody says. */
export function feltSaid(f: VisitFile): string {
  const [gone, there] = [feltAs(f, 'gone'), feltAs(f, 'there')]
  return [
    ...(gone.length ? [`What you came with, ${andList(gone)}, is gone.`] : []),
    ...(there.length ? [`Still there: ${andList(there)}.`] : []),
  ].join(' ')
}
