import { Column, Entity, Index, PrimaryColumn, PrimaryGeneratedColumn } from 'typeorm'

/** An earlier value of a record, kept when it was corrected or undone. */
@Entity('history')
export class HistoryEntity {
  @PrimaryGeneratedColumn() seq: number
  @Index() @Column({ type: 'text' }) recordId: string
  @Column({ type: 'text' }) noun: string
  @Column({ type: 'integer' }) version: number
  @Column({ type: 'simple-json' }) value: unknown
  @Column({ type: 'text' }) replacedAt: string
}

/** A write that was taken, by its key: a repeat gets the same answer and changes nothing. */
@Entity('writes')
export class WriteEntity {
  @PrimaryColumn({ type: 'text' }) key: string
  @Column({ type: 'text' }) noun: string
  @Column({ type: 'text' }) recordId: string
  @Column({ type: 'simple-json' }) answer: unknown
  @Column({ type: 'text' }) receivedAt: string
}

/** Bytes by their hash: the same file twice is stored once. */
@Entity('blobs')
export class BlobEntity {
  @PrimaryColumn({ type: 'text' }) sha256: string
  @Column({ type: 'text' }) mime: string
  @Column({ type: 'integer' }) bytes: number
  /** gzip of the original. */
  @Column({ type: 'blob' }) content: Buffer
}
