import { useSyncExternalStore } from 'react'

/** The width under which a screen is one column: the same as the `narrow` variant of the styles. */
const query = matchMedia('(max-width: 900px)')

/** Whether the window is a phone's, or a part of one. */
export const useNarrow = (): boolean =>
  useSyncExternalStore(
    (f) => {
      query.addEventListener('change', f)
      return () => query.removeEventListener('change', f)
    },
    () => query.matches,
  )
