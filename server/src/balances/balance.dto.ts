import { takenProblem, type BalanceRecord } from '@uvula/core'
import { Judged, Text, Whole, WriteDto } from '../records/fields.js'

export class BalanceDto extends WriteDto {
  @Text(100) visitId: string
  @Whole(0, 50) round: number
  @Judged('taken', takenProblem) taken: BalanceRecord['taken']
}
