import type { Diagnosis, FaultId, Ranked } from '../diagnosis/index.js'
import { unseenBelow } from '../proof/index.js'
import { asItStood } from './asItStood.js'
import { diagnoseVisit } from './evidence.js'
import { livingPoints } from './living.js'
import { vehicleAtPlace } from './place.js'
import { closedThrottleOf } from './points.js'
import type { Proof } from './proofs.js'
import type { VisitFile } from './records.js'
import { isOfReadings } from './spokenFor.js'

/** From this probability at the baseline a cause counts as the one that a remedy answered [–]. */
export const HAD_A_CHANCE = 0.08
/** From this share of its probability at the baseline a cause that other work of the same time answers may have been the one [–]. */
export const MAY_HAVE_BEEN = 0.2

/** From this share among none and what was worked on a cause is confirmed by the car's own readings since [–]. */
const BY_ITSELF = 0.8

/** The car before some work held against itself after it: what differs is what was done, since its own ways, and what it still carries, fall out. */
function heldAgainst(f: VisitFile, p: Proof): Diagnosis | undefined {
  const { before, after, remedies } = p
  // another throttle has another zero: the openings of the two do not compare
  const isSame = !remedies.some((r) => r.repair === 'replace' && r.answers.includes('throttle-deposits'))
  if (after === undefined || !isSame) return undefined
  return diagnoseVisit(asItStood(f, p), before, {
    sound: [
      {
        of: 'same-car',
        points: livingPoints(f, after),
        altitudeM: vehicleAtPlace(f).altitudeM,
        closedThrottlePct: closedThrottleOf(f, after),
      },
    ],
  })
}

/** What was worked on, where the car reads soundly after it and only the difference shows what it was. */
export function againstItself(f: VisitFile, p: Proof): { readonly found: Ranked; readonly by: Diagnosis } | undefined {
  const isMoved = p.proof?.changes.some((c) => unseenBelow(c) === undefined) ?? false
  const d = isMoved ? heldAgainst(f, p) : undefined
  if (!d) return undefined
  const answered = new Set<FaultId>(p.remedies.flatMap((r) => r.answers))
  const found = d.ranking.find((r) => answered.has(r.fault) && !d.unmarked.includes(r.fault))
  if (!found || !isOfReadings(d, found.fault)) return undefined
  const none = d.ranking.find((r) => r.fault === 'none')?.probability ?? 0
  const isIt = found.probability >= BY_ITSELF * (found.probability + none)
  // where the readings are far more another cause's, something else was done than is entered
  return isIt && found.probability >= MAY_HAVE_BEEN * d.ranking[0].probability ? { found, by: d } : undefined
}

/** From this probability by what fell away with the work a cause has its size from that [–]. */
const SIZED_FROM = 0.5

/**
 * Sizes of causes that were mended before another: the readings before that work were of both, and what fell away with it tells
 * how large each was. Undefined where nobody can tell; left out where the readings before it have the word.
 * @param answeredBy - the work that answered each of the causes that readings confirm
 */
export function sizesByWork(f: VisitFile, answeredBy: ReadonlyMap<FaultId, Proof>): Map<FaultId, Ranked | undefined> {
  const sizes = new Map<FaultId, Ranked | undefined>()
  for (const [fault, p] of answeredBy) {
    if (![...answeredBy.values()].some((x) => x.before > p.before)) continue
    // what fell away beyond a trim's stop nobody has read
    const isRead = !p.proof?.changes.some((c) => c.atStop)
    const own = isRead ? heldAgainst(f, p)?.ranking.find((r) => r.fault === fault) : undefined
    if (!isRead || (own && own.probability >= SIZED_FROM)) sizes.set(fault, own)
  }
  return sizes
}
