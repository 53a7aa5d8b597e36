import { Landed, paths, Undo, WorkbookEntry, WorkbookView } from '@varn/contract';
import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common';
import { ApiOkResponse, ApiTags } from '@nestjs/swagger';
import { CurrentPerson, For, ForSignedIn } from '../access/access';
import { RecordWriter, type Writer } from '../write/recordWriter';
import { WorkbookReader } from './workbookReader';

@ApiTags('workbooks')
@Controller()
export class WorkbooksController {
  constructor(
    private readonly reader: WorkbookReader,
    private readonly writer: RecordWriter,
  ) {}

  @Get(paths.workbooks)
  @ForSignedIn()
  @ApiOkResponse({ type: [WorkbookEntry] })
  list(@CurrentPerson() person: Writer): Promise<WorkbookEntry[]> {
    return this.reader.list(person.id);
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

  /** Takes back a write of one's own. */
  @Post(paths.undo(':workbookId'))
  @HttpCode(200)
  @For('clerk', 'workbookId')
  @ApiOkResponse({ type: Landed })
  undo(
    @Param('workbookId') workbookId: string,
    @Body() undo: Undo,
    @CurrentPerson() person: Writer,
  ): Promise<Landed> {
    return this.writer.undo(workbookId, undo, person);
  }
}
