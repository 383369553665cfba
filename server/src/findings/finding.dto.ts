import {
  figuresProblem,
  RESULT_UNITS,
  STATIONS,
  TESTS,
  type Outcome,
  type ResultUnit,
  type StationId,
} from '@uvula/core'
import { Choice, Judged, Num, Text, Whole, WriteDto } from '../records/fields.js'

export class FindingDto extends WriteDto {
  @Text(100) visitId: string
  @Choice([...TESTS.map((t) => t.id), 'note']) test: string
  @Choice(STATIONS.map((s) => s.id)) station: StationId
  @Text(60, { optional: true }) item?: string
  @Choice(['pass', 'fail', 'unclear']) outcome: Outcome
  @Text(1000, { optional: true }) note?: string
  @Num(-60, 5000, { optional: true }) value?: number
  @Choice(RESULT_UNITS, { optional: true }) unit?: ResultUnit
  @Judged('figures', figuresProblem, { optional: true }) figures?: Record<string, number> | null
  @Whole(0, 1000, { optional: true }) afterWork?: number
}
