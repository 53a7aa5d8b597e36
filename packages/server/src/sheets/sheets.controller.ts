import {
  AddColumn,
  ArrangeColumn,
  ChangeRecord,
  CsvQuery,
  Landed,
  MoveRecord,
  paths,
  RowsQuery,
  RowsView,
  SheetView,
} from '@varn/contract';
import {
  Body,
  Controller,
  Get,
  HttpCode,
  Param,
  Patch,
  Post,
  Query,
  StreamableFile,
} from '@nestjs/common';
import { ApiOkResponse, ApiTags } from '@nestjs/swagger';
import { Readable } from 'node:stream';
import { CurrentPerson, For } from '../access/access';
import { RecordWriter, type Writer } from '../write/recordWriter';
import { ColumnWriter } from './columnWriter';
import { SheetReader } from './sheetReader';

@ApiTags('sheets')
@Controller()
export class SheetsController {
  constructor(
    private readonly reader: SheetReader,
    private readonly columns: ColumnWriter,
    private readonly writer: RecordWriter,
  ) {}

  @Get(paths.sheet(':sheetId'))
  @For('reader', 'sheetId')
  @ApiOkResponse({ type: SheetView })
  show(@Param('sheetId') sheetId: string): Promise<SheetView> {
    return this.reader.show(sheetId);
  }

  /** A window of the records, in the order they stand. */
  @Get(`${paths.sheet(':sheetId')}/rows`)
  @For('reader', 'sheetId')
  @ApiOkResponse({ type: RowsView })
  rows(@Param('sheetId') sheetId: string, @Query() { from, count }: RowsQuery): Promise<RowsView> {
    return this.reader.rows(sheetId, from, count);
  }

  /** The sheet as a CSV file (RFC 4180, UTF-8). */
  @Get(`${paths.sheet(':sheetId')}/csv`)
  @For('reader', 'sheetId')
  @ApiOkResponse({ content: { 'text/csv': {} } })
  csv(@Param('sheetId') sheetId: string, @Query() { guard }: CsvQuery): StreamableFile {
    const name = encodeURIComponent(`${this.reader.facts(sheetId).name}.csv`);
    return new StreamableFile(Readable.from(this.reader.csv(sheetId, guard !== 'off')), {
      type: 'text/csv; charset=utf-8; header=present',
      disposition: `attachment; filename="sheet.csv"; filename*=UTF-8''${name}`,
    });
  }

  @Post(paths.columns(':sheetId'))
  @For('analyst', 'sheetId')
  @ApiOkResponse({ type: SheetView })
  addColumn(
    @Param('sheetId') sheetId: string,
    @Body() column: AddColumn,
    @CurrentPerson() person: Writer,
  ): Promise<SheetView> {
    return this.columns.add(sheetId, column, person);
  }

  /** Renames or moves a column. */
  @Patch(paths.column(':sheetId', ':columnId'))
  @For('analyst', 'sheetId')
  @ApiOkResponse({ type: SheetView })
  arrangeColumn(
    @Param('sheetId') sheetId: string,
    @Param('columnId') columnId: string,
    @Body() change: ArrangeColumn,
    @CurrentPerson() person: Writer,
  ): Promise<SheetView> {
    return this.columns.arrange(sheetId, columnId, change, person);
  }

  @Patch(paths.record(':sheetId', ':recordId'))
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: Landed })
  changeRecord(
    @Param('sheetId') sheetId: string,
    @Param('recordId') recordId: string,
    @Body() change: ChangeRecord,
    @CurrentPerson() person: Writer,
  ): Promise<Landed> {
    return this.writer.change(sheetId, recordId, change, person);
  }

  @Post(`${paths.record(':sheetId', ':recordId')}/remove`)
  @HttpCode(200)
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: Landed })
  removeRecord(
    @Param('sheetId') sheetId: string,
    @Param('recordId') recordId: string,
    @Body() move: MoveRecord,
    @CurrentPerson() person: Writer,
  ): Promise<Landed> {
    return this.writer.remove(sheetId, recordId, move, person);
  }

  @Post(`${paths.record(':sheetId', ':recordId')}/put-back`)
  @HttpCode(200)
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: Landed })
  putRecordBack(
    @Param('sheetId') sheetId: string,
    @Param('recordId') recordId: string,
    @Body() move: MoveRecord,
    @CurrentPerson() person: Writer,
  ): Promise<Landed> {
    return this.writer.putBack(sheetId, recordId, move, person);
  }
}
