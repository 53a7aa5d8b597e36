import { paths, UnderwayView } from '@varn/contract';
import { Controller, Delete, Get, HttpCode, Param } from '@nestjs/common';
import { ApiNoContentResponse, ApiOkResponse, ApiTags } from '@nestjs/swagger';
import { CurrentPerson, For } from '../access/access';
import type { Writer } from '../access/access';
import { Refused } from '../http/refused';
import { Underway, type LargeWrite } from './underway';

@ApiTags('writes')
@Controller()
export class UnderwayController {
  constructor(private readonly underway: Underway) {}

  /** How much of one's own large write is done. */
  @Get(paths.underway(':workbookId', ':writeId'))
  @For('clerk', 'workbookId')
  @ApiOkResponse({ type: UnderwayView })
  share(@Param('writeId') writeId: string, @CurrentPerson() person: Writer): UnderwayView {
    return { share: this.own(writeId, person)?.share ?? null };
  }

  /** Cancels one's own large write: nothing of it is stored. */
  @Delete(paths.underway(':workbookId', ':writeId'))
  @HttpCode(204)
  @For('clerk', 'workbookId')
  @ApiNoContentResponse()
  cancel(@Param('writeId') writeId: string, @CurrentPerson() person: Writer): void {
    if (this.own(writeId, person)?.cancel() === true) return;
    throw Refused.conflict('tooLate', 'It is already stored. Undo takes it back.');
  }

  private own(writeId: string, { id }: Writer): LargeWrite | undefined {
    const write = this.underway.of(writeId);
    return write?.personId === id ? write : undefined;
  }
}
