import { OutboxView, paths, ReadNotices } from '@varn/contract';
import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common';
import { ApiNoContentResponse, ApiOkResponse, ApiTags } from '@nestjs/swagger';
import { CurrentPerson, For } from '../access/access';
import type { Writer } from '../access/access';
import { Outbox } from './outbox';

@ApiTags('outbox')
@Controller()
export class OutboxController {
  constructor(private readonly outbox: Outbox) {}

  /** The notices one got in a workbook, the newest first. */
  @Get(paths.outbox(':workbookId'))
  @For('reader', 'workbookId')
  @ApiOkResponse({ type: OutboxView })
  notices(@Param('workbookId') id: string, @CurrentPerson() person: Writer): Promise<OutboxView> {
    return this.outbox.of(id, person);
  }

  /** Marks notices of one's own as read; those that are read stay so. */
  @Post(paths.readNotices(':workbookId'))
  @HttpCode(204)
  @For('reader', 'workbookId')
  @ApiNoContentResponse()
  read(
    @Param('workbookId') id: string,
    @Body() { ids }: ReadNotices,
    @CurrentPerson() person: Writer,
  ): Promise<void> {
    return this.outbox.read(id, ids, person);
  }
}
