import { ValidationPipe, type ValidationError } from '@nestjs/common'
import { ProblemException } from './problem.js'

interface Wrong {
  readonly field: string
  readonly value: unknown
  readonly accepted: string
}

/** A value as it stands in a sentence: long ones cut. */
export function shortValue(value: unknown): string {
  if (value === undefined) return 'nothing'
  const text = JSON.stringify(value) ?? String(value)
  return text.length > 60 ? `${text.slice(0, 57)}…` : text
}

/** Checks bodies against their classes; every field at fault is named, with its value and what is accepted. */
export const validation = (): ValidationPipe =>
  new ValidationPipe({
    transform: true,
    whitelist: true,
    forbidNonWhitelisted: true,
    exceptionFactory: (errors) => {
      const problems = errors.flatMap((e) => wrongIn(e, ''))
      return new ProblemException({
        type: 'uvula:bad-field',
        title: 'Not accepted',
        status: 400,
        detail: problems.map((p) => `${p.field}: ${p.accepted}, not ${shortValue(p.value)}`).join('; '),
        field: problems[0]?.field,
        problems,
      })
    },
  })

function wrongIn(e: ValidationError, within: string): Wrong[] {
  const field = within + e.property
  const own = Object.entries(e.constraints ?? {}).map(([rule, message]) => ({
    field,
    value: e.value as unknown,
    accepted: rule === 'whitelistValidation' ? 'no field of that name here' : plain(message, e.property),
  }))
  return [...own, ...(e.children ?? []).flatMap((c) => wrongIn(c, `${field}.`))]
}

/** A rule's own words without the field's name at their head: it stands before them already. */
const plain = (message: string, property: string): string =>
  message.startsWith(`${property} `) ? message.slice(property.length + 1) : message
