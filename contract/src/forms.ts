import { IsIn, IsInt, IsNumber, IsOptional, IsString, Matches, Max, MaxLength, Min, MinLength } from 'class-validator'

/** What a technician fills in, checked by the same rules on the screen and on the server. Messages name what is accepted. */

const between = (min: number, max: number, unit: string): { readonly message: string } => ({
  message: `must be between ${min} and ${max} ${unit}`.trim(),
})

/** A number within bounds; text that is none is refused by the same words. */
function Between(min: number, max: number, unit = ''): PropertyDecorator {
  return (target, property) => {
    const words = between(min, max, unit)
    IsNumber({ allowNaN: false, allowInfinity: false }, words)(target, property)
    Min(min, words)(target, property)
    Max(max, words)(target, property)
  }
}

/** Place and weather of a visit, and what the car has run. */
export class PlaceForm {
  @Between(-450, 5500, 'm')
  altitudeM: number

  @Between(-40, 60, '°C')
  ambientC: number

  /** Station pressure of a barometer that is trusted. */
  @IsOptional()
  @Between(45, 110, 'kPa')
  baroKpa?: number

  @IsOptional()
  @Between(0, 3_000_000, 'km')
  odometerKm?: number
}

/** What names a car. */
export class CarForm {
  @IsString()
  @MinLength(1, { message: 'must not be empty: the plate finds the car again' })
  @MaxLength(20, { message: 'must have at most 20 letters' })
  plate: string

  @IsString()
  @MaxLength(120, { message: 'must have at most 120 letters' })
  customer: string
}

/** A car that is taken in: what names it, and what people call it. */
export class NewCarForm extends CarForm {
  @IsString()
  @MaxLength(30, { message: 'must have at most 30 letters' })
  vin: string

  @IsString()
  @MaxLength(60, { message: 'must have at most 60 letters' })
  name: string
}

/** The shop's own figures. */
export class ShopForm {
  @IsString()
  @MinLength(1, { message: 'must not be empty' })
  @MaxLength(80, { message: 'must have at most 80 letters' })
  name: string

  @Between(-450, 5500, 'm')
  altitudeM: number

  @Between(0, 100_000)
  labourPerHour: number

  /** Tax on labour and parts. */
  @IsOptional()
  @Between(0, 100, '%')
  taxPct?: number
}

/** A trouble code as it is read off a tool. */
export class CodeForm {
  @Matches(/^[PBCU][0-9A-F]{4}$/, { message: 'must be one letter of P, B, C, U and four digits, as in P0171' })
  code: string
}

/** What a feed is planned from, as far as it is typed. */
export class FeedForm {
  @Between(1, 2000, 'mL')
  doseMl: number

  @Between(1, 2000, 'mL')
  labelMaxMl: number

  @Between(0, 6000, 'rpm')
  rpm: number

  @Between(0, 200, 'g/s')
  airGS: number

  @Between(-40, 150, '°C')
  coolantC: number

  /** Charge pressure above ambient. */
  @Between(-100, 300, 'kPa')
  boostKpa: number

  /** Speed from which the unloaded engine may cut its fuel. */
  @IsOptional()
  @Between(0, 8000, 'rpm')
  fuelCutAbove?: number
}

/** What is typed for a feed; what is left empty is taken from what was measured, or asked for. */
export class FeedTypedForm {
  @Between(1, 2000, 'mL')
  doseMl: number

  @Between(1, 2000, 'mL')
  labelMaxMl: number

  @IsOptional()
  @Between(0, 6000, 'rpm')
  rpm?: number

  @IsOptional()
  @Between(0, 200, 'g/s')
  airGS?: number

  @IsOptional()
  @Between(-40, 150, '°C')
  coolantC?: number

  @IsOptional()
  @Between(-100, 300, 'kPa')
  boostKpa?: number

  @IsOptional()
  @Between(0, 8000, 'rpm')
  fuelCutAbove?: number

  @IsOptional()
  @Between(0, 60, '%')
  trimStopPct?: number

  /** The label's own rate. */
  @IsOptional()
  @Between(0.01, 10, 'mL/s')
  labelRateMlS?: number

  /** Bounds of the equipment: those of the core, held to them by a test. */
  @IsOptional()
  @Between(0.3, 6, 'bar')
  pressureBar?: number

  @IsOptional()
  @Between(0.1, 1.2, 'mm')
  nozzleMm?: number

  @IsOptional()
  @Between(1, 1000, 'g')
  massG?: number

  @IsOptional()
  @Between(2, 600, 's')
  overS?: number
}

/** Where backups go by themselves, and how many are kept. */
export class BackupForm {
  @IsString()
  @MaxLength(400, { message: 'must have at most 400 letters' })
  folder: string

  @IsInt({ message: 'must be a whole number between 1 and 400' })
  @Min(1, { message: 'must be a whole number between 1 and 400' })
  @Max(400, { message: 'must be a whole number between 1 and 400' })
  keep: number
}

/** Name of a person, as it stands beside every entry, or of a tablet. */
function ShortName(): PropertyDecorator {
  return (target, property) => {
    IsString()(target, property)
    Matches(/^(?!\s)[^\p{C}]{1,40}(?<!\s)$/u, { message: 'must have 1 to 40 letters' })(target, property)
  }
}

/** Digits for a quick change of hands at a tablet that was let in. */
function Pin(): PropertyDecorator {
  return (target, property) => Matches(/^\d{4,8}$/, { message: 'must have 4 to 8 digits' })(target, property)
}

/** Lets a tablet in where no code was made. */
function Passphrase(): PropertyDecorator {
  const words = { message: 'must have 12 to 200 letters: a few words that nobody guesses' }
  return (target, property) => {
    IsString(words)(target, property)
    MinLength(12, words)(target, property)
    MaxLength(200, words)(target, property)
  }
}

/** Opens the shop to its network the first time: what lets tablets in, and its first owner. */
export class OpenDoorForm {
  @Passphrase()
  passphrase: string

  @ShortName()
  name: string

  @Pin()
  pin: string
}

/** Another passphrase. */
export class PassphraseForm {
  @Passphrase()
  passphrase: string
}

/** Somebody who signs in from now on. */
export class PersonForm {
  @ShortName()
  name: string

  @Pin()
  pin: string

  @IsIn(['technician', 'owner'], { message: 'must be technician or owner' })
  role: 'technician' | 'owner'
}

/** Other digits for somebody. */
export class PinForm {
  @Pin()
  pin: string
}

/** A tablet asks to be let in. */
export class PairForm {
  /** The code that the shop's computer shows, or the passphrase. */
  @IsString()
  @MinLength(1, { message: 'must not be empty' })
  @MaxLength(200, { message: 'must have at most 200 letters' })
  secret: string

  /** What the tablet is called. */
  @ShortName()
  name: string
}

/** Somebody takes a tablet up. */
export class SignInForm {
  @IsString()
  @MinLength(1, { message: 'must not be empty' })
  @MaxLength(60, { message: 'must have at most 60 letters' })
  person: string

  @Pin()
  pin: string
}
