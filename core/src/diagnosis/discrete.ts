import { kindOfStation, type StationId } from '../engine/index.js'
import type { Evidence, Finding } from './evidence.js'
import type { FaultId } from './faults.js'
import { LOOKS } from './looks.js'
import { NEEDLES, needleChance } from './needles.js'
import type { DiscreteLogLikelihood } from './pairs.js'
import { codeMeaning, silence } from './codes.js'
import { areBanksSettled, settledChance } from './settledBanks.js'
import { CONDITIONS, SIGNS } from './signs.js'
import { stillChance, stillValve } from './stillValve.js'
import { findChance, findKind, testInfo } from './tests.js'

const BEHIND_THE_PLATE: readonly FaultId[] = ['unmetered-air', 'unmetered-air-bank']

/** Faults that a find at a station speaks for; none where the station says nothing by itself. */
function faultsAtStation(station: StationId): readonly FaultId[] {
  switch (kindOfStation(station)) {
    case 'duct':
    case 'airflow-sensor':
    case 'compressor':
      return ['unmetered-air-duct']
    case 'inlet':
    case 'resonator':
    case 'filter':
      return ['intake-restriction']
    case 'intercooler':
    case 'boost-pipe':
      return ['boost-leak']
    case 'throttle':
    case 'idle-valve':
    case 'throttle-flap':
    case 'intake-temperature':
    case 'charge-sensor':
    case 'egr-cooler':
    case 'egr-tube':
    case 'fresh-air-hose':
    case 'boost-control-line':
    case 'secondary-air':
    case 'beyond':
      return []
    case 'pcv':
    case 'separator':
      return [...BEHIND_THE_PLATE, 'pcv-stuck-open']
    case 'purge':
      return [...BEHIND_THE_PLATE, 'purge-stuck-open']
    case 'runners-1':
    case 'runners-2':
    case 'gaskets':
    case 'plenum':
    case 'map-sensor':
    case 'booster':
    case 'egr':
    case 'vacuum-lines':
    case 'regulator-line':
    case 'heater-line':
    case 'cruise-line':
    case 'idle-up-valve':
    case 'flaps':
      return BEHIND_THE_PLATE
  }
}

/** Looks that passed count once, together: twenty sound hoses are not twenty proofs. */
function oneLook(findings: readonly Finding[]): Finding[] {
  const looks = findings.filter((f) => f.test === 'look' && f.outcome !== 'unclear')
  const failed = looks.filter((f) => f.outcome === 'fail')
  const rest = findings.filter((f) => f.test !== 'look' && f.outcome !== 'unclear')
  // what is one thing and not one place of many counts by itself when it is in order
  const alone = looks.filter((f) => f.outcome === 'pass' && f.item !== undefined && LOOKS[f.item]?.alone)
  if (failed.length) return [...rest, ...failed, ...alone]
  // a walk that is only begun proves nothing yet
  return looks.length >= 8 ? [...rest, ...alone, { test: 'look', outcome: 'pass' }] : [...rest, ...alone]
}

/** Tests whose find is a place where air comes in. */
const PLACING: readonly string[] = ['look', 'pinch', 'smoke', 'enrichment', 'flex-duct']
/** Tests that go from place to place: what passes at one says nothing of the next. */
const FROM_PLACE_TO_PLACE: readonly string[] = ['pinch', 'enrichment']
/** So many places of it make the whole of such a test. */
const PLACES_OF_ALL = 3

/** A finding, and how much of its whole test it is [–], 0..1. */
interface Answer {
  readonly finding: Finding
  readonly share: number
}

/** Whether a finding counts with the other places of its test, and not by itself. */
export const isPlaced = (f: Finding): boolean =>
  f.test !== 'look' && PLACING.includes(f.test) && f.station !== undefined && f.outcome !== 'unclear'

/** What tests say that place air, each once: where one found it, its other places say nothing; where none did, together no more than the whole test. */
function onePlacing(findings: readonly Finding[]): Answer[] {
  const rest = findings.filter((f) => !isPlaced(f)).map((finding) => ({ finding, share: 1 }))
  const tests = [...new Set(findings.filter(isPlaced).map((f) => f.test))]
  return [
    ...rest,
    ...tests.flatMap((test): Answer[] => {
      const mine = findings.filter((f) => f.test === test && isPlaced(f))
      const failed = mine.filter((f) => f.outcome === 'fail')
      if (failed.length) return failed.map((finding) => ({ finding, share: 1 }))
      const isWhole = mine.some((f) => !f.here && !FROM_PLACE_TO_PLACE.includes(f.test))
      return [{ finding: mine[0], share: isWhole ? 1 : Math.min(1, mine.length / PLACES_OF_ALL) }]
    }),
  ]
}

/** log-likelihood of signs, codes, looks and tests, of an idle valve that is seen to stand still, and of banks that are seen at rest. A find with a place speaks for the fault of that place alone. */
export function discreteEvidence(
  e: Pick<Evidence, 'signs' | 'conditions' | 'findings' | 'codes' | 'points'>,
): DiscreteLogLikelihood {
  const signs = [
    ...SIGNS.filter((s) => e.signs.includes(s.id)),
    ...CONDITIONS.filter((c) => e.conditions?.includes(c.id)),
  ]
  const answers = onePlacing(oneLook(e.findings))
  // two numbers of one family say one thing
  const codes = [...new Set((e.codes ?? []).map((c) => codeMeaning(c.code)).filter((m) => m !== undefined))].filter(
    (m, i, all) => all.findIndex((x) => x.favours === m.favours) === i,
  )
  const still = stillValve(e.points) !== undefined
  const settled = areBanksSettled(e.points)
  return (faults) => {
    let sum = (still ? Math.log(stillChance(faults)) : 0) + (settled ? Math.log(settledChance(faults)) : 0)
    for (const s of signs) sum += Math.log(most(s.favours, faults))
    // codes that were read and do not stand speak too
    if (e.codes) for (const f of faults) sum += Math.log(silence(f, codes))
    for (const c of codes) sum += Math.log(most(c.favours, faults))
    for (const a of answers) sum += a.share * Math.log(chance(a.finding, faults))
    return sum
  }
}

/** How much a sign or code favours the one of these faults that it favours most; 1 where it favours none. */
function most(favours: Readonly<Partial<Record<FaultId, number>>>, faults: readonly FaultId[]): number {
  let best = 1
  for (const f of faults) best = Math.max(best, favours[f] ?? 1)
  return best
}

function chance(f: Finding, faults: readonly FaultId[]): number {
  const needle = f.test === 'needle' ? NEEDLES.find((n) => n.id === f.item) : undefined
  if (needle) return needleChance(needle, faults)
  const look = f.test === 'look' && f.item !== undefined ? LOOKS[f.item] : undefined
  if (look) {
    let missed = 1 - look.otherwise
    for (const x of faults) missed *= 1 - (look.finds[x] ?? 0)
    return f.outcome === 'fail' ? 1 - missed : missed
  }
  // what was looked at is none of the places that are known: it speaks for nothing, least of all for a hole there
  if (f.test === 'look' && f.item !== undefined) return 1
  const test = testInfo(f.test)
  const speaksFor = PLACING.includes(f.test) && f.station ? faultsAtStation(f.station) : []
  const counted = speaksFor.length && f.outcome === 'fail' ? faults.filter((x) => speaksFor.includes(x)) : faults
  const find = findChance((f.outcome === 'fail' && findKind(f.test, f.item)) || test, counted)
  return f.outcome === 'fail' ? find : 1 - find
}
