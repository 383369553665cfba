import type { Sheet } from '@uvula/core'
import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

@Entity('reports')
export class ReportEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) visitId: string
  @Column({ type: 'integer' }) number: number
  @Column({ type: 'text' }) issuedAt: string
  /** The sheet as it was issued. */
  @Column({ type: 'simple-json' }) sheet: Sheet
}
