import {
  ADAPTATIONS,
  METHODS,
  ownProcedureProblem,
  STATIONS,
  type FeedRequest,
  type AdaptationId,
  type MethodId,
  type OwnProcedure,
  FEED_EQUIPMENT,
  RUN_EVENTS,
  type RunEvent,
  type StationId,
} from '@uvula/core'
import { ApiProperty } from '@nestjs/swagger'
import { Type } from 'class-transformer'
import { ArrayMaxSize, IsArray, IsIn, IsObject, IsOptional, ValidateNested } from 'class-validator'
import { FeedForm } from '@uvula/contract'
import { Choice, describeForm, Flag, Judged, Num, Text, TextList, Whole, WriteDto } from '../records/fields.js'

export class RunEventDto {
  @Choice(RUN_EVENTS) kind: RunEvent['kind']
  /** The key's or pointer's own time, milliseconds since 1970, tenths kept. */
  @Num(0, 1e14) atMs: number
}

export class FeedProductDto {
  @Choice(['combustible', 'water']) kind: 'combustible' | 'water'
  @Num(5, 30) afr: number
}

export class TrimsDto {
  @Num(-0.6, 0.6) total: number
  @Num(-0.6, 0) totalMin: number
  @Num(-0.6, 0.6) short: number
  @Num(-0.6, 0) shortMin: number
}

export class EquipmentDto {
  @Num(FEED_EQUIPMENT.pressureBar.min, FEED_EQUIPMENT.pressureBar.max, { optional: true }) pressureBar?: number
  @Num(FEED_EQUIPMENT.nozzleMm.min, FEED_EQUIPMENT.nozzleMm.max, { optional: true }) nozzleMm?: number
  @Num(FEED_EQUIPMENT.massG.min, FEED_EQUIPMENT.massG.max, { optional: true }) massG?: number
  @Num(FEED_EQUIPMENT.overS.min, FEED_EQUIPMENT.overS.max, { optional: true }) overS?: number
}

export class FeedDto extends FeedForm {
  @Choice(METHODS.map((m) => m.id)) method: MethodId
  @IsObject()
  @ValidateNested()
  @Type(() => FeedProductDto)
  @ApiProperty({ type: FeedProductDto })
  product: FeedProductDto
  @Num(0, 10, { optional: true }) labelRateMlS?: number
  @Choice(STATIONS.map((s) => s.id)) point: StationId
  @Flag({ optional: true }) together?: boolean
  @IsOptional()
  @IsObject()
  @ValidateNested()
  @Type(() => EquipmentDto)
  @ApiProperty({ type: EquipmentDto, required: false })
  equipment?: EquipmentDto
  @Num(0, 110, { optional: true }) vacuumKpa?: number
  @Choice(['scan', 'pick-up', 'ripple', 'microphone', 'guessed']) speedFrom: FeedRequest['speedFrom']
  @IsOptional()
  @IsObject()
  @ValidateNested()
  @Type(() => TrimsDto)
  @ApiProperty({ type: TrimsDto, required: false })
  trims?: TrimsDto
  @Flag() extraction: boolean
  @Flag() fireCover: boolean
  @Flag() lampFlashing: boolean
  @Flag() heldRunning: boolean
  @Flag({ optional: true }) filterClear?: boolean
  @Flag() feedRunning: boolean
  @Num(0, 5000, { optional: true }) alreadyMl?: number
  @Num(0, 500, { optional: true }) filmStartMl?: number
}

describeForm(FeedDto, ['doseMl', 'labelMaxMl', 'rpm', 'airGS', 'coolantC', 'boostKpa'])

export class LeaderDto {
  @Text(60) page: string
  @Text(80) by: string
}

export class RunDto extends WriteDto {
  @Text(100) visitId: string
  @Text(100) procedure: string
  @Whole(1, 99) attempt: number
  @TextList(60) preconditions: string[]
  @IsArray()
  @ArrayMaxSize(2000)
  @ValidateNested({ each: true })
  @Type(() => RunEventDto)
  @ApiProperty({ type: [RunEventDto] })
  events: RunEventDto[]
  @IsOptional()
  @IsObject()
  @ValidateNested()
  @Type(() => FeedDto)
  @ApiProperty({ type: FeedDto, required: false })
  feed?: FeedDto
  @Whole(0, 50, { optional: true }) afterRound?: number | null
  /** A shop's own procedure as it was when the run was armed. */
  @Judged('own', ownProcedureProblem, { optional: true }) own?: OwnProcedure | null
  @IsOptional()
  @IsArray()
  @IsIn(ADAPTATIONS.map((a) => a.id), { each: true })
  @ApiProperty({ enum: ADAPTATIONS.map((a) => a.id), isArray: true, required: false })
  reset?: AdaptationId[] | null
  @IsOptional()
  @IsObject()
  @ValidateNested()
  @Type(() => LeaderDto)
  @ApiProperty({ type: LeaderDto, required: false })
  leader?: LeaderDto | null
}
