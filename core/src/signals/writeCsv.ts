import Papa from 'papaparse'
import { CANONICAL_HEADER, type ChannelId } from './channels.js'
import type { Recording } from './recording.js'

/** Decimals of the canonical export. */
const DECIMALS: Partial<Record<ChannelId, number>> = { time_s: 3, maf_gs: 2, lambda_cmd: 3, rpm: 2 }

/** A recording as canonical CSV: canonical columns first, further ones after; only columns it has. */
export function writeRecordingCsv(recording: Recording): string {
  const has = Object.keys(recording.columns) as ChannelId[]
  const fields = [
    ...CANONICAL_HEADER.filter((id) => has.includes(id)),
    ...has.filter((id) => !CANONICAL_HEADER.includes(id)),
  ]
  const data: string[][] = []
  for (let i = 0; i < recording.rows; i++)
    data.push(
      fields.map((id) => {
        const x = recording.columns[id]![i]
        if (Number.isNaN(x)) return ''
        if (id === 'fuel_status') return x >= 0.5 ? 'closed' : 'open'
        return String(Number(x.toFixed(DECIMALS[id] ?? 2)))
      }),
    )
  return Papa.unparse({ fields: [...fields], data }, { newline: '\n' }) + '\n'
}
