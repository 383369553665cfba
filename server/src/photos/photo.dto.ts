import { STATIONS, type StationId } from '@uvula/core'
import { ApiProperty } from '@nestjs/swagger'
import { IsBase64, IsOptional } from 'class-validator'
import { Choice, Text, WriteDto } from '../records/fields.js'

/** Picture kinds that every browser shows. */
export const PICTURES = ['image/jpeg', 'image/png', 'image/webp'] as const

export class PhotoDto extends WriteDto {
  @Text(100) visitId: string
  @Choice(STATIONS.map((s) => s.id)) station: StationId
  @Choice(PICTURES) mime: string
  @IsOptional() @IsBase64() @ApiProperty({ type: String, format: 'byte', required: false }) content?: string
}
