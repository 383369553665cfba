import type { CodeRecord } from '@uvula/core'
import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

@Entity('codes')
export class CodeEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) visitId: string
  @Column({ type: 'text' }) code: string
  @Column({ type: 'text' }) state: CodeRecord['state']
  @Column({ type: 'text' }) when: CodeRecord['when']
  @Column({ type: 'boolean' }) cleared: boolean
  @Column({ type: 'simple-json', nullable: true }) frame?: CodeRecord['frame']
}
