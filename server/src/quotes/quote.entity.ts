import type { Agreed, QuoteLine } from '@uvula/core'
import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

@Entity('quotes')
export class QuoteEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) visitId: string
  @Column({ type: 'simple-json' }) lines: QuoteLine[]
  @Column({ type: 'real' }) labourPerHour: number
  @Column({ type: 'real' }) taxPct: number
  @Column({ type: 'simple-json', nullable: true }) agreed?: Agreed | null
}
