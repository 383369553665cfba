import { HttpException } from '@nestjs/common'
import type { Problem } from '@uvula/contract'

/** An error that goes out as RFC 9457 problem details. */
export class ProblemException extends HttpException {
  constructor(readonly problem: Problem) {
    super(problem.title, problem.status)
  }
}

const problem = (
  status: number,
  slug: string,
  title: string,
  detail: string,
  more: Partial<Problem> = {},
): ProblemException => new ProblemException({ type: `uvula:${slug}`, title, status, detail, ...more })

export const SEND_FIRST = 'This belongs to a visit or vehicle that is not stored here: send that first.'

/** What a record belongs to has to be here before it. */
export const sendFirst = (): ProblemException => problem(422, 'storage', 'Not stored', SEND_FIRST)

export const notFound = (what: string): ProblemException =>
  problem(404, 'not-found', 'Not found', `${what} is not here.`)

/** Somebody else wrote the record since: both values are kept, the sender decides. */
export const conflict = (noun: string, current: unknown): ProblemException =>
  problem(
    409,
    'conflict',
    'Changed meanwhile',
    `This entry in ${noun} was changed on another device. Both values are kept: choose one.`,
    { current },
  )

/** A command that a rule forbids. */
export const refused = (rule: string, detail: string): ProblemException =>
  problem(409, 'refused', 'Not yet', detail, { rule })

/** A field that cannot be taken. */
export const badField = (field: string, value: unknown, accepted: string): ProblemException =>
  problem(400, 'bad-field', 'Not accepted', `${field}: ${accepted}`, { field, problems: [{ field, value, accepted }] })

/** A file that cannot be read as what it should be. */
export const badFile = (code: string, detail: string): ProblemException =>
  problem(422, code, 'File not understood', detail, { field: 'content' })

/** The vehicle does not do what it was asked. */
export const linkProblem = (status: 409 | 503, detail: string): ProblemException =>
  problem(status, 'link', status === 409 ? 'Refused by the vehicle' : 'No vehicle', detail)

/** Nobody is signed in on the tablet that asks. */
export const signedOut = (): ProblemException =>
  problem(
    401,
    'signed-out',
    'Not signed in',
    'Nobody is signed in on this tablet: sign in. What was entered waits on it.',
  )

/** The hand that asks may not. */
export const forbidden = (detail: string): ProblemException => problem(403, 'forbidden', 'Not yours', detail)

/** Too many wrong secrets from one place. */
export const tooManyGuesses = (waitS: number): ProblemException =>
  problem(429, 'guesses', 'Too many tries', `Too many wrong tries: the next one may come in ${waitS} s.`)
