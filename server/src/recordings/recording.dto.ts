import { IsBase64, IsObject, IsOptional } from 'class-validator'
import { ApiProperty, ApiPropertyOptional } from '@nestjs/swagger'
import { Text, Whole, WriteDto } from '../records/fields.js'

export class RecordingDto extends WriteDto {
  @Text(100) visitId: string
  @Whole(0, 50) round: number
  @Text(255) name: string
  /** The file as it was dropped, base64; left out when a stored one is taken off. */
  @IsOptional() @IsBase64() @ApiProperty({ type: String, format: 'byte', required: false }) content?: string
  /** What a person said labels mean: a channel's id by label, or `none`. */
  @IsOptional()
  @IsObject()
  @ApiPropertyOptional({ type: 'object', additionalProperties: { type: 'string' } })
  mapping?: Record<string, string>
}
