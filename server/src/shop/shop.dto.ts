import { ApiProperty } from '@nestjs/swagger'
import { ArrayMaxSize, IsArray, IsInt, Max, Min } from 'class-validator'
import { Choice, Num, Text } from '../records/fields.js'

export class ShopDto {
  @Text(80) name: string
  @Num(-450, 5500) altitudeM: number
  @Num(0, 100_000) labourPerHour: number
  @Text(12) currency: string
  @IsArray()
  @ArrayMaxSize(7)
  @IsInt({ each: true })
  @Min(1, { each: true })
  @Max(7, { each: true })
  @ApiProperty({ type: [Number] })
  partsDays: number[]
}

export class OpenShopDto {
  @Choice(['own', 'demo']) which: 'own' | 'demo'
}
