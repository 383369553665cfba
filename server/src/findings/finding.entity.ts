import type { Outcome, ResultUnit, StationId } from '@uvula/core'
import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

@Entity('findings')
export class FindingEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) visitId: string
  @Column({ type: 'text' }) test: string
  @Column({ type: 'text' }) station: StationId
  @Column({ type: 'text', nullable: true }) item?: string | null
  @Column({ type: 'text' }) outcome: Outcome
  @Column({ type: 'text', nullable: true }) note?: string | null
  @Column({ type: 'real', nullable: true }) value?: number | null
  @Column({ type: 'text', nullable: true }) unit?: ResultUnit | null
  @Column({ type: 'simple-json', nullable: true }) figures?: Record<string, number> | null
  @Column({ type: 'integer', nullable: true }) afterWork?: number | null
}
