import { IsBase64, IsOptional } from 'class-validator'
import { ApiProperty } from '@nestjs/swagger'
import { Text, Whole, WriteDto } from '../records/fields.js'

export class RecordingDto extends WriteDto {
  @Text(100) visitId: string
  @Whole(0, 50) round: number
  @Text(255) name: string
  /** The file as it was dropped, base64; left out when a stored one is taken off. */
  @IsOptional() @IsBase64() @ApiProperty({ type: String, format: 'byte', required: false }) content?: string
}
