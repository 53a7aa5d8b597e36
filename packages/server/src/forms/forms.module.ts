import { Module } from '@nestjs/common';
import { SheetsModule } from '../sheets/sheets.module';
import { FormReader } from './formReader';
import { FormFormulas } from './formFormulas';
import { FormWriter } from './formWriter';
import { FormsController } from './forms.controller';
import { TrialWriter } from './trialWriter';

@Module({
  imports: [SheetsModule],
  controllers: [FormsController],
  providers: [FormReader, FormFormulas, FormWriter, TrialWriter],
  exports: [FormWriter],
})
export class FormsModule {}
