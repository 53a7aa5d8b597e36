import { Module } from '@nestjs/common';
import { SheetsModule } from '../sheets/sheets.module';
import { KeptQuestions } from './keptQuestions';
import { MatchesWriter } from './matchesWriter';
import { ReplaceWriter } from './replaceWriter';
import { RecordSearch } from './recordSearch';
import { SearchController } from './search.controller';
import { TodayReader } from './todayReader';

@Module({
  imports: [SheetsModule],
  controllers: [SearchController],
  providers: [RecordSearch, MatchesWriter, ReplaceWriter, KeptQuestions, TodayReader],
  exports: [KeptQuestions],
})
export class SearchModule {}
