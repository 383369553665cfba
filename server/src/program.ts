import { readFileSync } from 'node:fs'

/** Version of Uvula, as its own package tells it. Two folders above this file, built or gathered with the rest. */
export const { version: VERSION } = JSON.parse(
  readFileSync(new URL('../../package.json', import.meta.url), 'utf8'),
) as { readonly version: string }
