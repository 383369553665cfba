import type { ItemMore, ItemRecord, StationId } from '@uvula/core'
import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

@Entity('items')
export class ItemEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) visitId: string
  @Column({ type: 'text' }) station: StationId
  @Column({ type: 'text' }) name: string
  @Column({ type: 'integer' }) count: number
  @Column({ type: 'text', nullable: true }) drive?: string | null
  @Column({ type: 'text', nullable: true }) bag?: string | null
  @Column({ type: 'text', nullable: true }) way?: string | null
  @Column({ type: 'text' }) arrival: ItemRecord['arrival']
  @Column({ type: 'text' }) state: ItemRecord['state']
  @Column({ type: 'text', nullable: true }) until?: string | null
  @Column({ type: 'simple-json', nullable: true }) more?: ItemMore | null
}
