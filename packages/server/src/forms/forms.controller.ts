import {
  BeginForm,
  CheckAnswers,
  CheckView,
  DraftRevision,
  DraftSaved,
  DraftView,
  FormEntry,
  FormView,
  Landed,
  MakeForm,
  paths,
  PutBackForm,
  PutToUse,
  RemoveTrials,
  RenameForm,
  RevisionQuery,
  SaveDraft,
  Submit,
  UpdateRecord,
  Written,
} from '@varn/contract';
import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseIntPipe,
  Patch,
  Post,
  Put,
  Query,
} from '@nestjs/common';
import { ApiCreatedResponse, ApiOkResponse, ApiTags } from '@nestjs/swagger';
import { AskedBy, BodyUpTo, Costly, CurrentPerson, For, Urgent } from '../access/access';
import type { Writer } from '../access/access';
import { Asker } from '../turns/asker';
import { RecordWriter } from '../write/recordWriter';
import { ListAdder } from '../listPlace/listAdder';
import { FormReader } from './formReader';
import { FormWriter } from './formWriter';
import { TrialWriter } from './trialWriter';

@ApiTags('forms')
@Controller()
export class FormsController {
  constructor(
    private readonly reader: FormReader,
    private readonly forms: FormWriter,
    private readonly writer: RecordWriter,
    private readonly trials: TrialWriter,
    private readonly adder: ListAdder,
  ) {}

  /** One click: makes a form of every column of a sheet. */
  @Post(paths.sheetForms(':sheetId'))
  @For('analyst', 'sheetId')
  @ApiCreatedResponse({ type: FormEntry })
  make(
    @Param('sheetId') sheetId: string,
    @Body() form: MakeForm,
    @CurrentPerson() person: Writer,
  ): Promise<FormEntry> {
    return this.forms.make(sheetId, form, person);
  }

  /** Begins a form to be laid out, on a sheet or a new one. */
  @Post(paths.forms(':workbookId'))
  @For('analyst', 'workbookId')
  @ApiCreatedResponse({ type: FormEntry })
  begin(
    @Param('workbookId') workbookId: string,
    @Body() form: BeginForm,
    @CurrentPerson() person: Writer,
  ): Promise<FormEntry> {
    return this.forms.begin(workbookId, form, person);
  }

  @Get(paths.form(':formId'))
  @For('reader', 'formId')
  @ApiOkResponse({ type: FormView })
  show(@Param('formId') formId: string): Promise<FormView> {
    return this.reader.show(formId);
  }

  @Patch(paths.form(':formId'))
  @For('analyst', 'formId')
  @ApiOkResponse({ type: FormEntry })
  rename(
    @Param('formId') formId: string,
    @Body() rename: RenameForm,
    @CurrentPerson() person: Writer,
  ): Promise<FormEntry> {
    return this.forms.rename(formId, rename, person);
  }

  /** Sends a form to the bin; what was written through it stays. */
  @Delete(paths.form(':formId'))
  @For('analyst', 'formId')
  @ApiOkResponse({ type: FormEntry })
  remove(
    @Param('formId') formId: string,
    @Query() { revision }: RevisionQuery,
    @CurrentPerson() person: Writer,
  ): Promise<FormEntry> {
    return this.forms.remove(formId, revision, person);
  }

  /** Takes a form out of the bin. */
  @Post(paths.putBackForm(':workbookId', ':formId'))
  @HttpCode(200)
  @For('analyst', 'workbookId')
  @ApiOkResponse({ type: FormEntry })
  putBack(
    @Param('workbookId') workbookId: string,
    @Param('formId') formId: string,
    @Body() { writeId }: PutBackForm,
    @CurrentPerson() person: Writer,
  ): Promise<FormEntry> {
    return this.forms.putBack(workbookId, formId, writeId, person);
  }

  /** Writes a filled form as one new record. */
  @Post(paths.submits(':formId'))
  @Urgent()
  @BodyUpTo(2048)
  @For('clerk', 'formId')
  @ApiCreatedResponse({ type: Landed })
  async submit(
    @Param('formId') formId: string,
    @Body() submit: Submit,
    @CurrentPerson() person: Writer,
  ): Promise<Landed> {
    const landed = await this.writer.submit(formId, submit, person);
    await this.adder.addFrom(landed, person);
    return landed;
  }

  /** Checks a filled form as a submit would, and writes nothing. */
  @Post(paths.checks(':formId'))
  @HttpCode(200)
  @Costly()
  @BodyUpTo(2048)
  @For('reader', 'formId')
  @ApiOkResponse({ type: CheckView })
  check(
    @Param('formId') formId: string,
    @Body() answers: CheckAnswers,
    @CurrentPerson() person: Writer,
    @AskedBy() asker: Asker,
  ): Promise<CheckView> {
    return this.reader.check(formId, answers, person.id, asker);
  }

  /** Corrects a record through a form. */
  @Patch(paths.formRecord(':formId', ':recordId'))
  @Urgent()
  @BodyUpTo(2048)
  @For('clerk', 'formId')
  @ApiOkResponse({ type: Landed })
  update(
    @Param('formId') formId: string,
    @Param('recordId') recordId: string,
    @Body() update: UpdateRecord,
    @CurrentPerson() person: Writer,
  ): Promise<Landed> {
    const write = (): Promise<Landed> => this.writer.update(formId, recordId, update, person);
    return this.adder.afterUpdate(formId, recordId, write, person);
  }

  /** The form as it is laid out, before it is put to use. */
  @Get(paths.draft(':formId'))
  @For('analyst', 'formId')
  @ApiOkResponse({ type: DraftView })
  draft(@Param('formId') formId: string): Promise<DraftView> {
    return this.reader.draft(formId);
  }

  /** Keeps it as it was laid out so far. */
  @Put(paths.draft(':formId'))
  @BodyUpTo(2048)
  @For('analyst', 'formId')
  @ApiOkResponse({ type: DraftSaved })
  save(@Param('formId') formId: string, @Body() draft: SaveDraft): Promise<DraftSaved> {
    return this.forms.save(formId, draft);
  }

  /** Lets go of what was laid out and is not in use. */
  @Delete(paths.draft(':formId'))
  @For('analyst', 'formId')
  @ApiOkResponse({ type: DraftSaved })
  drop(@Param('formId') formId: string, @Query() { revision }: RevisionQuery): Promise<DraftSaved> {
    return this.forms.drop(formId, revision);
  }

  /** Puts the form to use as it is laid out. */
  @Post(paths.use(':formId'))
  @HttpCode(200)
  @For('analyst', 'formId')
  @ApiOkResponse({ type: FormEntry })
  use(
    @Param('formId') formId: string,
    @Body() order: PutToUse,
    @CurrentPerson() person: Writer,
  ): Promise<FormEntry> {
    return this.forms.use(formId, order, person);
  }

  /** Lays the form out as it was in an earlier version. */
  @Post(paths.bringBack(':formId', ':version'))
  @HttpCode(200)
  @For('analyst', 'formId')
  @ApiOkResponse({ type: DraftSaved })
  bringBack(
    @Param('formId') formId: string,
    @Param('version', ParseIntPipe) version: number,
    @Body() { revision }: DraftRevision,
  ): Promise<DraftSaved> {
    return this.forms.bringBack(formId, version, revision);
  }

  /** Writes a trial record with the form as it is laid out. */
  @Post(paths.trials(':formId'))
  @BodyUpTo(2048)
  @For('analyst', 'formId')
  @ApiCreatedResponse({ type: Landed })
  tryOut(
    @Param('formId') formId: string,
    @Body() submit: Submit,
    @CurrentPerson() person: Writer,
  ): Promise<Landed> {
    return this.trials.write(formId, submit, person);
  }

  /** Removes the trial records of a sheet, all at once. */
  @Post(paths.removeTrials(':sheetId'))
  @HttpCode(200)
  @For('analyst', 'sheetId')
  @ApiOkResponse({ type: Written })
  removeTrials(
    @Param('sheetId') sheetId: string,
    @Body() { writeId }: RemoveTrials,
    @CurrentPerson() person: Writer,
  ): Promise<Written> {
    return this.trials.removeAll(sheetId, writeId, person);
  }
}
