import { QUANTITIES, fromCanonical, unitOf, type QuantityId, type Unit } from '../../units/index.js'
import type { Change } from '../../proof/index.js'
import type { Sheet } from './sheet.js'

/** Units chosen, by quantity; what is left out stays canonical. */
export type ChosenUnits = Readonly<Partial<Record<QuantityId, string>>>

/** The chosen unit that stands for a canonical one, where another was chosen. */
function chosenFor(symbol: string, units: ChosenUnits): Unit | undefined {
  const quantity = Object.values(QUANTITIES).find((q) => q.units[0].symbol === symbol && symbol !== '')
  const chosen = quantity && units[quantity.id]
  return !quantity || chosen === undefined || chosen === symbol ? undefined : unitOf(quantity.id, chosen)
}

/**
 * The figures of a sheet's tables and of its picture in chosen units; its sentences stay in the units that they were judged
 * in, each with its own beside it.
 * @throws RangeError on a unit that its quantity has not
 */
export function sheetInUnits(s: Sheet, units: ChosenUnits): Sheet {
  const changes = s.changes.map((c): Change => {
    const unit = chosenFor(c.unit, units)
    if (!unit) return c
    const to = (x: number): number => fromCanonical(x, unit)
    const [difference, uncertainty, eachUncertainty, leastSeen] = [
      c.difference,
      c.uncertainty,
      c.eachUncertainty,
      c.leastSeen,
    ].map((x) => x / unit.factor)
    return {
      ...c,
      unit: unit.symbol,
      before: to(c.before),
      after: to(c.after),
      ...(c.belongs ? { belongs: { min: to(c.belongs.min), max: to(c.belongs.max) } } : {}),
      difference,
      uncertainty,
      eachUncertainty,
      leastSeen,
    }
  })
  const p = s.picture
  const unit = p && chosenFor(p.unit, units)
  const picture =
    p && unit
      ? {
          ...p,
          unit: unit.symbol,
          decimals: unit.decimals,
          before: fromCanonical(p.before, unit),
          after: fromCanonical(p.after, unit),
          ...(p.low === undefined ? {} : { low: fromCanonical(p.low, unit) }),
          ...(p.high === undefined ? {} : { high: fromCanonical(p.high, unit) }),
        }
      : p
  const t = s.technical
  const technical = t && {
    ...t,
    readings: t.readings.map((r) => {
      const other = chosenFor(r.unit, units)
      return other
        ? { ...r, unit: other.symbol, values: r.values.map((x) => (x === null ? null : fromCanonical(x, other))) }
        : r
    }),
  }
  return { ...s, changes, ...(picture ? { picture } : {}), ...(technical ? { technical } : {}) }
}

/** Units as a link carries them: symbols by commas. @throws RangeError naming the symbol that no quantity has */
export function unitsFromText(text: string): ChosenUnits {
  return Object.fromEntries(
    text
      .split(',')
      .filter(Boolean)
      .map((symbol) => {
        const quantity = Object.values(QUANTITIES).find((q) => q.units.some((u) => u.symbol === symbol))
        if (!quantity) throw new RangeError(`units: "${symbol}" is no unit that is known`)
        return [quantity.id, symbol]
      }),
  )
}

/** The other way about. */
export const unitsToText = (units: ChosenUnits): string => Object.values(units).filter(Boolean).join(',')
