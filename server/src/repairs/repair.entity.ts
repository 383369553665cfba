import type { RepairKind, StationId } from '@uvula/core'
import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

@Entity('repairs')
export class RepairEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) visitId: string
  @Column({ type: 'text' }) station: StationId
  @Column({ type: 'text' }) kind: RepairKind
  @Column({ type: 'text' }) state: 'planned' | 'done'
  @Column({ type: 'integer' }) afterRound: number
  @Column({ type: 'boolean' }) temporary: boolean
  @Column({ type: 'text', nullable: true }) recheckOn?: string | null
  @Column({ type: 'real' }) minutes: number
  @Column({ type: 'real' }) partsPrice: number
  @Column({ type: 'simple-json' }) conditions: string[]
  @Column({ type: 'text', nullable: true }) note?: string | null
  @Column({ type: 'text', nullable: true }) finding?: string | null
}
