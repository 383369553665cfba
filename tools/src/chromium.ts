// Chromium for the browser tests comes from Debian's packages; nothing is downloaded from elsewhere.
import { existsSync } from 'node:fs'
import { run } from '../ready.mjs'

export const CHROMIUM = '/usr/bin/chromium'

/** Installs Chromium when it is missing. @throws Error with what to do when it cannot */
export async function ensureChromium(): Promise<void> {
  if (existsSync(CHROMIUM)) return
  console.log("  install Chromium from Debian's packages")
  try {
    await run('apt-get', ['update', '-qq'])
    await run('apt-get', ['install', '-y', '-qq', '--no-install-recommends', 'chromium'], {
      env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    })
  } catch {
    throw new Error(
      `The browser tests need ${CHROMIUM}. Install Debian's package "chromium" (as root: apt-get install chromium), then run npm test again.`,
    )
  }
}
