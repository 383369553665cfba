import type { ChosenStretch, Mapping, OperatingPoint } from '@uvula/core'
import { Column, Entity, Index } from 'typeorm'
import { RecordEntity } from '../records/record.entity.js'

@Entity('recordings')
export class RecordingEntity extends RecordEntity {
  @Index() @Column({ type: 'text' }) visitId: string
  @Column({ type: 'integer' }) round: number
  @Column({ type: 'text' }) name: string
  /** Hash of the original, kept byte for byte. */
  @Column({ type: 'text' }) sha256: string
  @Column({ type: 'integer' }) bytes: number
  @Column({ type: 'integer' }) rows: number
  @Column({ type: 'simple-json' }) points: OperatingPoint[]
  @Column({ type: 'real', nullable: true }) closedThrottlePct?: number | null
  @Column({ type: 'simple-json' }) warnings: string[]
  @Column({ type: 'simple-json', nullable: true }) mapping?: Mapping | null
  @Column({ type: 'simple-json', nullable: true }) stretches?: ChosenStretch[] | null
  /** Columns, compressed; read only when a trace is drawn. */
  @Column({ type: 'blob' }) columns: Buffer

  /** Everything but the columns. */
  static readonly summary = {
    id: true,
    version: true,
    by: true,
    at: true,
    receivedAt: true,
    deleted: true,
    againstRule: true,
    visitId: true,
    round: true,
    name: true,
    sha256: true,
    bytes: true,
    rows: true,
    points: true,
    closedThrottlePct: true,
    warnings: true,
    mapping: true,
    stretches: true,
  } as const
}
