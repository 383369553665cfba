import { Matches } from 'class-validator'
import { ApiProperty } from '@nestjs/swagger'
import { Choice, Text, Whole } from '../records/fields.js'

export class TransducerConnectDto {
  @Text(160) visitId: string
  @Matches(/^[\w.:-]{1,100}$/, { message: 'host must be a name or an address, as in 192.168.0.10' })
  @ApiProperty()
  host: string
  @Whole(1, 65_535) port: number
}

export class TransducerStandInDto {
  @Text(160) visitId: string
  /** Another engine to practise on: one cylinder of it is weak. */
  @Whole(1, 1e9) seed: number
}

/** Where a hand puts the simulated one's hose. */
export class HoseDto {
  @Choice(['engine', 'open', 'pump']) hose: 'engine' | 'open' | 'pump'
}
