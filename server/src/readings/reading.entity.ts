import type { ChannelId, Slot } from '@uvula/core'
import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

@Entity('readings')
export class ReadingEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) visitId: string
  @Column({ type: 'integer' }) round: number
  @Column({ type: 'text' }) slot: Slot
  @Column({ type: 'text' }) channel: ChannelId
  /** Canonical unit of the channel. */
  @Column({ type: 'real' }) value: number
  @Column({ type: 'text' }) typed: string
  @Column({ type: 'boolean', nullable: true }) corrected?: boolean | null
}
