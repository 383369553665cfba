import { Global, Module } from '@nestjs/common'
import { Clerk } from './clerk.js'
import { Viewer } from './viewer.js'
import { Weigher } from './weigher.js'

/** What takes longer than a live row may be late, in threads of its own. */
@Global()
@Module({ providers: [Weigher, Clerk, Viewer], exports: [Weigher, Clerk, Viewer] })
export class ThreadsModule {}
