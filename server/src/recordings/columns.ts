import { promisify } from 'node:util'
import { gunzip, gzip } from 'node:zlib'
import type { ChannelId, Recording } from '@uvula/core'

const zip = promisify(gzip)
const unzip = promisify(gunzip)

/** Columns as one compressed block: a JSON head naming them, then their doubles one after another. */
export async function packColumns(r: Recording): Promise<Buffer> {
  const ids = Object.keys(r.columns) as ChannelId[]
  const head = Buffer.from(JSON.stringify({ rows: r.rows, ids }))
  const length = Buffer.alloc(4)
  length.writeUInt32LE(head.length)
  return zip(
    Buffer.concat([
      length,
      head,
      ...ids.map((id) => Buffer.from(r.columns[id]!.buffer, r.columns[id]!.byteOffset, r.rows * 8)),
    ]),
  )
}

/** All columns of a block. */
export async function unpackColumns(block: Buffer): Promise<Recording> {
  const raw = await unzip(block)
  const size = raw.readUInt32LE(0)
  const { rows, ids } = JSON.parse(raw.subarray(4, 4 + size).toString()) as { rows: number; ids: ChannelId[] }
  const columns = Object.fromEntries(
    ids.map((id, k) => {
      // a copy of its own: doubles must lie at multiples of their size
      const from = raw.byteOffset + 4 + size + k * rows * 8
      return [id, new Float64Array(raw.buffer.slice(from, from + rows * 8))]
    }),
  )
  return { rows, columns, warnings: [] }
}
