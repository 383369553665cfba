import type { LiveView } from './liveStore.js'
import { TROUBLE_WORDS } from './words.js'

/** How the link stands, in a few words; a shape says it from afar. */
export function LinkWord({ live }: { live: LiveView }) {
  const { state, reached, dropped } = live
  if (reached === undefined)
    return (
      <p className="link-word phone:order-5 phone:basis-full phone:pl-10 phone:text-left flex-1 min-w-0 text-right text-label leading-snug text-soft">
        asking the server
      </p>
    )
  if (!reached)
    return (
      <p
        className="link-word phone:order-5 phone:basis-full phone:pl-10 phone:text-left wrong flex-1 min-w-0 text-left text-label leading-snug"
        role="status"
      >
        <b>server out of reach</b>; what is here is kept
      </p>
    )
  if (!state || state.phase === 'off')
    return (
      <p className="link-word phone:order-5 phone:basis-full phone:pl-10 phone:text-left flex-1 min-w-0 text-right text-label leading-snug text-soft">
        {state?.message ?? 'not connected'}
      </p>
    )
  if (state.phase === 'lost')
    return (
      <p
        className="link-word phone:order-5 phone:basis-full phone:pl-10 phone:text-left wrong flex-1 min-w-0 text-left text-label leading-snug"
        role="status"
        data-phase="lost"
      >
        <b>{state.channels.length ? 'link lost' : 'no link yet'}</b>, trying again
        {state.attempts > 1 ? ` (${state.attempts})` : ''}. {state.message}
      </p>
    )
  if (state.phase !== 'live')
    return (
      <p
        className="link-word phone:order-5 phone:basis-full phone:pl-10 phone:text-left flex-1 min-w-0 text-right text-label leading-snug"
        role="status"
        data-phase={state.phase}
      >
        {state.phase === 'connecting' ? 'connecting' : 'asking what it gives'}{' '}
        <span className="progress inline-block w-90" />
      </p>
    )
  const trouble = state.trouble[0]
  return (
    <p
      className={`link-word phone:order-5 phone:basis-full phone:pl-10 phone:text-left flex-1 min-w-0 text-label leading-snug ${trouble ? 'wrong text-left' : 'text-right'}`}
      role="status"
      data-phase="live"
    >
      <b className="fig">{state.rateHz.toFixed(1)}</b> rows a second, {state.channels.length} channels
      {trouble ? `; ${TROUBLE_WORDS[trouble]}` : ''}
      {dropped > 0 ? `; ${dropped} dropped` : ''}
    </p>
  )
}
