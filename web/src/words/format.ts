import { format } from 'date-fns'
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

/** A day as people say it. Without Intl: loading its tables cost the first screen 140 ms. */
export const sayDay = (iso: string): string => format(new Date(iso), 'EEE d MMM')

/** A time of day. */
export const sayTime = (iso: string): string => format(new Date(iso), 'HH:mm')

/** A share as a whole percentage that never says 0 or 100 of something open. */
export function sayShare(p: number): string {
  if (p >= 0.995) return '>99'
  if (p < 0.01) return '<1'
  return (100 * p).toFixed(0)
}

/** How far a device's clock is off, in words: "3 h 2 min ahead". @param offMs - the shop's clock less the device's [ms] */
export function saySkew(offMs: number): string {
  const s = Math.round(Math.abs(offMs) / 1000)
  const long = s >= 3600 ? `${Math.floor(s / 3600)} h ${Math.floor((s % 3600) / 60)} min` : `${Math.floor(s / 60)} min`
  return `${s < 60 ? `${s} s` : long} ${offMs < 0 ? 'ahead' : 'behind'}`
}

/** Minutes and seconds of a recording. */
export const sayClock = (s: number): string => `${Math.floor(s / 60)}:${String(Math.floor(s % 60)).padStart(2, '0')}`
