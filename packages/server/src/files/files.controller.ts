import { FileQuery, FileView, paths } from '@varn/contract';
import { Controller, Get, Header, Param, Post, Query, Req, StreamableFile } from '@nestjs/common';
import { ApiBody, ApiConsumes, ApiCreatedResponse, ApiOkResponse, ApiTags } from '@nestjs/swagger';
import type { FastifyRequest } from 'fastify';
import { Readable } from 'node:stream';
import { CurrentPerson, For } from '../access/access';
import { Refused } from '../http/refused';
import type { Writer } from '../access/access';
import { FileStore } from './fileStore';

@ApiTags('files')
@Controller()
export class FilesController {
  constructor(private readonly files: FileStore) {}

  /** Takes a file for a form, as it is. */
  @Post('/api/workbooks/:workbookId/files')
  @For('clerk', 'workbookId')
  @ApiConsumes('application/octet-stream')
  @ApiBody({ schema: { type: 'string', format: 'binary' } })
  @ApiCreatedResponse({ type: FileView })
  keep(
    @Param('workbookId') workbookId: string,
    @Req() request: FastifyRequest,
    @Query() { name }: FileQuery,
    @CurrentPerson() person: Writer,
  ): Promise<FileView> {
    if (!(request.body instanceof Readable)) {
      throw Refused.badRequest('notAFile', 'Send the file itself, as application/octet-stream.');
    }
    return this.files.keep(workbookId, request.body, name, person.id);
  }

  /** Gives a file out again: pictures to be shown, all else to be saved. */
  @Get(paths.file(':workbookId', ':fileId'))
  @For('reader', 'workbookId')
  @Header('content-security-policy', "default-src 'none'; sandbox")
  @Header('cache-control', 'private, max-age=31536000, immutable')
  @ApiOkResponse({ content: { 'application/octet-stream': {} } })
  async give(
    @Param('workbookId') workbookId: string,
    @Param('fileId') fileId: string,
  ): Promise<StreamableFile> {
    const { view, bytes } = await this.files.find(workbookId, fileId);
    const isPicture = view.shownAs === 'picture';
    const name = encodeURIComponent(view.name);
    return new StreamableFile(bytes, {
      type: isPicture ? view.type : 'application/octet-stream',
      length: view.bytes,
      disposition: `${isPicture ? 'inline' : 'attachment'}; filename*=UTF-8''${name}`,
    });
  }
}
