import {
  AddSheet,
  NameView,
  OverviewView,
  PlaceEntry,
  paths,
  SheetView,
  StartWorkbook,
  Undo,
  UndoView,
  WorkbookEntry,
  WorkbookView,
  Written,
} from '@varn/contract';
import { Body, Controller, Get, HttpCode, Param, Patch, Post } from '@nestjs/common';
import { ApiCreatedResponse, ApiOkResponse, ApiTags } from '@nestjs/swagger';
import { BodyUpTo, CurrentPerson, For, ForSignedIn } from '../access/access';
import { SheetReader } from '../sheets/sheetReader';
import type { Writer } from '../access/access';
import { SheetWriter } from '../write/sheetWriter';
import { UndoWriter } from '../write/undoWriter';
import { WorkbookReader } from './workbookReader';
import { WorkbookWriter } from './workbookWriter';

@ApiTags('workbooks')
@Controller()
export class WorkbooksController {
  constructor(
    private readonly reader: WorkbookReader,
    private readonly sheetReader: SheetReader,
    private readonly sheets: SheetWriter,
    private readonly undos: UndoWriter,
    private readonly writer: WorkbookWriter,
  ) {}

  @Get(paths.workbooks)
  @ForSignedIn()
  @ApiOkResponse({ type: [WorkbookEntry] })
  list(@CurrentPerson() person: Writer): Promise<WorkbookEntry[]> {
    return this.reader.list(person.id);
  }

  /** Every place of one's workbooks: sheets, forms, columns, named ranges. */
  @Get(paths.places)
  @ForSignedIn()
  @ApiOkResponse({ type: [PlaceEntry] })
  places(@CurrentPerson() person: Writer): PlaceEntry[] {
    return this.reader.places(person.id);
  }

  /** Starts a blank workbook, owned by whoever starts it. */
  @Post(paths.workbooks)
  @ForSignedIn()
  @ApiCreatedResponse({ type: WorkbookEntry })
  start(@Body() order: StartWorkbook, @CurrentPerson() person: Writer): Promise<WorkbookEntry> {
    return this.writer.start(order, person);
  }

  @Get(paths.workbook(':workbookId'))
  @For('reader', 'workbookId')
  @ApiOkResponse({ type: WorkbookView })
  show(
    @Param('workbookId') workbookId: string,
    @CurrentPerson() person: Writer,
  ): Promise<WorkbookView> {
    return this.reader.show(workbookId, person.id);
  }

  /** Renames a workbook, or changes its locale, time zone or currency. */
  @Patch(paths.workbook(':workbookId'))
  @For('analyst', 'workbookId')
  @ApiOkResponse({ type: WorkbookView })
  async change(
    @Param('workbookId') workbookId: string,
    @Body() change: StartWorkbook,
    @CurrentPerson() person: Writer,
  ): Promise<WorkbookView> {
    await this.writer.change(workbookId, change, person);
    return this.reader.show(workbookId, person.id);
  }

  /** What was written into each sheet today, and last. */
  @Get(paths.overview(':workbookId'))
  @For('reader', 'workbookId')
  @ApiOkResponse({ type: OverviewView })
  overview(@Param('workbookId') workbookId: string): Promise<OverviewView> {
    return this.reader.overview(workbookId);
  }

  /** Takes back a write of one's own. */
  @Post(paths.undo(':workbookId'))
  @HttpCode(200)
  @For('clerk', 'workbookId')
  @ApiOkResponse({ type: Written })
  undo(
    @Param('workbookId') workbookId: string,
    @Body() undo: Undo,
    @CurrentPerson() person: Writer,
  ): Promise<Written> {
    return this.undos.undo(workbookId, undo, person);
  }

  /** What one could take back next in this workbook, and what do again. */
  @Get(paths.undo(':workbookId'))
  @For('clerk', 'workbookId')
  @ApiOkResponse({ type: UndoView })
  undoable(
    @Param('workbookId') workbookId: string,
    @CurrentPerson() person: Writer,
  ): Promise<UndoView> {
    return this.undos.state(workbookId, person);
  }

  @Post(paths.sheets(':workbookId'))
  @BodyUpTo(1024)
  @For('analyst', 'workbookId')
  @ApiCreatedResponse({ type: SheetView })
  async addSheet(
    @Param('workbookId') workbookId: string,
    @Body() order: AddSheet,
    @CurrentPerson() person: Writer,
  ): Promise<SheetView> {
    return this.sheetReader.show(await this.sheets.addSheet(workbookId, order, person));
  }

  /** The named ranges of a workbook. */
  @Get(paths.names(':workbookId'))
  @For('reader', 'workbookId')
  @ApiOkResponse({ type: [NameView] })
  names(@Param('workbookId') workbookId: string): Promise<NameView[]> {
    return this.sheetReader.names(workbookId);
  }
}
