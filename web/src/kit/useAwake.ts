import { useEffect } from 'react'

/** Keeps the screen on while it is shown; a browser that cannot lets it go dark. */
export function useAwake(): void {
  useEffect(() => {
    let lock: WakeLockSentinel | undefined
    void navigator.wakeLock?.request('screen').then(
      (l) => (lock = l),
      () => undefined,
    )
    return () => void lock?.release()
  }, [])
}
