import {
  ChangeValues,
  CountValues,
  ListDetailView,
  ListPlaceView,
  ListsView,
  ManyChanged,
  paths,
  RenamedItem,
  RenamedItemView,
  TriedListView,
  TryList,
  ValuesCount,
  VariantsView,
} from '@varn/contract';
import { Body, Controller, Get, HttpCode, Param, Post, type StreamableFile } from '@nestjs/common';
import { ApiOkResponse, ApiTags } from '@nestjs/swagger';
import { AskedBy, BodyUpTo, Costly, CurrentPerson, For } from '../access/access';
import type { Writer } from '../access/access';
import { Asker } from '../turns/asker';
import { csvParts } from '../http/csvFile';
import { ListReader } from './listReader';
import { ValuesWriter } from './valuesWriter';

@ApiTags('lists')
@Controller()
export class ListsController {
  constructor(
    private readonly reader: ListReader,
    private readonly values: ValuesWriter,
  ) {}

  /** What is offered in the columns of a sheet that are fed. */
  @Get(paths.sheetLists(':sheetId'))
  @For('reader', 'sheetId')
  @ApiOkResponse({ type: ListsView })
  ofSheet(@Param('sheetId') sheetId: string): Promise<ListsView> {
    return this.reader.ofSheet(sheetId);
  }

  /** All lists of a workbook: what feeds them, what they feed, and what is wrong. */
  @Get(paths.lists(':workbookId'))
  @For('clerk', 'workbookId')
  @ApiOkResponse({ type: ListPlaceView })
  ofWorkbook(@Param('workbookId') workbookId: string): Promise<ListPlaceView> {
    return this.reader.ofWorkbook(workbookId);
  }

  /** A column's list, with its items, its history, and stored values that are not on it. */
  @Get(paths.list(':sheetId', ':columnId'))
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: ListDetailView })
  detail(
    @Param('sheetId') sheetId: string,
    @Param('columnId') columnId: string,
  ): Promise<ListDetailView> {
    return this.reader.detail(sheetId, columnId);
  }

  /** Tells what a list would offer, and changes nothing. */
  @Post(paths.tryList(':sheetId'))
  @HttpCode(200)
  @Costly()
  @For('analyst', 'sheetId')
  @ApiOkResponse({ type: TriedListView })
  try(
    @Param('sheetId') sheetId: string,
    @Body() asked: TryList,
    @AskedBy() asker: Asker,
  ): Promise<TriedListView> {
    return this.reader.try(sheetId, asked, asker);
  }

  /** Spellings among a column's values that are likely one name. */
  @Get(paths.variants(':sheetId', ':columnId'))
  @Costly()
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: VariantsView })
  variants(
    @Param('sheetId') sheetId: string,
    @Param('columnId') columnId: string,
    @AskedBy() asker: Asker,
  ): Promise<VariantsView> {
    return this.reader.variants(sheetId, columnId, asker);
  }

  /** Which columns a list feeds whose item was renamed: their records may hold its name of before. */
  @Post(paths.renamedItem(':sheetId'))
  @HttpCode(200)
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: RenamedItemView })
  renamedItem(
    @Param('sheetId') sheetId: string,
    @Body() item: RenamedItem,
  ): Promise<RenamedItemView> {
    return this.reader.fedByItem(sheetId, item);
  }

  /** How many records hold values that are to become others, and what would become of them. */
  @Post(paths.countValues(':sheetId', ':columnId'))
  @HttpCode(200)
  @Costly()
  @BodyUpTo(4096)
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: ValuesCount })
  count(
    @Param('sheetId') sheetId: string,
    @Param('columnId') columnId: string,
    @Body() asked: CountValues,
    @CurrentPerson() person: Writer,
    @AskedBy() asker: Asker,
  ): Promise<ValuesCount> {
    return this.values.count(sheetId, columnId, asked, person, asker);
  }

  /** The records that would stay as they are, as CSV, each with why. */
  @Post(paths.leftValues(':sheetId', ':columnId'))
  @HttpCode(200)
  @Costly()
  @BodyUpTo(4096)
  @For('clerk', 'sheetId')
  @ApiOkResponse({ content: { 'text/csv': {} } })
  async left(
    @Param('sheetId') sheetId: string,
    @Param('columnId') columnId: string,
    @Body() asked: CountValues,
    @CurrentPerson() person: Writer,
    @AskedBy() asker: Asker,
  ): Promise<StreamableFile> {
    return csvParts(this.values.left(sheetId, columnId, asked, person, asker));
  }

  /** Changes values of a column wherever they are stored, as one write. */
  @Post(paths.changeValues(':sheetId', ':columnId'))
  @HttpCode(200)
  @BodyUpTo(4096)
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: ManyChanged })
  change(
    @Param('sheetId') sheetId: string,
    @Param('columnId') columnId: string,
    @Body() asked: ChangeValues,
    @CurrentPerson() person: Writer,
  ): Promise<ManyChanged> {
    return this.values.change(sheetId, columnId, asked, person);
  }
}
