import {
  CheckView,
  FormEntry,
  FormView,
  Landed,
  MakeForm,
  paths,
  RenameForm,
  Submit,
} from '@varn/contract';
import { Body, Controller, Get, HttpCode, Param, Patch, Post } from '@nestjs/common';
import { ApiCreatedResponse, ApiOkResponse, ApiTags } from '@nestjs/swagger';
import { CurrentPerson, For } from '../access/access';
import { RecordWriter, type Writer } from '../write/recordWriter';
import { FormReader } from './formReader';
import { FormWriter } from './formWriter';

@ApiTags('forms')
@Controller()
export class FormsController {
  constructor(
    private readonly reader: FormReader,
    private readonly forms: FormWriter,
    private readonly writer: RecordWriter,
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

  /** Writes a filled form as one new record. */
  @Post(paths.submits(':formId'))
  @For('clerk', 'formId')
  @ApiCreatedResponse({ type: Landed })
  submit(
    @Param('formId') formId: string,
    @Body() submit: Submit,
    @CurrentPerson() person: Writer,
  ): Promise<Landed> {
    return this.writer.submit(formId, submit, person);
  }

  /** Checks a filled form as a submit would, and writes nothing. */
  @Post(paths.checks(':formId'))
  @HttpCode(200)
  @For('clerk', 'formId')
  @ApiOkResponse({ type: CheckView })
  check(@Param('formId') formId: string, @Body() submit: Submit): CheckView {
    return this.reader.check(formId, submit);
  }
}
