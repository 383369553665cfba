import type { CodeRecord } from '@uvula/core'
import { ApiProperty, ApiPropertyOptional } from '@nestjs/swagger'
import { IsObject, IsOptional, Matches } from 'class-validator'
import { Choice, Flag, Text, WriteDto } from '../records/fields.js'

export class CodeDto extends WriteDto {
  @Text(100) visitId: string
  @Matches(/^[PBCU][0-9A-F]{4}$/, { message: 'code must be one letter of P, B, C, U and four digits, as in P0171' })
  @ApiProperty()
  code: string
  @Choice(['pending', 'stored', 'permanent']) state: CodeRecord['state']
  @Choice(['before', 'after', 'after-drive']) when: CodeRecord['when']
  @Flag() cleared: boolean
  /** Freeze-frame that came with it: values by channel, canonical units. */
  @IsOptional()
  @IsObject()
  @ApiPropertyOptional({ type: 'object', additionalProperties: { type: 'number' } })
  frame?: Record<string, number> | null
}
