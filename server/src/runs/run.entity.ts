import type { AdaptationId, OwnProcedure, RunEvent, RunLeader, RunRecord } from '@uvula/core'
import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

@Entity('runs')
export class RunEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) visitId: string
  @Column({ type: 'text' }) procedure: string
  @Column({ type: 'integer' }) attempt: number
  @Column({ type: 'simple-json' }) preconditions: string[]
  @Column({ type: 'simple-json' }) events: RunEvent[]
  @Column({ type: 'simple-json', nullable: true }) feed?: RunRecord['feed'] | null
  @Column({ type: 'integer', nullable: true }) afterRound?: number | null
  @Column({ type: 'simple-json', nullable: true }) own?: OwnProcedure | null
  @Column({ type: 'simple-json', nullable: true }) reset?: AdaptationId[] | null
  @Column({ type: 'simple-json', nullable: true }) leader?: RunLeader | null
}
