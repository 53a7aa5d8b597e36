import { Module } from '@nestjs/common';
import { SelectionReader } from './selectionReader';
import { SheetReader } from './sheetReader';
import { SheetsController } from './sheets.controller';

@Module({
  controllers: [SheetsController],
  providers: [SheetReader, SelectionReader],
  exports: [SheetReader],
})
export class SheetsModule {}
