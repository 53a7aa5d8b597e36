import { Global, Module } from '@nestjs/common';
import { ChangeLog } from './changeLog';
import { EventsController } from './events.controller';

@Global()
@Module({ controllers: [EventsController], providers: [ChangeLog], exports: [ChangeLog] })
export class EventsModule {}
