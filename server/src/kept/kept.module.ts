import { Module } from '@nestjs/common'
import { DocLoader } from './docLoader.js'
import { Pens } from './pens.js'

/** What is kept of copies: records, journal, the documents of their answers. */
@Module({
  providers: [DocLoader, Pens],
  exports: [DocLoader, Pens],
})
export class KeptModule {}
