import type { Role } from '@uvula/contract'
import { ApiProblem } from '../store/api.js'
import type { Choice } from '../kit/Choose.js'

/** What each may do. */
export const ROLES: readonly Choice<Role>[] = [
  { value: 'technician', label: 'technician' },
  { value: 'owner', label: 'owner' },
]

export const OWNER_MAY = 'An owner may also change the shop’s figures, take and restore backups, and say who comes in.'

/** Why something did not go, for whoever asked. */
export const wordsOf = (e: unknown): string => (e instanceof ApiProblem ? e.message : 'The server does not answer.')

/** A code as it is read off one screen and typed at another. */
export const inHalves = (code: string): string => `${code.slice(0, 5)} ${code.slice(5)}`
