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

const DAYS = ['Sun', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat'] as const
const MONTHS = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'] as const
const two = (n: number): string => String(n).padStart(2, '0')

/**
 * A day as people say it. Every first screen needs it: loading the tables of Intl costs 140 ms there, a package for dates 6 kB.
 */
export function sayDay(iso: string): string {
  const day = new Date(iso)
  return `${DAYS[day.getDay()]} ${day.getDate()} ${MONTHS[day.getMonth()]}`
}

/** A time of day. */
export function sayTime(iso: string): string {
  const time = new Date(iso)
  return `${two(time.getHours())}:${two(time.getMinutes())}`
}

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
