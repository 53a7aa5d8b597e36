import type { FormEntry, MakeForm, RenameForm } from '@varn/contract';
import { formOfSheet } from '@varn/core';
import { Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { Refused } from '../http/refused';
import { digestOf, newId } from '../ids';
import { Form, Sheet } from '../store/entities';
import type { Writer } from '../write/recordWriter';
import { StructureWriter } from '../write/structureWriter';

@Injectable()
export class FormWriter {
  constructor(private readonly structure: StructureWriter) {}

  /** Makes a form of every column of a sheet. Without a name it bears the sheet's. */
  make(sheetId: string, { writeId, name }: MakeForm, writer: Writer): Promise<FormEntry> {
    const digest = digestOf(writer.id, 'makeForm', sheetId, name ?? '');
    return this.structure.write({ writeId, writer, kind: 'formAdded', digest }, async (em) => {
      const sheet = await em.findOneOrFail(Sheet, sheetId);
      const place = await em.count(Form, { sheet: sheetId });
      const form = { id: newId(), name: name ?? sheet.name };
      const definition = formOfSheet(sheet.columns);
      await em.insert(Form, { ...form, sheet: sheetId, place, definition, revision: 1 });
      return { workbookId: sheet.workbook.id, sheetId, answer: form };
    });
  }

  rename(formId: string, { name, revision }: RenameForm, writer: Writer): Promise<FormEntry> {
    return this.structure.write(
      // The form's revision guards it: a repeat is refused as out of date.
      { writeId: randomUUID(), writer, kind: 'formChanged', digest: '' },
      async (em) => {
        const form = await em.findOneOrFail(Form, formId, { populate: ['sheet'] });
        if (form.revision !== revision) {
          throw Refused.conflict('changedSince', 'The form was changed since. Look at it again.');
        }
        const renamed = { id: formId, name: name.trim() };
        await em.nativeUpdate(Form, formId, { name: renamed.name, revision: revision + 1 });
        const { sheet } = form;
        return { workbookId: sheet.workbook.id, sheetId: sheet.id, answer: renamed };
      },
    );
  }
}
