import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

@Entity('ticks')
export class TickEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) visitId: string
  @Column({ type: 'text' }) caution: string
}
