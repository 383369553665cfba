import type { StationId } from '@uvula/core'
import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

@Entity('counts')
export class CountEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) visitId: string
  @Column({ type: 'text' }) thing: string
  @Column({ type: 'text' }) station: StationId
  @Column({ type: 'integer' }) putIn: number
  @Column({ type: 'integer' }) takenOut: number
}
