import { Module } from '@nestjs/common';
import { BringInService } from './bringInService';
import { UploadStore } from './uploadStore';
import { UploadsController } from './uploads.controller';

@Module({ controllers: [UploadsController], providers: [UploadStore, BringInService] })
export class UploadsModule {}
