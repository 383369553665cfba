import { ApiProperty } from '@nestjs/swagger'
import { IsObject } from 'class-validator'
import { FreeText, Text, WriteDto } from '../records/fields.js'

export class VehicleDto extends WriteDto {
  @Text(20) plate: string
  @FreeText(120) customer: string
  @Text(30, { optional: true }) vin?: string
  /** Vehicle format; every field is checked by its own rule. */
  @IsObject() @ApiProperty({ type: Object }) spec: object
}
