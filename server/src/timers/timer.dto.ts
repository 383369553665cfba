import type { TimerRecord } from '@uvula/core'
import { Choice, Flag, Moment, Num, Text, WriteDto } from '../records/fields.js'

export class TimerDto extends WriteDto {
  @Text(100) visitId: string
  @Text(80) label: string
  @Choice(['drying', 'soak', 'battery-off', 'other']) kind: TimerRecord['kind']
  @Moment() startedAt: string
  @Num(1, 604_800) seconds: number
  @Flag() ended: boolean
}
