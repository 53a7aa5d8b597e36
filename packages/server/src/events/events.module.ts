import { Global, Module } from '@nestjs/common';
import { EventHub } from './eventHub';
import { EventsController } from './events.controller';

@Global()
@Module({ controllers: [EventsController], providers: [EventHub], exports: [EventHub] })
export class EventsModule {}
