import { CHANNELS, SLOTS, type ChannelId, type Slot } from '@uvula/core'
import { IsNumber } from 'class-validator'
import { ApiProperty } from '@nestjs/swagger'
import { Choice, Flag, FreeText, Text, Whole, WriteDto } from '../records/fields.js'

export class ReadingDto extends WriteDto {
  @Text(100) visitId: string
  @Whole(0, 50) round: number
  @Choice(Object.keys(SLOTS)) slot: Slot
  @Choice(CHANNELS.map((c) => c.id)) channel: ChannelId
  /** Bounds depend on the channel and are checked there. */
  @IsNumber({ allowNaN: false, allowInfinity: false }) @ApiProperty({ type: Number }) value: number
  @FreeText(60) typed: string
  /** Says that an old value is put right, and not measured again. */
  @Flag({ optional: true }) corrected?: boolean | null
}
