import type { MethodId, ProductId, StationId, StepMore, SurfaceId } from '@uvula/core'
import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

@Entity('steps')
export class StepEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) visitId: string
  @Column({ type: 'text' }) station: StationId
  @Column({ type: 'text' }) surface: SurfaceId
  @Column({ type: 'text' }) product: ProductId
  @Column({ type: 'text' }) method: MethodId
  @Column({ type: 'boolean' }) passed: boolean
  @Column({ type: 'integer', nullable: true }) afterRound?: number | null
  @Column({ type: 'simple-json', nullable: true }) more?: StepMore | null
}
