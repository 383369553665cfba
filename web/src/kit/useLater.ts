import { useEffect, useState } from 'react'

/** How long after a screen stands its later parts are fetched [ms]: nothing of the first paint waits for them. */
const LATER_MS = 1500

/**
 * A part that the first paint does not need: fetched soon after it, so that it is there when the server is not. Undefined
 * until then; one that cannot be fetched now is tried again, and takes nothing of the screen with it.
 * @param load - the same function on every render
 * @param now - somebody waits for it
 */
export function useLater<T>(load: () => Promise<T>, now = false): T | undefined {
  const [part, setPart] = useState<{ readonly is: T }>()
  useEffect(() => {
    let gone = false
    let timer: ReturnType<typeof setTimeout>
    const fetchIt = (): void =>
      void load().then(
        (is) => !gone && setPart({ is }),
        () => {
          if (!gone) timer = setTimeout(fetchIt, 4 * LATER_MS)
        },
      )
    timer = setTimeout(fetchIt, now ? 0 : LATER_MS)
    return () => {
      gone = true
      clearTimeout(timer)
    }
  }, [load, now])
  return part?.is
}
