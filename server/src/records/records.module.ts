import { Global, Module } from '@nestjs/common'
import { Blobs } from './blobs.js'
import { Changes } from './changes.js'
import { Remembered } from './remembered.js'
import { RecordWriter } from './record-writer.js'
import { VisitFiles } from './visit-files.js'

/** What every noun needs: the writer, the bytes, and a visit read as one file. */
@Global()
@Module({
  providers: [RecordWriter, Blobs, Changes, Remembered, VisitFiles],
  exports: [RecordWriter, Blobs, Changes, VisitFiles],
})
export class RecordsModule {}
