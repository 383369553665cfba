import type { StationId } from '@uvula/core'
import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

@Entity('photos')
export class PhotoEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) visitId: string
  @Column({ type: 'text' }) station: StationId
  @Column({ type: 'text' }) sha256: string
  @Column({ type: 'text' }) mime: string
}
