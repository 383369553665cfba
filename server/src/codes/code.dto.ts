import { channelProblem, CHANNELS, type ChannelId, type CodeRecord } from '@uvula/core'
import { ApiPropertyOptional, IntersectionType } from '@nestjs/swagger'
import { CodeForm } from '@uvula/contract'
import { IsOptional } from 'class-validator'
import { Choice, describeForm, Flag, MapOf, Text, WriteDto } from '../records/fields.js'

export class CodeDto extends IntersectionType(WriteDto, CodeForm) {
  @Text(100) visitId: string
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

describeForm(CodeDto, [], ['code'])
