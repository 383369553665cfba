import { mkdirSync, rmSync } from 'node:fs'
import { SEED_DIR, Shop } from './shop.js'

/** Makes the demo shop once; every test works on its own copy. */
export default async function seed(): Promise<void> {
  rmSync(SEED_DIR, { recursive: true, force: true })
  mkdirSync(SEED_DIR, { recursive: true })
  const shop = await Shop.at(SEED_DIR)
  await shop.stop()
}
