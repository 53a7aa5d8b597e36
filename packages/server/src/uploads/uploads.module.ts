import { Module } from '@nestjs/common';
import { BringInService } from './bringInService';
import { RowsService } from './rowsService';
import { UploadStore } from './uploadStore';
import { UploadsController } from './uploads.controller';

@Module({ controllers: [UploadsController], providers: [UploadStore, BringInService, RowsService] })
export class UploadsModule {}
