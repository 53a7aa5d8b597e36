import {
  ChangeMatches,
  CountsView,
  FoundRecordsView,
  KeepQuestion,
  KnownRecordView,
  ManyChanged,
  MatchesPreview,
  NewValue,
  paths,
  QuestionView,
  RecordPlaceView,
  RemoveMatches,
  ReplaceAll,
  ReplacePreview,
  ReplaceText,
  SearchRecords,
  TodayView,
  TypedCells,
} from '@varn/contract';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseUUIDPipe,
  Post,
  Put,
  type StreamableFile,
} from '@nestjs/common';
import { ApiNoContentResponse, ApiOkResponse, ApiTags } from '@nestjs/swagger';
import { AskedBy, Costly, CurrentPerson, For } from '../access/access';
import type { Writer } from '../access/access';
import { Asker } from '../turns/asker';
import { csvParts } from '../http/csvFile';
import { KeptQuestions } from './keptQuestions';
import { MatchesWriter } from './matchesWriter';
import { ReplaceWriter } from './replaceWriter';
import { RecordSearch } from './recordSearch';
import { TodayReader } from './todayReader';

@ApiTags('search')
@Controller()
export class SearchController {
  constructor(
    private readonly records: RecordSearch,
    private readonly matches: MatchesWriter,
    private readonly replacer: ReplaceWriter,
    private readonly questions: KeptQuestions,
    private readonly today: TodayReader,
  ) {}

  /** How many records a question finds, condition by condition. */
  @Post(paths.counts(':sheetId'))
  @HttpCode(200)
  @Costly()
  @For('reader', 'sheetId')
  @ApiOkResponse({ type: CountsView })
  counts(
    @Param('sheetId') sheetId: string,
    @Body() question: QuestionView,
    @AskedBy() asker: Asker,
  ): Promise<CountsView> {
    return this.records.counts(sheetId, question, asker);
  }

  /** The best of the records that hold some words, in any column. */
  @Post(paths.search(':sheetId'))
  @HttpCode(200)
  @Costly()
  @For('reader', 'sheetId')
  @ApiOkResponse({ type: FoundRecordsView })
  search(
    @Param('sheetId') sheetId: string,
    @Body() { text, most }: SearchRecords,
    @AskedBy() asker: Asker,
  ): Promise<FoundRecordsView> {
    return this.records.search(sheetId, text, most, asker);
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

  /** The record that has the key of what is typed, if one does. */
  @Post(paths.known(':sheetId'))
  @HttpCode(200)
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: KnownRecordView })
  known(
    @Param('sheetId') sheetId: string,
    @Body() { answers }: TypedCells,
  ): Promise<KnownRecordView> {
    return this.records.known(sheetId, answers);
  }

  /** What was written today, and one's own last records. */
  @Get(paths.today(':sheetId'))
  @For('reader', 'sheetId')
  @ApiOkResponse({ type: TodayView })
  ofToday(@Param('sheetId') sheetId: string, @CurrentPerson() person: Writer): Promise<TodayView> {
    return this.today.of(sheetId, person);
  }

  /** Keeps a question under a name, or changes one that is kept. */
  @Put(paths.question(':formId', ':questionId'))
  @HttpCode(204)
  @For('reader', 'formId')
  @ApiNoContentResponse()
  keep(
    @Param('formId') formId: string,
    @Param('questionId', new ParseUUIDPipe()) questionId: string,
    @Body() asked: KeepQuestion,
    @CurrentPerson() person: Writer,
  ): Promise<void> {
    return this.questions.keep(formId, questionId, asked, person);
  }

  /** Forgets a question that is kept. */
  @Delete(paths.question(':formId', ':questionId'))
  @HttpCode(204)
  @For('reader', 'formId')
  @ApiNoContentResponse()
  drop(
    @Param('formId') formId: string,
    @Param('questionId', new ParseUUIDPipe()) questionId: string,
    @CurrentPerson() person: Writer,
  ): Promise<void> {
    return this.questions.drop(formId, questionId, person);
  }

  /** What a change of one column of all matches would do. */
  @Post(paths.previewMatches(':sheetId'))
  @HttpCode(200)
  @Costly()
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: MatchesPreview })
  preview(
    @Param('sheetId') sheetId: string,
    @Body() asked: NewValue,
    @CurrentPerson() person: Writer,
    @AskedBy() asker: Asker,
  ): Promise<MatchesPreview> {
    return this.matches.preview(sheetId, asked, person, asker);
  }

  /** The matches that would stay as they are, as CSV, each with why. */
  @Post(paths.leftMatches(':sheetId'))
  @HttpCode(200)
  @Costly()
  @For('clerk', 'sheetId')
  @ApiOkResponse({ content: { 'text/csv': {} } })
  async left(
    @Param('sheetId') sheetId: string,
    @Body() asked: NewValue,
    @CurrentPerson() person: Writer,
    @AskedBy() asker: Asker,
  ): Promise<StreamableFile> {
    return csvParts(this.matches.left(sheetId, asked, person, asker));
  }

  /** Changes one column of all matches, as one write. */
  @Post(paths.changeMatches(':sheetId'))
  @HttpCode(200)
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: ManyChanged })
  change(
    @Param('sheetId') sheetId: string,
    @Body() asked: ChangeMatches,
    @CurrentPerson() person: Writer,
  ): Promise<ManyChanged> {
    return this.matches.change(sheetId, asked, person);
  }

  /** Sends all matches to the bin, as one write. */
  @Post(paths.removeMatches(':sheetId'))
  @HttpCode(200)
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: ManyChanged })
  remove(
    @Param('sheetId') sheetId: string,
    @Body() asked: RemoveMatches,
    @CurrentPerson() person: Writer,
  ): Promise<ManyChanged> {
    return this.matches.remove(sheetId, asked, person);
  }

  /** What putting a text in place of another would come to. */
  @Post(paths.previewReplace(':sheetId'))
  @HttpCode(200)
  @Costly()
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: ReplacePreview })
  previewReplace(
    @Param('sheetId') sheetId: string,
    @Body() asked: ReplaceText,
    @CurrentPerson() person: Writer,
    @AskedBy() asker: Asker,
  ): Promise<ReplacePreview> {
    return this.replacer.preview(sheetId, asked, person, asker);
  }

  /** The records that would stay as they are, as CSV, each with why. */
  @Post(paths.leftReplace(':sheetId'))
  @HttpCode(200)
  @Costly()
  @For('clerk', 'sheetId')
  @ApiOkResponse({ content: { 'text/csv': {} } })
  async leftReplace(
    @Param('sheetId') sheetId: string,
    @Body() asked: ReplaceText,
    @CurrentPerson() person: Writer,
    @AskedBy() asker: Asker,
  ): Promise<StreamableFile> {
    return csvParts(this.replacer.left(sheetId, asked, person, asker));
  }

  /** Puts a text in place of another in the records, as one write. */
  @Post(paths.replaceAll(':sheetId'))
  @HttpCode(200)
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: ManyChanged })
  replace(
    @Param('sheetId') sheetId: string,
    @Body() asked: ReplaceAll,
    @CurrentPerson() person: Writer,
  ): Promise<ManyChanged> {
    return this.replacer.replace(sheetId, asked, person);
  }
}
