import type { LinkTroubleKind } from '@uvula/contract'

/** How the link of a simulated car behaves, as it is chosen before it begins. */
export const LINK_KINDS = [
  ['none', 'fast'],
  ['usual', 'as most are'],
  ['slow', 'slow'],
  ['garbled', 'spoilt bytes'],
] as const

/** What the driver of a simulated car does, a button each. */
export const FOOT_ACTS: readonly { readonly label: string; readonly foot: object }[] = [
  { label: 'idle', foot: { kind: 'idle' } },
  { label: '1500', foot: { kind: 'hold', rpm: 1500 } },
  { label: '2500', foot: { kind: 'hold', rpm: 2500 } },
  { label: 'A/C on', foot: { kind: 'load' } },
  { label: 'snap', foot: { kind: 'snap' } },
  { label: 'drive 60', foot: { kind: 'cruise', kph: 60 } },
  { label: 'key off', foot: { kind: 'key-on' } },
  { label: 'start', foot: { kind: 'start' } },
]

/** What can be done to the link of a simulated car while it runs. */
export const TROUBLES: readonly [string, string][] = [
  ['none', 'sound link'],
  ['usual', 'usual'],
  ['garbled', 'spoilt bytes'],
  ['silent', 'silent'],
  ['gone', 'pull the plug'],
]

/** What a link in trouble is said to be. */
export const TROUBLE_WORDS: Readonly<Record<LinkTroubleKind, string>> = {
  silent: 'requests stay unanswered: is the key on?',
  refusing: 'the vehicle refuses some requests',
  garbled: 'bytes arrive spoilt: check plug and cable',
  slow: 'slow answers: fewer rows',
}
