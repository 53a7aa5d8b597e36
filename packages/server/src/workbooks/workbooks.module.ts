import { Module } from '@nestjs/common';
import { SearchModule } from '../search/search.module';
import { SheetsModule } from '../sheets/sheets.module';
import { WorkbookReader } from './workbookReader';
import { WorkbookWriter } from './workbookWriter';
import { WorkbooksController } from './workbooks.controller';

@Module({
  imports: [SheetsModule, SearchModule],
  controllers: [WorkbooksController],
  providers: [WorkbookReader, WorkbookWriter],
})
export class WorkbooksModule {}
