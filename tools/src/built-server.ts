// The built server as a process of its own, for the benches and the pictures.
import { spawn, type ChildProcess } from 'node:child_process'
import { root } from '../ready.mjs'

export const sleep = (ms: number): Promise<void> => new Promise((r) => setTimeout(r, ms))

/** A start is waited for, however slow the machine and large the shop [ms]. */
const START_MS = 60_000

/**
 * Starts the built server on a folder, and waits until it answers.
 * @param env - what its environment has beside this one's
 * @throws Error with its last words when it ends, or does not answer in time
 */
export async function serve(data: string, port: number, env: NodeJS.ProcessEnv = {}): Promise<ChildProcess> {
  const child = spawn(process.execPath, ['server/bundle/main.js'], {
    cwd: root,
    env: { ...process.env, PORT: String(port), UVULA_DATA: data, ...env },
    stdio: ['ignore', 'ignore', 'pipe'],
  })
  let said = ''
  child.stderr.on('data', (d: Buffer) => (said = (said + d.toString()).slice(-2000)))
  for (const end = Date.now() + START_MS; Date.now() < end;) {
    const up = await fetch(`http://127.0.0.1:${port}/api/shop`).then(
      (r) => r.ok,
      () => false,
    )
    if (up) return child
    if (child.exitCode !== null) throw new Error(`the server ended: ${said.slice(-600)}`)
    await sleep(25)
  }
  child.kill('SIGKILL')
  throw new Error('the server did not start')
}

/** Ends it, if it still runs, and waits until it is gone. */
export async function end(child: ChildProcess, signal: NodeJS.Signals): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return
  const gone = new Promise((r) => child.once('exit', r))
  child.kill(signal)
  await gone
}
