import { quoteProblem, type Agreed, type QuoteLine } from '@uvula/core'
import { IsObject, IsOptional } from 'class-validator'
import { ApiProperty } from '@nestjs/swagger'
import { Judged, Num, Text, WriteDto } from '../records/fields.js'

export class QuoteDto extends WriteDto {
  @Text(100) visitId: string
  @Judged('lines', quoteProblem) lines: QuoteLine[]
  @Num(0, 100_000) labourPerHour: number
  @Num(0, 100) taxPct: number
  /** Judged against the lines of the same quote. */
  @IsOptional() @IsObject() @ApiProperty({ type: Object, required: false }) agreed?: Agreed | null
}
