/**
 * Throws unless the condition holds and the value is finite. Written as the condition that must
 * hold, so that NaN fails it too.
 *
 * @throws RangeError naming the quantity, its value and what is allowed
 */
export function requireRange(name: string, value: number, ok: boolean, allowed: string): void {
  if (!(ok && Number.isFinite(value))) throw new RangeError(`${name} = ${value}, must be finite and ${allowed}`)
}
