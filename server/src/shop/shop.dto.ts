import { ApiProperty } from '@nestjs/swagger'
import { ArrayMaxSize, IsArray, IsInt, Max, Min } from 'class-validator'
import { ShopForm } from '@uvula/contract'
import { Choice, describeForm, Text } from '../records/fields.js'

export class ShopDto extends ShopForm {
  @Text(12) currency: string
  @IsArray()
  @ArrayMaxSize(7)
  @IsInt({ each: true })
  @Min(1, { each: true })
  @Max(7, { each: true })
  @ApiProperty({ type: [Number] })
  partsDays: number[]
}

describeForm(ShopDto, ['altitudeM', 'labourPerHour', 'taxPct'], ['name'])

export class OpenShopDto {
  @Choice(['own', 'demo']) which: 'own' | 'demo'
}
