import { Module } from '@nestjs/common';
import { SelectionReader } from './selectionReader';
import { SheetReader } from './sheetReader';
import { SheetsController } from './sheets.controller';
import { UsesReader } from './usesReader';

@Module({
  controllers: [SheetsController],
  providers: [SheetReader, SelectionReader, UsesReader],
  exports: [SheetReader],
})
export class SheetsModule {}
