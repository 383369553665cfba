import { ArrayMaxSize, IsArray, IsBase64, IsOptional, ValidateNested } from 'class-validator'
import { Type } from 'class-transformer'
import { ApiProperty, ApiPropertyOptional } from '@nestjs/swagger'
import { POINT_KINDS, type PointKind } from '@uvula/core'
import { MAX_FILE_BYTES } from '@uvula/contract'
import { Choice, MapOf, Num, Text, Whole, WriteDto } from '../records/fields.js'

/** A stretch that counts by a technician's choice. */
class StretchDto {
  @Num(0, 1e7) startS: number
  @Num(0, 1e7) endS: number
  @Choice(POINT_KINDS, { optional: true }) kind?: PointKind
}

export class RecordingDto extends WriteDto {
  @Text(100) visitId: string
  @Whole(0, 50) round: number
  @Text(255) name: string
  /** Key under which the file came in pieces (/api/uploads); left out when a stored one is changed or taken off. */
  @Text(100, { optional: true }) upload?: string
  /** Size of that file: one of which only a part arrived is not taken for it. */
  @Whole(1, MAX_FILE_BYTES, { optional: true }) uploadBytes?: number
  /** The file itself in one piece instead, base64. */
  @IsOptional() @IsBase64() @ApiProperty({ type: String, format: 'byte', required: false }) content?: string
  /** What a person said labels mean: a channel's id by label, or `none`. */
  @IsOptional()
  @MapOf('texts by label', 200, (label, x) => label.length <= 200 && typeof x === 'string' && x.length <= 40)
  @ApiPropertyOptional({ type: 'object', additionalProperties: { type: 'string' } })
  mapping?: Record<string, string>
  /** Stretches that count instead of those found; null for those found. */
  @IsOptional()
  @IsArray()
  @ArrayMaxSize(200)
  @ValidateNested({ each: true })
  @Type(() => StretchDto)
  @ApiPropertyOptional({ type: [StretchDto], nullable: true })
  stretches?: StretchDto[] | null
}
