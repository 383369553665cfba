import type { FaultId } from '@uvula/core'
import { Column, Entity, PrimaryColumn } from 'typeorm'

/** Which cause a visit confirmed, worked out once for each version of it. */
@Entity('outcomes')
export class OutcomeEntity {
  @PrimaryColumn({ type: 'text' }) visitId: string
  /** Version of the visit. */
  @Column({ type: 'integer' }) version: number
  /** Version of the rules by which it was worked out. */
  @Column({ type: 'text' }) madeBy: string
  /** None where the visit confirmed none. */
  @Column({ type: 'text', nullable: true }) fault: FaultId | null
}
