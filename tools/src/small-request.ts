// Asks for the same small thing again and again, in a thread of its own so that nothing of the asker's counts, and tells the longest wait.
import { parentPort, workerData } from 'node:worker_threads'

/** Between two requests [ms]. */
const EVERY_MS = 2

const { url } = workerData as { readonly url: string }
let longest = 0

parentPort!.on('message', () => {
  parentPort!.postMessage(longest)
  longest = 0
})
for (;;) {
  const began = performance.now()
  const answer = await fetch(url)
  await answer.arrayBuffer()
  longest = Math.max(longest, performance.now() - began)
  await new Promise((r) => setTimeout(r, EVERY_MS))
}
