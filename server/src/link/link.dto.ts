import { ArrayMaxSize, IsArray, IsOptional, IsString, Matches, MaxLength, ValidateBy } from 'class-validator'
import { ApiProperty } from '@nestjs/swagger'
import { FEET, type FootKind } from '@uvula/standin'
import { mayBeOwn, OWN_NETWORK } from './own-network.js'
import { Choice, Flag, Num, Text, Whole } from '../records/fields.js'

/** A device of the shop's own network, and nothing further away. */
const OwnHost = (): PropertyDecorator =>
  ValidateBy({
    name: 'ownHost',
    validator: {
      validate: (x) => typeof x === 'string' && mayBeOwn(x),
      defaultMessage: () => `host must be ${OWN_NETWORK}`,
    },
  })

export class ConnectDto {
  @Text(160) visitId: string
  @Matches(/^[\w.:-]{1,100}$/, { message: 'host must be a name or an address, as in 192.168.0.10' })
  @OwnHost()
  @ApiProperty()
  host: string
  @Whole(1, 65_535) port: number
}

/** How the stand-in's link behaves. */
export const TROUBLES = ['none', 'usual', 'slow', 'garbled', 'silent', 'refusing', 'gone'] as const
export type TroubleChoice = (typeof TROUBLES)[number]

export class StandInDto {
  @Text(160) visitId: string
  /** Fault specifications, as `uvula simulate` takes them. */
  @IsArray()
  @ArrayMaxSize(4)
  @IsString({ each: true })
  @MaxLength(120, { each: true })
  @ApiProperty({ type: [String] })
  faults: string[]
  @Choice(TROUBLES) link: TroubleChoice
  @IsOptional() @Num(-30, 110) coolantC?: number
}

/** What the driver of the stand-in does. */
export class FootDto {
  @Choice(FEET) kind: FootKind
  @Whole(600, 5000, { optional: true }) rpm?: number
  @Whole(15, 130, { optional: true }) kph?: number
}

export class TroubleDto {
  @Choice(TROUBLES) link: TroubleChoice
}

/** Clearing wipes readiness and learnt trims: it is said, not clicked by accident. */
export class ClearDto {
  @Flag() understood: boolean
}

/** A command without anything to say. */
export class NothingDto {}
