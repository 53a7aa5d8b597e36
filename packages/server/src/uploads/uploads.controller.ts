import {
  AddRows,
  BringIn,
  BroughtIn,
  FileRowsView,
  LookAtRows,
  paths,
  ReadingChoices,
  RowsAdded,
  RowsChecked,
  RowsOfFile,
  UploadQuery,
  UploadView,
} from '@varn/contract';
import {
  Body,
  Controller,
  Delete,
  HttpCode,
  Param,
  Post,
  Query,
  Req,
  type StreamableFile,
} from '@nestjs/common';
import { ApiBody, ApiConsumes, ApiCreatedResponse, ApiOkResponse, ApiTags } from '@nestjs/swagger';
import type { FastifyRequest } from 'fastify';
import { Readable } from 'node:stream';
import { BodyUpTo, CurrentPerson, ForSignedIn } from '../access/access';
import { csvFile } from '../http/csvFile';
import { Refused } from '../http/refused';
import type { Writer } from '../access/access';
import { BringInService } from './bringInService';
import { RowsService } from './rowsService';
import { UploadStore } from './uploadStore';

@ApiTags('uploads')
@Controller()
export class UploadsController {
  constructor(
    private readonly uploads: UploadStore,
    private readonly bringing: BringInService,
    private readonly rows: RowsService,
  ) {}

  /** Takes a file as it is, streamed, and shows what it would become. */
  @Post('/api/uploads')
  @ForSignedIn()
  @ApiConsumes('application/octet-stream')
  @ApiBody({ schema: { type: 'string', format: 'binary' } })
  @ApiCreatedResponse({ type: UploadView })
  async upload(
    @Req() request: FastifyRequest,
    @Query() { name, ...choices }: UploadQuery,
    @CurrentPerson() person: Writer,
  ): Promise<UploadView> {
    if (!(request.body instanceof Readable)) {
      throw Refused.badRequest('notAFile', 'Send the file itself, as application/octet-stream.');
    }
    const { id } = await this.uploads.keep(request.body, name, person.id);
    try {
      return await this.bringing.preview(id, choices, person);
    } catch (error) {
      await this.uploads.forget(id, person.id);
      throw error;
    }
  }

  /** Shows it again, read in another way. */
  @Post(paths.preview(':uploadId'))
  @HttpCode(200)
  @ForSignedIn()
  @ApiOkResponse({ type: UploadView })
  preview(
    @Param('uploadId') uploadId: string,
    @Body() choices: ReadingChoices,
    @CurrentPerson() person: Writer,
  ): Promise<UploadView> {
    return this.uploads.standing(uploadId, person.id, () =>
      this.bringing.preview(uploadId, choices, person),
    );
  }

  /** Gives some of its rows as they are. */
  @Post(paths.fileRows(':uploadId'))
  @HttpCode(200)
  @ForSignedIn()
  @ApiOkResponse({ type: FileRowsView })
  fileRows(
    @Param('uploadId') uploadId: string,
    @Body() order: LookAtRows,
    @CurrentPerson() person: Writer,
  ): Promise<FileRowsView> {
    return this.uploads.standing(uploadId, person.id, () =>
      this.bringing.rows(uploadId, order, person),
    );
  }

  /** Makes it a sheet, of a new workbook or of one there is. */
  @Post(paths.bringIn(':uploadId'))
  @BodyUpTo(1024)
  @ForSignedIn()
  @ApiCreatedResponse({ type: BroughtIn })
  bringIn(
    @Param('uploadId') uploadId: string,
    @Body() order: BringIn,
    @CurrentPerson() person: Writer,
  ): Promise<BroughtIn> {
    return this.uploads.standing(uploadId, person.id, () =>
      this.bringing.bringIn(uploadId, order, person),
    );
  }

  /** Tells what adding its rows to a sheet would come to; nothing is stored. */
  @Post(paths.checkRows(':uploadId'))
  @HttpCode(200)
  @BodyUpTo(1024)
  @ForSignedIn()
  @ApiOkResponse({ type: RowsChecked })
  checkRows(
    @Param('uploadId') uploadId: string,
    @Body() order: RowsOfFile,
    @CurrentPerson() person: Writer,
  ): Promise<RowsChecked> {
    return this.uploads.standing(uploadId, person.id, () =>
      this.rows.check(uploadId, order, person),
    );
  }

  /** Adds those of its rows to a sheet that the sheet's rules take. */
  @Post(paths.addRows(':uploadId'))
  @BodyUpTo(1024)
  @ForSignedIn()
  @ApiCreatedResponse({ type: RowsAdded })
  addRows(
    @Param('uploadId') uploadId: string,
    @Body() order: AddRows,
    @CurrentPerson() person: Writer,
  ): Promise<RowsAdded> {
    return this.uploads.standing(uploadId, person.id, () => this.rows.add(uploadId, order, person));
  }

  /** Gives the rows that would be left out, as CSV, each with why. */
  @Post(paths.heldRows(':uploadId'))
  @HttpCode(200)
  @BodyUpTo(1024)
  @ForSignedIn()
  @ApiOkResponse({ content: { 'text/csv': {} } })
  async heldRows(
    @Param('uploadId') uploadId: string,
    @Body() order: RowsOfFile,
    @CurrentPerson() person: Writer,
  ): Promise<StreamableFile> {
    return csvFile(await this.rows.held(uploadId, order, person));
  }

  @Delete(paths.upload(':uploadId'))
  @HttpCode(204)
  @ForSignedIn()
  forget(@Param('uploadId') uploadId: string, @CurrentPerson() person: Writer): Promise<void> {
    return this.uploads.forget(uploadId, person.id);
  }
}
