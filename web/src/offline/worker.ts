/**
 * Opens the application from the tablet's own storage when the server does not answer. It keeps the page and its scripts,
 * styles and letters; what was measured and entered is kept by the page itself (store/kept.ts, store/outbox.ts), and no
 * question to the server goes through here.
 */
const here = self as unknown as ServiceWorkerGlobalScope
/** Put in at build time: what the page is made of, and what tells one build from another. */
declare const SHELL: readonly string[]
declare const BUILD: string

const CACHE = `uvula-${BUILD}`
/** A server that does not answer a page within this time is taken to be away [ms]. */
const ANSWERS_WITHIN_MS = 3000

here.addEventListener('install', (event) => {
  event.waitUntil(keepShell())
})
here.addEventListener('activate', (event) => {
  event.waitUntil(Promise.all([dropOld(), here.clients.claim()]))
})
here.addEventListener('fetch', (event) => {
  const { request } = event
  const url = new URL(request.url)
  if (request.method !== 'GET' || url.origin !== here.location.origin || url.pathname.startsWith('/api/')) return
  if (request.mode === 'navigate') event.respondWith(page(request))
  else event.respondWith(asset(request))
})

/** All of it or nothing: a shell with a hole would open and then stand still. */
async function keepShell(): Promise<void> {
  const cache = await caches.open(CACHE)
  // one after another: a tap that comes meanwhile is not kept waiting. A build's files never change under their names, so
  // what the browser has already is not fetched again
  for (const path of SHELL) await cache.add(path)
}

async function dropOld(): Promise<void> {
  const names = await caches.keys()
  await Promise.all(names.filter((n) => n.startsWith('uvula-') && n !== CACHE).map((n) => caches.delete(n)))
}

/** Every address is the same page: from the server, or as it was kept, with the head that belongs to it. */
async function page(request: Request): Promise<Response> {
  const away = new AbortController()
  const timer = setTimeout(() => away.abort(), ANSWERS_WITHIN_MS)
  try {
    return await fetch(request, { signal: away.signal })
  } catch (e) {
    const kept = await caches.match('/', { cacheName: CACHE })
    if (!kept) throw e
    return kept
  } finally {
    clearTimeout(timer)
  }
}

async function asset(request: Request): Promise<Response> {
  return (await caches.match(request, { cacheName: CACHE, ignoreVary: true })) ?? fetch(request)
}
