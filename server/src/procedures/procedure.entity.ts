import type { OwnProcedure } from '@uvula/core'
import { Column, Entity } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

/** A timed procedure that this shop wrote from a maker's book. */
@Entity('procedures')
export class ProcedureEntity extends RecordEntity {
  @Column({ type: 'simple-json' }) value: OwnProcedure
}
