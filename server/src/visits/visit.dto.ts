import { SIGNS, type Intent } from '@uvula/core'
import { IsIn } from 'class-validator'
import { Choice, FreeText, Moment, Num, Text, TextList, WriteDto } from '../records/fields.js'

export class VisitDto extends WriteDto {
  @Text(100) vehicleId: string
  @Moment() openedAt: string
  @Choice(['open', 'handed-over']) state: 'open' | 'handed-over'
  @Choice(['complaint', 'check-up', 'not-stated']) intent: Intent
  @FreeText(2000) complaint: string
  @TextList(40) @IsIn(SIGNS.map((s) => s.id), { each: true }) signs: string[]
  @TextList(40) conditions: string[]
  @Num(0, 3_000_000, { optional: true }) odometerKm?: number
  @Num(-450, 5500) altitudeM: number
  @Num(-40, 60) ambientC: number
  @Num(45, 110, { optional: true }) baroKpa?: number
}
