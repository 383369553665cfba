import type { Finding } from '../diagnosis/index.js'
import { pumpJudged } from '../vacuum/index.js'
import { vehicleAtPlace } from './place.js'
import type { VisitFile } from './records.js'
import { dropsOf, takenOf } from './taken.js'

/** What needle, waveform, drops and the purge valve on a hand pump say in a round; of several waveforms of the intake the newest. */
export function balanceFindings(f: VisitFile, round: number): Finding[] {
  const mine = f.balances.filter((b) => b.round === round)
  const needle = takenOf(mine, 'needle').at(-1)?.taken.needle
  const wave = takenOf(mine, 'wave')
    .filter((b) => b.taken.side === 'intake')
    .at(-1)?.taken.balance
  const drops = dropsOf(mine).judged
  const weak = drops.some((d) => d.weak)
  // a cylinder that was not put out may be the one
  const isDropped = weak || drops.length === f.vehicle.spec.cylinders
  const purge = takenOf(mine, 'pump')
    .filter((b) => b.taken.part === 'purge')
    .at(-1)?.taken
  const held = purge && pumpJudged(purge.samples, vehicleAtPlace(f).altitudeM)
  return [
    // one that opens above a vacuum may be made so
    ...(held && held.verdict !== 'opens'
      ? [{ test: 'purge-hold', outcome: held.verdict === 'leaks' ? ('fail' as const) : ('pass' as const) }]
      : []),
    ...(needle ? [{ test: 'needle', item: needle, outcome: 'fail' as const }] : []),
    ...(isDropped ? [{ test: 'cylinder-drop', outcome: weak ? ('fail' as const) : ('pass' as const) }] : []),
    ...(wave ? [{ test: 'cylinder-pull', outcome: wave.odd ? ('fail' as const) : ('pass' as const) }] : []),
  ]
}

/** Whether needle, waveform, drops or the purge valve say something else in a later round than before, where both were taken. */
export function saysElse(f: VisitFile, before: number, after: number): boolean {
  const was = balanceFindings(f, before)
  return balanceFindings(f, after).some((x) => {
    const same = was.find((y) => y.test === x.test)
    return same !== undefined && (same.outcome !== x.outcome || same.item !== x.item)
  })
}
