import { Column, PrimaryColumn } from 'typeorm'

/** Columns that every record of a visit has. */
export abstract class RecordEntity {
  @PrimaryColumn({ type: 'text' }) id: string
  @Column({ type: 'integer' }) version: number
  @Column({ type: 'text' }) by: string
  /** Clock of the device that took it. */
  @Column({ type: 'text' }) at: string
  /** The server's receipt. */
  @Column({ type: 'text' }) receivedAt: string
  @Column({ type: 'boolean', default: false }) deleted: boolean
  @Column({ type: 'text', nullable: true }) againstRule?: string | null
}

/** A record as it goes out: no empty fields, `deleted` only when it is. */
export function toRecord<T>(entity: object): T {
  const out: Record<string, unknown> = {}
  for (const [k, x] of Object.entries(entity))
    if (x !== null && x !== undefined && !(k === 'deleted' && x === false)) out[k] = x
  return out as T
}
