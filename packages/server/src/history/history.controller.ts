import {
  BeforeQuery,
  BinView,
  BringBackState,
  EmptyBin,
  HistoryQuery,
  HistoryView,
  Landed,
  paths,
  RecordHistoryView,
  SheetRevision,
} from '@varn/contract';
import { Body, Controller, Get, HttpCode, Param, Post, Query } from '@nestjs/common';
import { ApiNoContentResponse, ApiOkResponse, ApiTags } from '@nestjs/swagger';
import { CurrentPerson, For } from '../access/access';
import type { Writer } from '../access/access';
import { BinWriter } from '../write/binWriter';
import { RecordWriter } from '../write/recordWriter';
import { BinReader } from './binReader';
import { HistoryReader } from './historyReader';

@ApiTags('history')
@Controller()
export class HistoryController {
  constructor(
    private readonly history: HistoryReader,
    private readonly bin: BinReader,
    private readonly writer: RecordWriter,
    private readonly binWriter: BinWriter,
  ) {}

  /** What happened to a record, the newest first. */
  @Get(paths.recordHistory(':sheetId', ':recordId'))
  @For('reader', 'sheetId')
  @ApiOkResponse({ type: RecordHistoryView })
  ofRecord(
    @Param('sheetId') sheetId: string,
    @Param('recordId') recordId: string,
    @Query() { before }: BeforeQuery,
  ): Promise<RecordHistoryView> {
    return this.history.ofRecord(sheetId, recordId, before);
  }

  /** Puts a record back to what it was after an entry of its history. */
  @Post(paths.bringBackState(':sheetId', ':recordId'))
  @HttpCode(200)
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: Landed })
  bringBack(
    @Param('sheetId') sheetId: string,
    @Param('recordId') recordId: string,
    @Body() state: BringBackState,
    @CurrentPerson() person: Writer,
  ): Promise<Landed> {
    return this.writer.bringBack(sheetId, recordId, state, person);
  }

  /** Who did what in a workbook, the newest first. */
  @Get(paths.history(':workbookId'))
  @For('reader', 'workbookId')
  @ApiOkResponse({ type: HistoryView })
  ofWorkbook(
    @Param('workbookId') workbookId: string,
    @Query() query: HistoryQuery,
    @CurrentPerson() person: Writer,
  ): Promise<HistoryView> {
    return this.history.ofWorkbook(workbookId, query, person);
  }

  /** What waits in the bin. */
  @Get(paths.bin(':workbookId'))
  @For('clerk', 'workbookId')
  @ApiOkResponse({ type: BinView })
  show(@Param('workbookId') workbookId: string): Promise<BinView> {
    return this.bin.show(workbookId);
  }

  /** Takes a sheet out of the bin, with all that is in it. */
  @Post(paths.putBackSheet(':workbookId', ':sheetId'))
  @HttpCode(204)
  @For('analyst', 'workbookId')
  @ApiNoContentResponse()
  putSheetBack(
    @Param('workbookId') workbookId: string,
    @Param('sheetId') sheetId: string,
    @Body() { revision }: SheetRevision,
    @CurrentPerson() person: Writer,
  ): Promise<void> {
    return this.binWriter.putSheetBack(workbookId, sheetId, revision, person);
  }

  /** Deletes what waits in the bin for good. */
  @Post(paths.emptyBin(':workbookId'))
  @HttpCode(204)
  @For('owner', 'workbookId')
  @ApiNoContentResponse()
  empty(
    @Param('workbookId') workbookId: string,
    @Body() { writeId }: EmptyBin,
    @CurrentPerson() person: Writer,
  ): Promise<void> {
    return this.binWriter.empty(workbookId, writeId, person);
  }
}
