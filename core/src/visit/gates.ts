import { airPathOf, atStation, maybeStation } from '../engine/index.js'
import { coolantBleedRefusals } from './closing.js'
import { closeDownRefusals } from './afterFeed.js'
import { mayCloseUp, runningWaits } from './service.js'
import { andList } from './words.js'
import { diesNow } from './noIdle.js'
import { isProved, lackingSince, plannedRepairs, remediesOf } from './remedies.js'
import { beyondAgreed, mayWork } from './quote.js'
import type { Gate, Refusal } from './gate.js'
import { live, type RepairRecord, type VisitFile } from './records.js'
import { labelForbids } from './steps.js'

/** Conditions a wrap holds under; each is ticked by the technician. */
export const WRAP_CONDITIONS: readonly { readonly id: string; readonly label: string }[] = [
  { id: 'dry', label: 'dry' },
  { id: 'clean', label: 'clean of oil' },
  { id: 'stretched', label: 'tape stretched and half overlapped' },
]

/**
 * Whether a repair, as recorded, keeps to the rules. It is a fact: the server stores it either way and marks
 * the rule it went against; the screen asks before.
 */
export function checkRepair(f: VisitFile, r: RepairRecord): Refusal[] {
  const out: Refusal[] = []
  const at = maybeStation(airPathOf(f.vehicle.spec), r.station)
  if (!at && r.station !== 'beyond')
    out.push({ rule: 'station-on-this-engine', message: `This engine has no ${r.station.replace(/-/g, ' ')}.` })
  const label = r.kind === 'clean' ? labelForbids(f.vehicle.spec, r.station) : undefined
  if (label) out.push(label)
  if (r.kind === 'wrap') {
    const missing = WRAP_CONDITIONS.filter((c) => !r.conditions.includes(c.id))
    if (missing.length)
      out.push({
        rule: 'wrap-conditions',
        message: `A wrap holds only ${WRAP_CONDITIONS.map((c) => c.label).join(', ')}. Not ticked: ${missing.map((c) => c.label).join(', ')}.`,
      })
    if (at?.zone === 'boost')
      out.push({
        rule: 'wrap-suction-side',
        message: 'A wrap holds on the suction side only: boost pressure lifts it. Replace the part.',
      })
    if (!r.temporary)
      out.push({
        rule: 'wrap-is-temporary',
        message: 'A wrap is a temporary repair: mark it so, with the day of its next look.',
      })
  }
  const work = r.state === 'done' && r.kind !== 'leave' ? mayWork(f, r.at) : undefined
  if (work && !work.ok) out.push(...work.refusals)
  if (r.temporary && !r.recheckOn)
    out.push({
      rule: 'recheck-date',
      message: `The temporary repair ${atStation(r.station)} needs the day of its next look.`,
    })
  return out
}

/** Tick that issues a sheet without its proof; the sheet then says so in plain words. */
export const UNPROVED_SAID = 'issue-unproved'

/** Whether a person has said, since the last remedy, that the sheet goes out without its proof. */
export function unprovedSaid(f: VisitFile): boolean {
  const last = remediesOf(f).reduce((at, r) => (r.at > at ? r.at : at), '')
  return live(f.ticks).some((t) => t.caution === UNPROVED_SAID && t.at >= last)
}

/** Whether the sheet may be issued: every remedy proved at the same points, every temporary one with its date, no wait open. */
export function mayIssueReport(f: VisitFile, nowMs: number): Gate {
  const refusals: Refusal[] = []
  const remedies = remediesOf(f)
  const lacking = lackingSince(f)
  const dies = diesNow(f)
  if (remedies.length && !isProved(f) && !unprovedSaid(f))
    refusals.push({
      rule: 'prove-first',
      message: dies
        ? `It ${dies} since: ${remedies.at(-1)!.words}. Trace on, or say so on the sheet.`
        : lacking
          ? `Measured again without ${andList(lacking)} since: ${remedies.at(-1)!.words}. Read that on the Prove bench, then the sheet can say whether it helped.`
          : `Not measured again since: ${remedies.at(-1)!.words}. Take the same idle points on the Prove bench, then the sheet can say whether it helped.`,
    })
  for (const r of plannedRepairs(f))
    refusals.push({
      rule: 'planned-repair-open',
      message: `Planned and not done: ${r.kind} ${atStation(r.station)}. Do it, or take it off the plan.`,
    })
  for (const r of live(f.repairs).filter((x) => x.state === 'done'))
    refusals.push(...checkRepair(f, r).filter((x) => x.rule === 'recheck-date'))
  refusals.push(...beyondAgreed(f), ...coolantBleedRefusals(f))
  const close = mayCloseUp(f)
  if (!close.ok) refusals.push(...close.refusals)
  refusals.push(...closeDownRefusals(f), ...runningWaits(f, nowMs))
  return refusals.length ? { ok: false, refusals } : { ok: true }
}
