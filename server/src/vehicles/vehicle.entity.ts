import type { Vehicle } from '@uvula/core'
import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

@Entity('vehicles')
export class VehicleEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) plate: string
  @Column({ type: 'text' }) customer: string
  @Column({ type: 'text', nullable: true }) vin?: string | null
  @Column({ type: 'simple-json' }) spec: Vehicle
}
