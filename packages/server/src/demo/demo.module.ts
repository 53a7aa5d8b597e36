import { Module } from '@nestjs/common';
import { DemoLoader } from './demoLoader';

@Module({ providers: [DemoLoader] })
export class DemoModule {}
