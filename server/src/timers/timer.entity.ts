import type { TimerRecord } from '@uvula/core'
import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

@Entity('timers')
export class TimerEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) visitId: string
  @Column({ type: 'text' }) label: string
  @Column({ type: 'text' }) kind: TimerRecord['kind']
  @Column({ type: 'text' }) startedAt: string
  @Column({ type: 'real' }) seconds: number
  @Column({ type: 'boolean' }) ended: boolean
}
