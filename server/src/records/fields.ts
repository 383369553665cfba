import { applyDecorators } from '@nestjs/common'
import { ApiProperty } from '@nestjs/swagger'
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsISO8601,
  IsNumber,
  IsOptional,
  IsString,
  Matches,
  Max,
  MaxLength,
  Min,
  MinLength,
  ValidateBy,
} from 'class-validator'

type Options = { readonly optional?: boolean }

const maybe = (o: Options | undefined): PropertyDecorator[] => (o?.optional ? [IsOptional()] : [])

/** A text of at most `max` characters; not empty unless optional. */
export const Text = (max: number, o?: Options): PropertyDecorator =>
  applyDecorators(
    IsString(),
    MaxLength(max),
    ...(o?.optional ? [] : [MinLength(1)]),
    ...maybe(o),
    ApiProperty({ type: String, maxLength: max, required: !o?.optional }),
  )

/** A text that may be empty. */
export const FreeText = (max: number): PropertyDecorator =>
  applyDecorators(IsString(), MaxLength(max), ApiProperty({ type: String, maxLength: max }))

/** A finite number within bounds. */
export const Num = (min: number, max: number, o?: Options): PropertyDecorator =>
  applyDecorators(
    IsNumber({ allowNaN: false, allowInfinity: false }),
    Min(min),
    Max(max),
    ...maybe(o),
    ApiProperty({ type: Number, minimum: min, maximum: max, required: !o?.optional }),
  )

/** A whole number within bounds. */
export const Whole = (min: number, max: number, o?: Options): PropertyDecorator =>
  applyDecorators(
    IsInt(),
    Min(min),
    Max(max),
    ...maybe(o),
    ApiProperty({ type: 'integer', minimum: min, maximum: max, required: !o?.optional }),
  )

/** One of a closed list. */
export const Choice = (list: readonly string[], o?: Options): PropertyDecorator =>
  applyDecorators(IsIn([...list]), ...maybe(o), ApiProperty({ enum: [...list], required: !o?.optional }))

export const Flag = (o?: Options): PropertyDecorator =>
  applyDecorators(IsBoolean(), ...maybe(o), ApiProperty({ type: Boolean, required: !o?.optional }))

/** A value that a rule of the core judges: what is wrong with it, in words, or undefined. */
export const Judged = (name: string, problem: (x: unknown) => string | undefined, o?: Options): PropertyDecorator =>
  applyDecorators(
    ValidateBy({
      name,
      validator: {
        validate: (x: unknown) => problem(x) === undefined,
        defaultMessage: (a) => problem(a?.value) ?? '',
      },
    }),
    ...maybe(o),
    ApiProperty({ type: Object, required: !o?.optional }),
  )

/** A list of at most `most` short texts. */
export const TextList = (max: number, most = 100): PropertyDecorator =>
  applyDecorators(
    IsArray(),
    ArrayMaxSize(most),
    IsString({ each: true }),
    MaxLength(max, { each: true }),
    ApiProperty({ type: [String], maxItems: most }),
  )

/** A map of at most `most` names to values, each of them as `accepts` says. */
export const MapOf = (
  accepted: string,
  most: number,
  accepts: (name: string, value: unknown) => boolean,
): PropertyDecorator =>
  ValidateBy({
    name: 'mapOf',
    validator: {
      validate: (value: unknown) =>
        typeof value === 'object' &&
        value !== null &&
        !Array.isArray(value) &&
        Object.keys(value).length <= most &&
        Object.entries(value).every(([name, x]) => accepts(name, x)),
      defaultMessage: () => `must be ${accepted}, at most ${most} of them`,
    },
  })

/** A moment that there was, ISO 8601. */
export const Moment = (o?: Options): PropertyDecorator =>
  applyDecorators(
    IsISO8601({ strict: true }, { message: '$property must be a moment that there is, as in 2026-11-27T09:30:00Z' }),
    ...maybe(o),
    ApiProperty({ type: String, format: 'date-time', required: !o?.optional }),
  )

/** A day that the calendar has, yyyy-mm-dd. */
export const Day = (o?: Options): PropertyDecorator =>
  applyDecorators(
    Matches(/^\d{4}-\d{2}-\d{2}$/, { message: '$property must be a day, yyyy-mm-dd' }),
    IsISO8601({ strict: true }, { message: '$property must be a day that the calendar has' }),
    ...maybe(o),
    ApiProperty({ type: String, format: 'date', required: !o?.optional }),
  )

/** Fields that a class has from a form of the contract, told to the server's own description. */
export function describeForm(
  dto: { readonly prototype: object },
  numbers: readonly string[],
  texts: readonly string[] = [],
): void {
  for (const key of numbers) ApiProperty({ type: Number })(dto.prototype, key)
  for (const key of texts) ApiProperty({ type: String })(dto.prototype, key)
}

/** What every write carries. */
export class WriteDto {
  /** Version of the record that the writer saw; 0 when it is new. */
  @Whole(0, 1e9) baseVersion: number
  /** Key of the writer's own earlier write that this one was made upon; it counts instead of the version. */
  @Text(100, { optional: true }) basedOnKey?: string
  @Text(80) by: string
  @Moment() at: string
  @Flag({ optional: true }) deleted?: boolean
}
