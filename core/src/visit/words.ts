/** The first letter large. */
export const cap = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1)
/** Ended by one stop. */
export const stop = (s: string): string => `${s.replace(/[.\s]+$/, '')}.`
/** Lines that begin with a capital and end with a stop. */
export const line = (s: string): string => stop(cap(s))
/** The first letter small, but that of an abbreviation. */
export { inSentence as lower } from '../diagnosis/index.js'
export { andList } from '../units/index.js'
/** A probability as a whole percentage that never says 100. */
export const share = (p: number): string => (p > 0.99 ? 'over 99' : (100 * p).toFixed(0))
