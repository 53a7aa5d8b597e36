import {
  AddColumn,
  AddName,
  AskFigures,
  ChangeRecord,
  ChangeSheet,
  CheckFormula,
  ColumnChange,
  ColumnValuesView,
  ConversionView,
  CsvQuery,
  EditCells,
  FiguresView,
  FindText,
  FormulaView,
  FoundView,
  FreeRowsQuery,
  FreeRowsView,
  InsertRows,
  Landed,
  mayAs,
  MoveRecord,
  MoveRows,
  NameView,
  paths,
  RemoveRows,
  RevisionQuery,
  RowsQuery,
  RowsView,
  SheetRevision,
  SheetView,
  UsesQuery,
  UsesView,
  Written,
} from '@varn/contract';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  Patch,
  Post,
  Query,
  StreamableFile,
} from '@nestjs/common';
import { ApiCreatedResponse, ApiNoContentResponse, ApiOkResponse, ApiTags } from '@nestjs/swagger';
import { Readable } from 'node:stream';
import { AskedBy, BodyUpTo, Costly, Counted, CurrentPerson, For, Urgent } from '../access/access';
import type { Writer } from '../access/access';
import { Asker } from '../turns/asker';
import { Refused } from '../http/refused';
import { Catalog } from '../store/catalog';
import { RecordWriter } from '../write/recordWriter';
import { GridWriter } from '../write/gridWriter';
import { ColumnWriter } from '../write/columnWriter';
import { SheetWriter } from '../write/sheetWriter';
import { SelectionReader } from './selectionReader';
import { SheetReader } from './sheetReader';
import { UsesReader } from './usesReader';

@ApiTags('sheets')
@Controller()
export class SheetsController {
  constructor(
    private readonly reader: SheetReader,
    private readonly uses: UsesReader,
    private readonly selection: SelectionReader,
    private readonly sheets: SheetWriter,
    private readonly columns: ColumnWriter,
    private readonly grid: GridWriter,
    private readonly writer: RecordWriter,
    private readonly catalog: Catalog,
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
  rows(
    @Param('sheetId') sheetId: string,
    @Query() { from, count, view }: RowsQuery,
    @AskedBy() asker: Asker,
  ): Promise<RowsView> {
    return this.reader.rows(sheetId, { from, count, view }, asker);
  }

  /** A window of the rows outside of the records: above the heading, or all of a free sheet. */
  @Get(`${paths.sheet(':sheetId')}/free-rows`)
  @For('reader', 'sheetId')
  @ApiOkResponse({ type: FreeRowsView })
  freeRows(
    @Param('sheetId') sheetId: string,
    @Query() { from, count }: FreeRowsQuery,
  ): Promise<FreeRowsView> {
    return this.reader.freeRows(sheetId, from, count);
  }

  /** Writes cells typed, pasted or filled in the grid, as one write. */
  @Post(paths.cells(':sheetId'))
  @HttpCode(200)
  @Urgent()
  @BodyUpTo(32768)
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: Written })
  edit(
    @Param('sheetId') sheetId: string,
    @Body() edits: EditCells,
    @CurrentPerson() person: Writer,
  ): Promise<Written> {
    // Clerks keep records; what stands around them is the analyst's.
    if ((edits.rows ?? []).length > 0) this.requireAnalyst(sheetId, person);
    return this.grid.edit(sheetId, edits, person);
  }

  @Post(paths.insertRows(':sheetId'))
  @HttpCode(200)
  @For('analyst', 'sheetId')
  @ApiOkResponse({ type: Written })
  insertRows(
    @Param('sheetId') sheetId: string,
    @Body() insert: InsertRows,
    @CurrentPerson() person: Writer,
  ): Promise<Written> {
    return this.grid.insertRows(sheetId, insert, person);
  }

  /** Sends records and rows outside of them to the bin. */
  @Post(paths.removeRows(':sheetId'))
  @HttpCode(200)
  @BodyUpTo(8192)
  @For('clerk', 'sheetId')
  @ApiOkResponse({ type: Written })
  removeRows(
    @Param('sheetId') sheetId: string,
    @Body() remove: RemoveRows,
    @CurrentPerson() person: Writer,
  ): Promise<Written> {
    if (remove.rows.length > 0) this.requireAnalyst(sheetId, person);
    return this.grid.removeRows(sheetId, remove, person);
  }

  @Post(paths.moveRows(':sheetId'))
  @HttpCode(200)
  @BodyUpTo(256)
  @For('analyst', 'sheetId')
  @ApiOkResponse({ type: Written })
  moveRows(
    @Param('sheetId') sheetId: string,
    @Body() move: MoveRows,
    @CurrentPerson() person: Writer,
  ): Promise<Written> {
    return this.grid.moveRows(sheetId, move, person);
  }

  /** Count, sum, mean and extremes of chosen cells. */
  @Post(paths.figures(':sheetId'))
  @HttpCode(200)
  @Costly()
  @For('reader', 'sheetId')
  @ApiOkResponse({ type: FiguresView })
  figures(
    @Param('sheetId') sheetId: string,
    @Body() ask: AskFigures,
    @AskedBy() asker: Asker,
  ): Promise<FiguresView> {
    return this.selection.figures(sheetId, ask, asker);
  }

  /** The next cell that shows a text. */
  @Post(paths.find(':sheetId'))
  @HttpCode(200)
  @Costly()
  @For('reader', 'sheetId')
  @ApiOkResponse({ type: FoundView })
  find(
    @Param('sheetId') sheetId: string,
    @Body() find: FindText,
    @AskedBy() asker: Asker,
  ): Promise<FoundView> {
    return this.selection.find(sheetId, find, asker);
  }

  /** Reads a formula as it is typed: what is wrong with it, and what it would give. */
  @Post(paths.checkFormula(':sheetId'))
  @HttpCode(200)
  @BodyUpTo(64)
  @Costly()
  @Counted('tryOut')
  @For('reader', 'sheetId')
  @ApiOkResponse({ type: FormulaView })
  checkFormula(
    @Param('sheetId') sheetId: string,
    @Body() { text, columnId }: CheckFormula,
    @AskedBy() asker: Asker,
  ): Promise<FormulaView> {
    return this.reader.checkFormula(sheetId, text, columnId, asker);
  }

  /** Renames, moves, or changes the look of a sheet. */
  @Patch(paths.sheet(':sheetId'))
  @BodyUpTo(2048)
  @For('analyst', 'sheetId')
  @ApiOkResponse({ type: SheetView })
  async changeSheet(
    @Param('sheetId') sheetId: string,
    @Body() change: ChangeSheet,
    @CurrentPerson() person: Writer,
  ): Promise<SheetView> {
    await this.sheets.changeSheet(sheetId, change, person);
    return this.reader.show(sheetId);
  }

  /** Sends a sheet to the bin, from which undo takes it back. */
  @Delete(paths.sheet(':sheetId'))
  @HttpCode(204)
  @For('analyst', 'sheetId')
  @ApiNoContentResponse()
  removeSheet(
    @Param('sheetId') sheetId: string,
    @Query() { revision }: RevisionQuery,
    @CurrentPerson() person: Writer,
  ): Promise<void> {
    return this.sheets.removeSheet(sheetId, revision, person);
  }

  /** What uses a column, a name, or the sheet, and what becomes of that without it. */
  @Get(`${paths.sheet(':sheetId')}/uses`)
  @For('analyst', 'sheetId')
  @ApiOkResponse({ type: UsesView })
  usesOf(@Param('sheetId') sheetId: string, @Query() of: UsesQuery): Promise<UsesView> {
    return this.uses.uses(sheetId, of);
  }

  /** Gives a range of the sheet a name. */
  @Post(paths.sheetNames(':sheetId'))
  @For('analyst', 'sheetId')
  @ApiCreatedResponse({ type: [NameView] })
  async addName(
    @Param('sheetId') sheetId: string,
    @Body() name: AddName,
    @CurrentPerson() person: Writer,
  ): Promise<NameView[]> {
    await this.sheets.addName(sheetId, name, person);
    return this.reader.names(this.reader.facts(sheetId).workbook.id);
  }

  @Delete(paths.name(':sheetId', ':nameId'))
  @HttpCode(204)
  @For('analyst', 'sheetId')
  @ApiNoContentResponse()
  removeName(
    @Param('sheetId') sheetId: string,
    @Param('nameId') nameId: string,
    @CurrentPerson() person: Writer,
  ): Promise<void> {
    return this.sheets.removeName(sheetId, nameId, person);
  }

  /** The sheet as a CSV file (RFC 4180, UTF-8). */
  @Get(`${paths.sheet(':sheetId')}/csv`)
  @Costly()
  @For('reader', 'sheetId')
  @ApiOkResponse({ content: { 'text/csv': {} } })
  async csv(
    @Param('sheetId') sheetId: string,
    @Query() { view, ...asked }: CsvQuery,
    @AskedBy() asker: Asker,
  ): Promise<StreamableFile> {
    const name = encodeURIComponent(`${this.reader.facts(sheetId).name}.csv`);
    // What a view finds is known before the first byte goes: a view that is none is refused.
    const ids = view === undefined ? undefined : await this.reader.idsIn(sheetId, view, asker);
    const { encoding = 'utf8' } = asked;
    const parts = encoded(this.reader.csv(sheetId, asked, asker, ids), encoding);
    return new StreamableFile(Readable.from(parts), {
      type: `text/csv; charset=${encoding === 'utf16' ? 'utf-16le' : 'utf-8'}; header=present`,
      disposition: `attachment; filename="sheet.csv"; filename*=UTF-8''${name}`,
    });
  }

  @Post(paths.columns(':sheetId'))
  @BodyUpTo(2048)
  @For('analyst', 'sheetId')
  @ApiCreatedResponse({ type: SheetView })
  async addColumn(
    @Param('sheetId') sheetId: string,
    @Body() column: AddColumn,
    @CurrentPerson() person: Writer,
  ): Promise<SheetView> {
    await this.columns.addColumn(sheetId, column, person);
    return this.reader.show(sheetId);
  }

  /** Renames, moves or converts a column, or gives it another format or formula. */
  @Patch(paths.column(':sheetId', ':columnId'))
  @BodyUpTo(2048)
  @For('analyst', 'sheetId')
  @ApiOkResponse({ type: SheetView })
  async changeColumn(
    @Param('sheetId') sheetId: string,
    @Param('columnId') columnId: string,
    @Body() change: ColumnChange,
    @CurrentPerson() person: Writer,
  ): Promise<SheetView> {
    await this.columns.changeColumn(sheetId, columnId, change, person);
    return this.reader.show(sheetId);
  }

  /** What a column holds, with how often. */
  @Get(paths.columnValues(':sheetId', ':columnId'))
  @Costly()
  @For('reader', 'sheetId')
  @ApiOkResponse({ type: ColumnValuesView })
  values(
    @Param('sheetId') sheetId: string,
    @Param('columnId') columnId: string,
    @AskedBy() asker: Asker,
  ): Promise<ColumnValuesView> {
    return this.reader.values(sheetId, columnId, asker);
  }

  /** Tells what a change of kind or formula would do to the stored values, and does nothing. */
  @Post(paths.conversion(':sheetId', ':columnId'))
  @HttpCode(200)
  @Costly()
  @BodyUpTo(2048)
  @For('analyst', 'sheetId')
  @ApiOkResponse({ type: ConversionView })
  conversion(
    @Param('sheetId') sheetId: string,
    @Param('columnId') columnId: string,
    @Body() change: ColumnChange,
    @AskedBy() asker: Asker,
  ): Promise<ConversionView> {
    return this.columns.conversion(sheetId, columnId, change, asker);
  }

  /** Takes a column out; its values stay in the records, and come back with it. */
  @Delete(paths.column(':sheetId', ':columnId'))
  @For('analyst', 'sheetId')
  @ApiOkResponse({ type: SheetView })
  async removeColumn(
    @Param('sheetId') sheetId: string,
    @Param('columnId') columnId: string,
    @Query() { revision }: RevisionQuery,
    @CurrentPerson() person: Writer,
  ): Promise<SheetView> {
    await this.columns.removeColumn(sheetId, columnId, revision, person);
    return this.reader.show(sheetId);
  }

  @Post(`${paths.column(':sheetId', ':columnId')}/put-back`)
  @HttpCode(200)
  @For('analyst', 'sheetId')
  @ApiOkResponse({ type: SheetView })
  async putColumnBack(
    @Param('sheetId') sheetId: string,
    @Param('columnId') columnId: string,
    @Body() { revision }: SheetRevision,
    @CurrentPerson() person: Writer,
  ): Promise<SheetView> {
    await this.columns.putColumnBack(sheetId, columnId, revision, person);
    return this.reader.show(sheetId);
  }

  @Patch(paths.record(':sheetId', ':recordId'))
  @Urgent()
  @BodyUpTo(2048)
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

  /** Some of what the grid writes is for analysts only. */
  private requireAnalyst(sheetId: string, person: Writer): void {
    const { workbook } = this.reader.facts(sheetId);
    const role = this.catalog.role(workbook.id, person.id);
    if (role && mayAs(role, 'analyst')) return;
    throw Refused.forbidden('Only the workbook’s analysts can change rows outside the records.');
  }
}

/** Texts as the bytes of an encoding, with its byte order mark where it has one. */
async function* encoded(
  parts: AsyncIterable<string>,
  encoding: NonNullable<CsvQuery['encoding']>,
): AsyncGenerator<Buffer> {
  const as = encoding === 'utf16' ? 'utf16le' : 'utf8';
  if (encoding !== 'utf8') yield Buffer.from('\uFEFF', as);
  for await (const part of parts) yield Buffer.from(part, as);
}
