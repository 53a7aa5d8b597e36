import { Global, Module } from '@nestjs/common';
import { Lists } from './lists';

@Global()
@Module({ providers: [Lists], exports: [Lists] })
export class ListsModule {}
