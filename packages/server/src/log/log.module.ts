import { Global, Module } from '@nestjs/common';
import { ChangeLog } from './changeLog';

@Global()
@Module({ providers: [ChangeLog], exports: [ChangeLog] })
export class LogModule {}
