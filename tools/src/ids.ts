// Writes contract/ids.md from the tables of the core: ids are listed once and never renamed.
import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import * as core from '@uvula/core'
import { root } from '../ready.mjs'

/** The list as Markdown. */
export function idsMarkdown(): string {
  const table = (title: string, rows: readonly { readonly id: string; readonly label: string }[]): string =>
    `## ${title}\n\n| id | meaning |\n|---|---|\n${rows.map((r) => `| \`${r.id}\` | ${r.label} |`).join('\n')}\n`
  return [
    '# Ids of the open formats\n\nMade from the tables in `core/`; never renamed, only added to.\n',
    table('Faults', core.FAULTS),
    `## Faults of the simulated engine beside them\n\n${core.SIMULATED_FAULTS.filter(
      (id) => !core.FAULTS.some((f) => f.id === id),
    )
      .map((id) => `- \`${id}\``)
      .join('\n')}\n`,
    table('Signs', core.SIGNS),
    table('Conditions', core.CONDITIONS),
    table('Tests', core.TESTS),
    `## Unlike finds of one test\n\n| test | id | meaning |\n|---|---|---|\n${core.TESTS.flatMap((t) =>
      (t.kinds ?? []).map((k) => `| \`${t.id}\` | \`${k.id}\` | ${k.label} |`),
    ).join('\n')}\n`,
    table('Stations', core.STATIONS),
    table('Channels', core.CHANNELS),
    table('Needles', core.NEEDLES),
    table('Stages', core.STAGES),
  ].join('\n')
}

if (process.argv[1] === fileURLToPath(import.meta.url)) writeFileSync(join(root, 'contract/ids.md'), idsMarkdown())
