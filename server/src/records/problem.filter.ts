import { Catch, HttpException, Logger, type ArgumentsHost, type ExceptionFilter } from '@nestjs/common'
import type { Problem } from '@uvula/contract'
import type { Response } from 'express'
import { Refusal } from '../refusal.js'
import { ProblemException, SEND_FIRST } from './problem.js'

/** What SQLite says, in words that a person can act on. */
const STORAGE: Readonly<Record<string, string>> = {
  SQLITE_CONSTRAINT: SEND_FIRST,
  SQLITE_FULL: 'The disk is full: free some space, nothing was half-written.',
  SQLITE_BUSY: 'The data file is locked by another program: close it and try again.',
  SQLITE_LOCKED: 'The data file is locked by another program: close it and try again.',
  SQLITE_READONLY: 'The data file cannot be written: check its permissions.',
  SQLITE_CORRUPT: 'The data file is damaged: restore the last backup.',
  SQLITE_IOERR: 'The disk does not answer: nothing was half-written.',
}

/** What PostgreSQL or the way to it says, by its code (SQLSTATE, or its class), likewise. */
const POSTGRES: Readonly<Record<string, string>> = {
  '23': SEND_FIRST,
  '22': 'A value is larger, or holds other signs, than the database keeps.',
  '53': 'The database has no room: free some space on its disk, nothing was half-written.',
  '57': 'The database is going down: try again in a moment, nothing was half-written.',
  '08': 'The database does not answer: nothing was half-written.',
  EC: 'The database does not answer: nothing was half-written.',
}
/** Those for which the entry itself is to blame. */
const OF_ENTRY = ['SQLITE_CONSTRAINT', '23', '22']

const TOO_LARGE: Problem = {
  type: 'uvula:too-large',
  title: 'Too large',
  status: 413,
  detail:
    'This is larger than the server takes in one piece: a large file goes in pieces, any other entry has 1 MB at most.',
}

/** Turns every failure into problem details; a stack trace goes to the log and never out. */
@Catch()
export class ProblemFilter implements ExceptionFilter {
  private readonly log = new Logger('problem')

  catch(error: unknown, host: ArgumentsHost): void {
    const response = host.switchToHttp().getResponse<Response>()
    const body = this.describe(error)
    response.status(body.status).type('application/problem+json').send(JSON.stringify(body))
  }

  private describe(error: unknown): Problem {
    if (error instanceof ProblemException) return error.problem
    if (error instanceof HttpException) {
      const answer = error.getResponse() as { message?: string | string[] } | string
      // the body parser's own words would quote the body back
      if (error.getStatus() === 400 && /JSON/.test(error.message))
        return { type: 'uvula:not-json', title: 'Not accepted', status: 400, detail: 'The body is not JSON.' }
      if (error.getStatus() === 413) return TOO_LARGE
      const messages = typeof answer === 'string' ? [answer] : [answer.message ?? error.message].flat()
      return {
        type: 'uvula:http',
        title: 'Not accepted',
        status: error.getStatus(),
        detail: messages.join('; '),
        field: /^(?:property )?(\S+) /.exec(messages[0])?.[1],
      }
    }
    const parse = error as { type?: string; code?: string; driverError?: { code?: string } }
    if (parse.type === 'entity.too.large') return TOO_LARGE
    const said = parse.driverError?.code ?? parse.code ?? ''
    const code = said.startsWith('SQLITE_') ? said.replace(/^(SQLITE_[A-Z]+).*/, '$1') : said.slice(0, 2)
    const storage = STORAGE[code] ?? (/^(E[A-Z]+|[0-9A-Z]{5})$/.test(said) ? POSTGRES[code] : undefined)
    if (storage)
      return {
        type: 'uvula:storage',
        title: 'Not stored',
        status: OF_ENTRY.includes(code) ? 422 : 503,
        detail: storage,
      }
    if (error instanceof Refusal)
      return { type: 'uvula:storage', title: 'Not stored', status: 503, detail: error.message }
    this.log.error(error)
    return {
      type: 'uvula:failed',
      title: 'Something broke',
      status: 500,
      detail: 'The server failed at this; nothing was half-written. It is in the log.',
    }
  }
}
