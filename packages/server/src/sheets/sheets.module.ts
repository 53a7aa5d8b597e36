import { Module } from '@nestjs/common';
import { ColumnWriter } from './columnWriter';
import { SheetReader } from './sheetReader';
import { SheetsController } from './sheets.controller';

@Module({
  controllers: [SheetsController],
  providers: [SheetReader, ColumnWriter],
  exports: [SheetReader],
})
export class SheetsModule {}
