import { Global, Module } from '@nestjs/common';
import { EventHub } from '../events/eventHub';
import { SheetCache } from '../sheets/sheetCache';
import { ArrivalWriter } from './arrivalWriter';
import { RecordStore } from './recordStore';
import { RecordWriter } from './recordWriter';
import { StructureWriter } from './structureWriter';
import { WriteQueue } from './writeQueue';

@Global()
@Module({
  providers: [
    ArrivalWriter,
    EventHub,
    SheetCache,
    RecordStore,
    RecordWriter,
    StructureWriter,
    WriteQueue,
  ],
  exports: [
    ArrivalWriter,
    EventHub,
    SheetCache,
    RecordStore,
    RecordWriter,
    StructureWriter,
    WriteQueue,
  ],
})
export class WriteModule {}
