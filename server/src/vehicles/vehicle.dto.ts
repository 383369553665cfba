import { CarForm } from '@uvula/contract'
import { ApiProperty, IntersectionType } from '@nestjs/swagger'
import { IsObject } from 'class-validator'
import { describeForm, Text, WriteDto } from '../records/fields.js'

export class VehicleDto extends IntersectionType(WriteDto, CarForm) {
  @Text(30, { optional: true }) vin?: string
  /** Vehicle format; every field is checked by its own rule. */
  @IsObject() @ApiProperty({ type: Object }) spec: object
}

describeForm(VehicleDto, [], ['plate', 'customer'])
