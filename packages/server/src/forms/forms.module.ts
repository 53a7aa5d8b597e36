import { Module } from '@nestjs/common';
import { SheetsModule } from '../sheets/sheets.module';
import { FormReader } from './formReader';
import { FormWriter } from './formWriter';
import { FormsController } from './forms.controller';

@Module({
  imports: [SheetsModule],
  controllers: [FormsController],
  providers: [FormReader, FormWriter],
})
export class FormsModule {}
