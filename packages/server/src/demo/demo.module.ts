import { Module } from '@nestjs/common';
import { FormsModule } from '../forms/forms.module';
import { DemoLoader } from './demoLoader';

@Module({ imports: [FormsModule], providers: [DemoLoader] })
export class DemoModule {}
