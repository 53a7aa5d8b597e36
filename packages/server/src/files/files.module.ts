import { Module } from '@nestjs/common';
import { FileStore } from './fileStore';
import { FilesController } from './files.controller';

@Module({ controllers: [FilesController], providers: [FileStore], exports: [FileStore] })
export class FilesModule {}
