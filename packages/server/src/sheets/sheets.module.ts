import { Module } from '@nestjs/common';
import { SheetReader } from './sheetReader';
import { SheetsController } from './sheets.controller';

@Module({
  controllers: [SheetsController],
  providers: [SheetReader],
  exports: [SheetReader],
})
export class SheetsModule {}
