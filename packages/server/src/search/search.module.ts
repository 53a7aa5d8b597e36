import { Module } from '@nestjs/common';
import { SheetsModule } from '../sheets/sheets.module';
import { MatchesWriter } from './matchesWriter';
import { RecordSearch } from './recordSearch';
import { SearchController } from './search.controller';

@Module({
  imports: [SheetsModule],
  controllers: [SearchController],
  providers: [RecordSearch, MatchesWriter],
})
export class SearchModule {}
