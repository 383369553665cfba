import { Injectable, type BeforeApplicationShutdown } from '@nestjs/common'
import { HttpAdapterHost } from '@nestjs/core'
import type { Server } from 'node:http'

/** Answers that are under way when the server goes down have so long [ms]. */
const ANSWERS_HAVE_MS = 1000

/**
 * Ends what would hold a server up that goes down. Browsers open a connection ahead of what they may ask; one that has
 * asked nothing yet is no idle one to Node, which waits for its headers for a minute and more, and a restored shop came
 * back only after it.
 */
@Injectable()
export class HangUp implements BeforeApplicationShutdown {
  constructor(private readonly adapter: HttpAdapterHost) {}

  beforeApplicationShutdown(): void {
    const server = this.adapter.httpAdapter.getHttpServer() as Server
    setTimeout(() => server.closeAllConnections(), ANSWERS_HAVE_MS).unref()
  }
}
