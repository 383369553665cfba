import { channelProblem, CHANNELS, type ChannelId, type CodeRecord } from '@uvula/core'
import { ApiProperty, ApiPropertyOptional } from '@nestjs/swagger'
import { IsOptional, Matches } from 'class-validator'
import { Choice, Flag, MapOf, Text, WriteDto } from '../records/fields.js'

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
  @MapOf('numbers by channel, as in {"rpm": 690}', CHANNELS.length, (id, x) => isReading(id, x))
  @ApiPropertyOptional({ type: 'object', additionalProperties: { type: 'number' } })
  frame?: Record<string, number> | null
}

const isReading = (id: string, x: unknown): boolean =>
  typeof x === 'number' && Number.isFinite(x) && channelProblem(id as ChannelId, x) === undefined
