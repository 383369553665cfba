import { Global, Module } from '@nestjs/common'
import { Blobs } from './blobs.js'
import { RecordWriter } from './record-writer.js'
import { VisitFiles } from './visit-files.js'

/** What every noun needs: the writer, the bytes, and a visit read as one file. */
@Global()
@Module({ providers: [RecordWriter, Blobs, VisitFiles], exports: [RecordWriter, Blobs, VisitFiles] })
export class RecordsModule {}
