import { type StepRule, maybeChannel, QUANTITIES, TELLING, type ChannelId } from '@uvula/core'

/** What tells a condition of a procedure by itself. */
export const BY: readonly { readonly value: ChannelId | 'none'; readonly label: string }[] = [
  { value: 'none', label: 'seen to by hand' },
  ...TELLING.map((t) => {
    const { label, quantity } = maybeChannel(t.channel)!
    return { value: t.channel, label: `${label}, ${QUANTITIES[quantity].units[0].symbol}` }
  }),
]

/** What the second figure of a step is, where it has one. */
export const MORE: Readonly<Partial<Record<StepRule['kind'], string>>> = { exact: '± s', count: 'times' }

/** How the floor of a step is drawn: heavy where more is allowed, dashed where a sign ends it, with a wall where it must be over. */
export const FLOOR: Readonly<Record<StepRule['kind'], string>> = {
  exact: 'border-b-3 border-ink',
  'at-least': 'border-b-8 border-ink',
  'at-most': 'border-b-3 border-r-6 border-ink',
  until: 'border-b-3 border-dashed border-ink',
  count: 'border-b-3 border-ink',
}
