import { takenProblem, type BalanceRecord } from '@uvula/core'
import { ApiProperty } from '@nestjs/swagger'
import { ValidateBy } from 'class-validator'
import { Text, Whole, WriteDto } from '../records/fields.js'

export class BalanceDto extends WriteDto {
  @Text(100) visitId: string
  @Whole(0, 50) round: number
  @ValidateBy({
    name: 'taken',
    validator: {
      validate: (x: unknown) => takenProblem(x) === undefined,
      defaultMessage: (a) => takenProblem(a?.value) ?? '',
    },
  })
  @ApiProperty({ type: Object })
  taken: BalanceRecord['taken']
}
