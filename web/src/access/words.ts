import type { Role } from '@uvula/contract'
import type { Choice } from '../kit/Choose.js'

/** What each may do. */
export const ROLES: readonly Choice<Role>[] = [
  { value: 'technician', label: 'technician' },
  { value: 'owner', label: 'owner' },
]

export const OWNER_MAY = 'An owner may also change the shop’s figures, take and restore backups, and say who comes in.'

/** A code as it is read off one screen and typed at another. */
export const inHalves = (code: string): string => `${code.slice(0, 5)} ${code.slice(5)}`
