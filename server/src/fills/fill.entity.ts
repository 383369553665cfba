import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

/** A tank filled: kept with the car, not with a visit. */
@Entity('fills')
export class FillEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) vehicleId: string
  @Column({ type: 'text' }) on: string
  @Column({ type: 'real' }) odometerKm: number
  @Column({ type: 'real' }) litres: number
  @Column({ type: 'boolean' }) full: boolean
}
