import { worstOf, type ConfirmedField, type Vehicle } from '../engine/index.js'
import { liquidBoundMl } from './limits.js'

/** The liquid bound of an engine, and what of it stands on a guess. */
export interface LiquidBound {
  readonly liquidMl: number
  readonly guessed: readonly ConfirmedField[]
  /** What was taken for what nobody has confirmed, in a sentence; undefined where all of it is confirmed. */
  readonly said?: string
}

const WORDS: Readonly<Record<ConfirmedField, string>> = {
  displacementL: 'displacement',
  cylinders: 'cylinders',
  compressionRatio: 'compression',
}

/** Most liquid that may be unburnt anywhere in this engine; what nobody has confirmed is taken as the worst that it could be. */
export function liquidBoundOf(v: Vehicle): LiquidBound {
  const { vehicle: worst, guessed } = worstOf(v)
  const liquidMl = liquidBoundMl(worst.displacementL, worst.cylinders, worst.compressionRatio)
  if (!guessed.length) return { liquidMl, guessed }
  const figure = (f: ConfirmedField): string =>
    f === 'displacementL'
      ? `${worst.displacementL.toFixed(1)} L`
      : f === 'cylinders'
        ? `${worst.cylinders} cylinders`
        : `compression ${worst.compressionRatio.toFixed(1)}`
  return {
    liquidMl,
    guessed,
    said: `It stands on a guess: nobody has confirmed ${guessed.map((f) => WORDS[f]).join(', ')}. The worst it could be is taken: ${guessed.map(figure).join(', ')}.`,
  }
}
