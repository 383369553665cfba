/** Pause before what opens the application without its server is asked for again [ms]. */
const AGAIN_MS = 20_000

/**
 * Has the browser keep what opens the application without its server (offline/worker.ts). A keeping that broke off, because
 * the server went in the middle of it, is begun again until it holds.
 */
export async function keepForOffline(): Promise<void> {
  const again = (): void => void setTimeout(() => void keepForOffline(), AGAIN_MS)
  try {
    const { installing } = await navigator.serviceWorker.register('/offline.js')
    installing?.addEventListener('statechange', () => {
      if (installing.state === 'redundant') again()
    })
  } catch {
    again()
  }
}
