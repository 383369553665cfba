import { createServer } from 'node:net'

/** A port nobody listens at, below those that the system lends to connections: a server killed and started again finds it free. */
export async function freePort(): Promise<number> {
  for (;;) {
    const port = 20_000 + Math.floor(Math.random() * 12_000)
    const free = await new Promise<boolean>((resolve) => {
      const s = createServer()
      s.once('error', () => resolve(false))
      s.listen(port, '127.0.0.1', () => s.close(() => resolve(true)))
    })
    if (free) return port
  }
}
