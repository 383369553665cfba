import type { Caution } from '../cautions/index.js'
import type { StationId, Vehicle } from '../engine/index.js'
import type { FaultId } from './faultKit.js'
import { LOOKS } from './looks.js'
import { TESTS } from './testCatalogue.js'

export { TESTS } from './testCatalogue.js'

/** One of the unlike things that a test may find, which speak for unlike causes: a vent that does not pull and one that pulls too hard. */
export interface FindKind {
  readonly id: string
  /** On the button, and after the test's name: what was seen. */
  readonly label: string
  /** P(the test finds this | this fault), and for every other; over all kinds of a test they make its `finds`. */
  readonly finds: Readonly<Partial<Record<FaultId, number>>>
  readonly otherwise: number
}

/** A test of the catalogue: what it costs, what it needs and how far its answer can be trusted. */
export interface TestInfo {
  readonly id: string
  readonly label: string
  /** What was seen where it found something, in a few words: where neither a kind nor a figure says more. */
  readonly found: string
  /** One sentence: what to do and what to watch. */
  readonly how: string
  readonly minutes: number
  readonly needs?: string
  /** Test that asks the same of the same part in another way: of the two one is proposed. */
  readonly asksAs?: string
  /** Station that it belongs to; left out when the technician says where. */
  readonly at?: StationId
  /** Other stations where it may be made as well, where the engine has them. */
  readonly alsoAt?: readonly StationId[]
  /** What the engine must do by itself for it: hold an idle, or run at all, with the foot on the pedal too; left out of a test at rest. */
  readonly asks?: 'an idle' | 'running'
  /** What it finds is no place to be mended; what it means is the ranking's to say. */
  readonly placeless?: true
  /** What it finds is dirt on the valves: cleaned or fed off, and no part of the place it was seen from. */
  readonly dirt?: true
  /** Caution that stands at the test; a STOP one needs its tick. */
  readonly caution?: Caution
  /** What it takes apart: 0 nothing, 1 a hose or a sensor, 2 a part of the engine. */
  readonly invasive: 0 | 1 | 2
  readonly admissible: (v: Vehicle) => boolean
  /** P(the test finds something | this fault); `otherwise` for every other fault and for none. */
  readonly finds: Readonly<Partial<Record<FaultId, number>>>
  readonly otherwise: number
  /** What it finds may be one of these; where nobody said which, it may have been any. */
  readonly kinds?: readonly FindKind[]
  /** Physical reason for these shares. */
  readonly reason: string
  /** What it costs when the fault is there and the test passes. */
  readonly missCosts: string
}

/** Equipment that tests of the catalogue need, each named once. */
export const EQUIPMENT: readonly string[] = [...new Set(TESTS.flatMap((t) => (t.needs ? [t.needs] : [])))]

/** A test by id. @throws RangeError on an unknown id */
export function testInfo(id: string): TestInfo {
  const found = TESTS.find((t) => t.id === id)
  if (!found) throw new RangeError(`no test "${id}"`)
  return found
}

/** Which of the unlike things a test found, where it was said. @param item - of the finding */
export const findKind = (test: string, item: string | undefined): FindKind | undefined =>
  TESTS.find((t) => t.id === test)?.kinds?.find((k) => k.id === item)

/** What a find saw, in a few words. */
export const findWords = (x: { readonly test: string; readonly item?: string }): string =>
  findKind(x.test, x.item)?.label ?? testInfo(x.test).found

/** From this part of a test's finds of a cause one kind of them is its sign [–]. */
const ITS_SIGN = 0.5

/** P(find | cause) of those causes that a find speaks for: of a look its line's, of a test whose finds are of unlike kinds those whose sign this one is. */
export function spokenBy(x: { readonly test: string; readonly item?: string }): TestInfo['finds'] {
  const look = x.test === 'look' && x.item !== undefined ? LOOKS[x.item] : undefined
  if (look) return look.finds
  const { finds } = testInfo(x.test)
  const kind = findKind(x.test, x.item)
  if (!kind) return finds
  const isSign = ([fault, p]: [string, number]): boolean => p >= ITS_SIGN * (finds[fault as FaultId] ?? Infinity)
  return Object.fromEntries(Object.entries(kind.finds).filter(isSign))
}

/** P(the test finds something | these faults together): either may be what it finds. */
export function findChance(test: Pick<TestInfo, 'finds' | 'otherwise'>, faults: readonly FaultId[]): number {
  let missed = 1 - test.otherwise
  for (const f of faults) missed *= 1 - (test.finds[f] ?? 0)
  return 1 - missed
}
