import { Global, Module } from '@nestjs/common';
import { EventHub } from '../events/eventHub';
import { SheetCache } from '../sheets/sheetCache';
import { Calculator } from '../calculation/calculator';
import { ArrivalWriter } from './arrivalWriter';
import { ColumnWriter } from './columnWriter';
import { GridWriter } from './gridWriter';
import { RecordStore } from './recordStore';
import { RecordWriter } from './recordWriter';
import { SheetWriter } from './sheetWriter';
import { StructureWriter } from './structureWriter';
import { UndoWriter } from './undoWriter';
import { WritePath } from './writePath';
import { WriteQueue } from './writeQueue';

const parts = [
  Calculator,
  ColumnWriter,
  GridWriter,
  SheetWriter,
  UndoWriter,
  WritePath,
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
