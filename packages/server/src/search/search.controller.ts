import {
  ChangeMatches,
  CountsView,
  FoundRecordsView,
  MatchesDone,
  MatchesPreview,
  NewValue,
  paths,
  QuestionView,
  RecordPlaceView,
  RemoveMatches,
  SearchRecords,
} from '@varn/contract';
import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common';
import { ApiOkResponse, ApiTags } from '@nestjs/swagger';
import { CurrentPerson, For } from '../access/access';
import type { Writer } from '../access/access';
import { MatchesWriter } from './matchesWriter';
import { RecordSearch } from './recordSearch';

@ApiTags('search')
@Controller()
export class SearchController {
  constructor(
    private readonly records: RecordSearch,
    private readonly matches: MatchesWriter,
  ) {}

  /** How many records a question finds, condition by condition. */
  @Post(paths.counts(':sheetId'))
  @HttpCode(200)
  @For('reader', 'sheetId')
  @ApiOkResponse({ type: CountsView })
  counts(@Param('sheetId') sheetId: string, @Body() question: QuestionView): Promise<CountsView> {
    return this.records.counts(sheetId, question);
  }

  /** The best of the records that hold some words, in any column. */
  @Post(paths.search(':sheetId'))
  @HttpCode(200)
  @For('reader', 'sheetId')
  @ApiOkResponse({ type: FoundRecordsView })
  search(
    @Param('sheetId') sheetId: string,
    @Body() { text, most }: SearchRecords,
  ): Promise<FoundRecordsView> {
    return this.records.search(sheetId, text, most);
  }

  /** One record, and where it stands. */
  @Get(paths.record(':sheetId', ':recordId'))
  @For('reader', 'sheetId')
  @ApiOkResponse({ type: RecordPlaceView })
  record(
    @Param('sheetId') sheetId: string,
    @Param('recordId') recordId: string,
  ): Promise<RecordPlaceView> {
    return this.records.place(sheetId, recordId);
  }

  /** What a change of one column of all matches would do. */
  @Post(paths.previewMatches(':sheetId'))
  @HttpCode(200)
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: MatchesPreview })
  preview(@Param('sheetId') sheetId: string, @Body() asked: NewValue): Promise<MatchesPreview> {
    return this.matches.preview(sheetId, asked);
  }

  /** Changes one column of all matches, as one write. */
  @Post(paths.changeMatches(':sheetId'))
  @HttpCode(200)
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: MatchesDone })
  change(
    @Param('sheetId') sheetId: string,
    @Body() asked: ChangeMatches,
    @CurrentPerson() person: Writer,
  ): Promise<MatchesDone> {
    return this.matches.change(sheetId, asked, person);
  }

  /** Sends all matches to the bin, as one write. */
  @Post(paths.removeMatches(':sheetId'))
  @HttpCode(200)
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: MatchesDone })
  remove(
    @Param('sheetId') sheetId: string,
    @Body() asked: RemoveMatches,
    @CurrentPerson() person: Writer,
  ): Promise<MatchesDone> {
    return this.matches.remove(sheetId, asked, person);
  }
}
