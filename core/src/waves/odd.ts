import { logSumExp } from '../statistics/index.js'
import type { Guess, Pulls } from './pulls.js'

/** What an odd cylinder may suffer from. */
export type OddKind = 'valve-sealing' | 'runner' | 'ignition' | 'injector'

/** How far sound cylinders of one engine differ in what they draw [–], standard deviation; ours. */
export const SOUND_SCATTER = 0.014
/** Chance of an odd cylinder before anything was seen [–]. */
const PRIOR = 0.5
/** What an odd cylinder may lack [–], evenly likely. */
const LACKS = [0.08, 0.11, 0.14, 0.17, 0.21, 0.27, 0.4, 0.7]
/**
 * What comes back past a leaking valve as the piston rises, against what is lacking [–]: none from a narrow runner, which
 * only draws less; a leaking valve gives back some.
 */
const BACKS = [
  { back: 0, kind: 'runner', prior: 0.5 },
  { back: 0.35, kind: 'valve-sealing', prior: 0.25 },
  { back: 0.8, kind: 'valve-sealing', prior: 0.25 },
] as const
/** Middle of the draw and of what comes back [° after the top of the gas exchange], and the spread of either [°]. */
const DRAW_AT = 105
const BACK_AT = 285
const DRAW_SPREAD = 52
const BACK_SPREAD = 40
/** What does not burn draws all the same: shares of ignition and injector in what is odd in the intake [–]. */
const NOT_BURNING = 0.05

/** Chance of each firing position being the odd one, of any, and of what it suffers from. */
export interface OddChance {
  /** By firing position. */
  readonly by: readonly number[]
  readonly any: number
  /** Of the likeliest position. */
  readonly kinds: readonly { readonly id: OddKind; readonly probability: number }[]
}

/** What comes back against the draw at an order: its phase behind it, and its briefer shape. */
function backAt(r: number): [number, number] {
  const a = (-2 * Math.PI * r * (BACK_AT - DRAW_AT)) / 720
  const soft = Math.exp(-0.5 * ((2 * Math.PI * r) / 720) ** 2 * (BACK_SPREAD ** 2 - DRAW_SPREAD ** 2))
  return [Math.min(3, soft) * Math.cos(a), Math.min(3, soft) * Math.sin(a)]
}

/**
 * Chance that a position draws less than the rest, over all guesses. One odd cylinder at position j that lacks d, of which
 * the share κ comes back later, leaves A_r = −d·(1 + κ·C_r)·e^(−2πi·r·j/n) in every position-order r; sound scatter leaves
 * √n·σ in each; each is read with the variance of its mean and the relative error of its guess.
 */
export function oddChance(guesses: readonly Guess[], pulls: readonly Pulls[], n: number): OddChance {
  const none: number[] = []
  const logs = Array.from({ length: n }, () => BACKS.map((): number[] => []))
  const whole = logSumExp(guesses.map((g) => g.logWeight))
  guesses.forEach((g, i) => {
    const w = g.logWeight - whole
    const { orders } = pulls[i]
    const likelihood = (j: number, d: number, back: number): number => {
      let log = 0
      for (let x = 0; x < orders.length; x++) {
        const { re, im, variance, error } = orders[x]
        const r = x + 1
        const turn = (-2 * Math.PI * r * j) / n
        const [cr, ci] = backAt(r)
        const fr = 1 + back * cr
        const fi = back * ci
        const c = Math.cos(turn)
        const s = Math.sin(turn)
        const er = re + d * (fr * c - fi * s)
        const ei = im + d * (fr * s + fi * c)
        const v = variance + n * SOUND_SCATTER ** 2 + (error * d) ** 2 * (fr ** 2 + fi ** 2)
        // the middle order is real
        if (2 * r === n) log -= 0.5 * Math.log(v) + (0.5 * er ** 2) / v
        else log -= Math.log(v) + (er ** 2 + ei ** 2) / v
      }
      return log
    }
    none.push(w + Math.log(1 - PRIOR) + likelihood(0, 0, 0))
    for (let j = 0; j < n; j++)
      BACKS.forEach(({ back, prior }, b) =>
        logs[j][b].push(
          w +
            Math.log((PRIOR * prior) / n) +
            logSumExp(LACKS.map((d) => likelihood(j, d, back))) -
            Math.log(LACKS.length),
        ),
      )
  })
  const each = logs.map((x) => logSumExp(x.map((y) => logSumExp(y))))
  const total = logSumExp([...each, logSumExp(none)])
  const by = each.map((x) => Math.exp(x - total))
  const worst = by.indexOf(Math.max(...by))
  const share = (kind: string): number =>
    (1 - 2 * NOT_BURNING) *
    Math.exp(logSumExp(BACKS.flatMap((x, b) => (x.kind === kind ? [logSumExp(logs[worst][b])] : []))) - each[worst])
  const kinds = [
    { id: 'runner' as const, probability: share('runner') },
    { id: 'valve-sealing' as const, probability: share('valve-sealing') },
    { id: 'ignition' as const, probability: NOT_BURNING },
    { id: 'injector' as const, probability: NOT_BURNING },
  ].sort((a, b) => b.probability - a.probability)
  return { by, any: by.reduce((s, x) => s + x, 0), kinds }
}
