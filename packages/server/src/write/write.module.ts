import { Global, Module } from '@nestjs/common';
import { EventHub } from '../events/eventHub';
import { SheetCache } from '../sheets/sheetCache';
import { ArrivalWriter } from './arrivalWriter';
import { RecordStore } from './recordStore';
import { RecordWriter } from './recordWriter';
import { StructureWriter } from './structureWriter';
import { WriteQueue } from './writeQueue';

const parts = [
  ArrivalWriter,
  EventHub,
  SheetCache,
  RecordStore,
  RecordWriter,
  StructureWriter,
  WriteQueue,
];

@Global()
@Module({ providers: parts, exports: parts })
export class WriteModule {}
