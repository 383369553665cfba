import { useSyncExternalStore } from 'react'
import { QUANTITIES, unitOf, type QuantityId, type Unit } from '@uvula/core'

/** What this device is set to. */
export interface Settings {
  readonly theme: 'day' | 'night'
  readonly technician: string
  readonly units: Readonly<Partial<Record<QuantityId, string>>>
  /** Whether what this shop has confirmed counts in the diagnosis. */
  readonly ownOutcomes: boolean
  /** Equipment that is not at hand: tests that need it are not proposed. */
  readonly missing: readonly string[]
}

const KEY = 'uvula-settings'
const listeners = new Set<() => void>()
let current: Settings = read()

function read(): Settings {
  const fallback: Settings = { theme: 'day', technician: 'Technician', units: {}, ownOutcomes: false, missing: [] }
  try {
    return { ...fallback, ...(JSON.parse(localStorage.getItem(KEY) ?? '{}') as Partial<Settings>) }
  } catch {
    return fallback
  }
}

export function changeSettings(part: Partial<Settings>): void {
  current = { ...current, ...part }
  try {
    localStorage.setItem(KEY, JSON.stringify(current))
  } catch {
    // a browser that keeps nothing still shows what was chosen until it is closed
  }
  applyTheme()
  for (const f of listeners) f()
}

export function applyTheme(): void {
  document.documentElement.dataset.theme = current.theme
}

export const technician = (): string => current.technician

export function useSettings(): Settings {
  return useSyncExternalStore(
    (f) => {
      listeners.add(f)
      return () => listeners.delete(f)
    },
    () => current,
  )
}

/** The unit chosen for a quantity. */
export function useUnit(quantity: QuantityId): Unit {
  const { units } = useSettings()
  const symbol = units[quantity]
  return symbol === undefined ? QUANTITIES[quantity].units[0] : unitOf(quantity, symbol)
}
