/** Value of each letter in the check sum; I, O and Q do not occur. */
const VALUES = Object.fromEntries(
  [...'0123456789']
    .map((d) => [d, Number(d)] as const)
    .concat(
      [...'ABCDEFGH'].map((c, i) => [c, i + 1] as const),
      [...'JKLMN'].map((c, i) => [c, i + 1] as const),
      [
        ['P', 7],
        ['R', 9],
      ] as const,
      [...'STUVWXYZ'].map((c, i) => [c, i + 2] as const),
    ),
) as Readonly<Record<string, number>>
const WEIGHTS = [8, 7, 6, 5, 4, 3, 2, 10, 0, 9, 8, 7, 6, 5, 4, 3, 2]

/**
 * What is doubtful about a vehicle identification number, in a sentence; undefined when nothing is. It is a warning and
 * never a refusal: many countries do not use the check digit.
 *
 * Source: ISO 3779 (letters and length); 49 CFR 565.15 (check digit, position 9). 1M8GDM9AXKP042788 is the worked example.
 */
export function vinDoubt(vin: string): string | undefined {
  const text = vin.trim().toUpperCase()
  if (text === '') return undefined
  if (text.length !== 17) return `${text.length} signs; cars since the eighties have 17. It is kept as typed.`
  const odd = [...text].filter((c) => VALUES[c] === undefined)
  if (odd.length) return `${[...new Set(odd)].join(', ')} does not occur in such a number. It is kept as typed.`
  const sum = [...text].reduce((s, c, i) => s + VALUES[c] * WEIGHTS[i], 0) % 11
  const digit = sum === 10 ? 'X' : String(sum)
  return digit === text[8]
    ? undefined
    : `The check digit would be ${digit} and is ${text[8]}: read it again. Where no check digit is used, all is well.`
}
