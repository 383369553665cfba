import type { Intent, VisitRecord } from '@uvula/core'
import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

@Entity('visits')
export class VisitEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) vehicleId: string
  @Index() @Column({ type: 'text' }) openedAt: string
  @Index() @Column({ type: 'text' }) state: 'open' | 'handed-over'
  @Column({ type: 'text' }) intent: Intent
  @Column({ type: 'text' }) complaint: string
  @Column({ type: 'simple-json' }) signs: string[]
  @Column({ type: 'simple-json' }) conditions: string[]
  @Column({ type: 'real', nullable: true }) odometerKm?: number | null
  @Column({ type: 'real' }) altitudeM: number
  @Column({ type: 'real' }) ambientC: number
  @Column({ type: 'real', nullable: true }) baroKpa?: number | null
  @Column({ type: 'simple-json', nullable: true }) asFound?: VisitRecord['asFound']
}
