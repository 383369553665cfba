import { gunzipSync, gzipSync } from 'node:zlib'
import type { ChannelId, Recording } from '@uvula/core'

/** Columns as one compressed block: a JSON head naming them, then their doubles one after another. */
export function packColumns(r: Recording): Buffer {
  const ids = Object.keys(r.columns) as ChannelId[]
  const head = Buffer.from(JSON.stringify({ rows: r.rows, ids }))
  const length = Buffer.alloc(4)
  length.writeUInt32LE(head.length)
  return gzipSync(
    Buffer.concat([
      length,
      head,
      ...ids.map((id) => Buffer.from(r.columns[id]!.buffer, r.columns[id]!.byteOffset, r.rows * 8)),
    ]),
  )
}

/** The named columns, at most `most` rows evenly thinned; a missing value is null. */
export function unpackColumns(
  block: Buffer,
  wanted: readonly string[],
  most: number,
): Record<string, (number | null)[]> {
  const raw = gunzipSync(block)
  const size = raw.readUInt32LE(0)
  const { rows, ids } = JSON.parse(raw.subarray(4, 4 + size).toString()) as { rows: number; ids: string[] }
  const every = Math.max(1, Math.ceil(rows / most))
  const out: Record<string, (number | null)[]> = {}
  for (const id of wanted) {
    const at = ids.indexOf(id)
    if (at < 0) continue
    const from = 4 + size + at * rows * 8
    const list: (number | null)[] = []
    for (let i = 0; i < rows; i += every) {
      const x = raw.readDoubleLE(from + i * 8)
      list.push(Number.isNaN(x) ? null : x)
    }
    out[id] = list
  }
  return out
}
