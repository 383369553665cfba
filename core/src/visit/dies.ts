import { live, type VisitFile } from './records.js'

/** What may be seen of an engine that dies: at idle only, or whatever the pedal does. */
export type Dies = 'no-idle' | 'no-run'

/** How that is told, now and of a time that is past. */
export const DIES: Readonly<Record<Dies, { readonly now: string; readonly then: string }>> = {
  'no-idle': { now: 'holds no idle', then: 'held no idle' },
  'no-run': { now: 'does not keep running', then: 'did not keep running' },
}

/** Tick that says so of a round of readings: what was seen, not what a customer feels. */
export const diesTick = (how: Dies, round: number): string => `${how}-${round}`

const TICKED = /^(no-idle|no-run)-(\d+)$/

/** What was ticked of an engine that dies, by round; of a round whose work was taken back nothing is left. */
export function diesTicked(
  f: VisitFile,
): readonly { readonly how: Dies; readonly round: number; readonly at: string }[] {
  const works = [...live(f.repairs), ...live(f.steps), ...live(f.runs)].map((x) => x.afterRound ?? 0)
  const opened = 1 + Math.max(-1, ...works, ...live(f.balances).map((b) => b.round))
  return live(f.ticks).flatMap(({ caution, at }) => {
    const [, how, round] = TICKED.exec(caution) ?? []
    return how && Number(round) <= opened ? [{ how: how as Dies, round: Number(round), at }] : []
  })
}
