import type { BalanceRecord } from '@uvula/core'
import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

@Entity('balances')
export class BalanceEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) visitId: string
  @Column({ type: 'integer' }) round: number
  @Column({ type: 'simple-json' }) taken: BalanceRecord['taken']
}
