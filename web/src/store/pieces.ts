import { UPLOAD_PIECE, type UploadState } from '@uvula/contract'
import { ApiProblem, getJson, putBytes } from './api.js'
import { database, type PendingWrite } from './database.js'

/** Pieces of one file sort in their order: more than fit into its bound have no number that is longer. */
const pieceKey = (key: string, n: number): string => `${key} ${String(n).padStart(5, '0')}`
const ofWrite = (key: string): IDBKeyRange => IDBKeyRange.bound(`${key} `, `${key} ~`)

const LOCK = 'uvula-pieces'

/** Keeps a file in pieces, and then by `keep` the write that it goes with: no other page takes the pieces for strays meanwhile. */
export async function keepPieces(key: string, file: Uint8Array, keep: () => Promise<unknown>): Promise<void> {
  const db = await database()
  const both = async (): Promise<void> => {
    for (let at = 0; at < file.length; at += UPLOAD_PIECE) {
      await db.put('pieces', new Uint8Array(file.slice(at, at + UPLOAD_PIECE)), pieceKey(key, at / UPLOAD_PIECE))
    }
    await keep()
  }
  await (navigator.locks ? navigator.locks.request(LOCK, { mode: 'shared' }, both) : both())
}

export const dropPieces = async (key: string): Promise<void> => (await database()).delete('pieces', ofWrite(key))

/** Lets go of files whose write is not here: the page went before it was kept, or after it was delivered. */
export async function dropStrayPieces(): Promise<void> {
  // where a browser has no locks nobody can tell a stray from one that is just being kept
  await navigator.locks?.request(LOCK, { ifAvailable: true }, async (mine) => {
    if (!mine) return
    const db = await database()
    const keys = new Set((await db.getAll('outbox')).map((w) => w.key))
    const strays = new Set((await db.getAllKeys('pieces')).map((k) => k.split(' ')[0]))
    for (const key of strays) if (!keys.has(key)) await dropPieces(key)
  })
}

/**
 * Sends what the server has not of a file, piece by piece. @param tell - how much is there after each
 * @throws ApiProblem, Unreachable; what arrived by then has not to be sent again
 */
export async function sendPieces(write: PendingWrite, tell: (bytes: number) => void): Promise<void> {
  const path = `/api/uploads/${encodeURIComponent(write.key)}`
  const all = write.fileBytes ?? 0
  const db = await database()
  let { bytes } = await getJson<UploadState>(path)
  while (bytes < all) {
    tell(bytes)
    const piece = await db.get('pieces', pieceKey(write.key, Math.floor(bytes / UPLOAD_PIECE)))
    if (!piece)
      throw new ApiProblem({
        type: 'uvula:lost-piece',
        title: 'Not whole',
        status: 422,
        detail: 'Part of the file is not on this tablet any more: drop it again.',
      })
    const begun = bytes % UPLOAD_PIECE
    bytes = (await putBytes<UploadState>(`${path}?at=${bytes}`, piece.subarray(begun))).bytes
  }
  tell(all)
}
