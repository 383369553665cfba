import { useCallback } from 'react'
import { formatIn, QUANTITIES, unitOf, type QuantityId } from '@uvula/core'
import { useSettings } from '../store/settings.js'

/** Formats canonical values in the units this device is set to, unit beside. */
export function useFormat(): (quantity: QuantityId, value: number, decimals?: number) => string {
  const { units } = useSettings()
  return useCallback(
    (quantity, value, decimals) => {
      const symbol = units[quantity]
      const unit = symbol === undefined ? QUANTITIES[quantity].units[0] : unitOf(quantity, symbol)
      return `${formatIn(value, unit, decimals)}${unit.symbol ? `\u2009${unit.symbol}` : ''}`
    },
    [units],
  )
}

/** A day as people say it. */
export function sayDay(iso: string): string {
  return new Date(iso).toLocaleDateString('en-GB', { weekday: 'short', day: 'numeric', month: 'short' })
}

/** A time of day. */
export const sayTime = (iso: string): string =>
  new Date(iso).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })

/** A share as a whole percentage that never says 0 or 100 of something open. */
export function sayShare(p: number): string {
  if (p >= 0.995) return '>99'
  if (p < 0.01) return '<1'
  return (100 * p).toFixed(0)
}
