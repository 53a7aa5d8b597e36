import { Module } from '@nestjs/common';
import { WorkbookReader } from './workbookReader';
import { WorkbooksController } from './workbooks.controller';

@Module({ controllers: [WorkbooksController], providers: [WorkbookReader] })
export class WorkbooksModule {}
