import { Global, Module } from '@nestjs/common';
import { ArrivalWriter } from './arrivalWriter';
import { Carrier } from './carrier';
import { BinWriter } from './binWriter';
import { ColumnWriter } from './columnWriter';
import { LargeWrites } from './largeWrites';
import { GridWriter } from './gridWriter';
import { RowsAdder } from './rowsAdder';
import { RecordStore } from './recordStore';
import { RunningNumbers } from './runningNumbers';
import { RecordWriter } from './recordWriter';
import { SheetWriter } from './sheetWriter';
import { Staging } from './staging';
import { StructureWriter } from './structureWriter';
import { Underway } from './underway';
import { UnderwayController } from './underway.controller';
import { UndoWriter } from './undoWriter';
import { WritePath } from './writePath';
import { WriteQueue } from './writeQueue';
import { WriteSites } from './writeSites';

const parts = [
  BinWriter,
  Carrier,
  ColumnWriter,
  GridWriter,
  LargeWrites,
  RowsAdder,
  SheetWriter,
  Underway,
  UndoWriter,
  WritePath,
  WriteSites,
  ArrivalWriter,
  RecordStore,
  RunningNumbers,
  Staging,
  RecordWriter,
  StructureWriter,
  WriteQueue,
];

@Global()
@Module({ controllers: [UnderwayController], providers: parts, exports: parts })
export class WriteModule {}
