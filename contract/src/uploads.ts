/** Largest file that is taken and kept [bytes]. */
export const MAX_FILE_BYTES = 96 * 1024 * 1024

/** Most that one piece of a large file holds [bytes]. */
export const UPLOAD_PIECE = 512 * 1024

/** How much of a file has arrived; answer of GET and PUT /api/uploads/{key}. */
export interface UploadState {
  readonly bytes: number
}
