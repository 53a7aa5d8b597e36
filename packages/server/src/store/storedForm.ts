import type { Column, FormDefinition, StoredFormula } from '@varn/core';

/** A form's formula as it is stored: by identity, or as it was typed while it can't be read. */
export type FormFormula = StoredFormula | { readonly unread: string };

export type StoredDefinition = FormDefinition<FormFormula>;

/** A form that is laid out and not put to use yet. */
export interface StoredDraft {
  readonly definition: StoredDefinition;
  /** Columns that are in no sheet yet, and columns of the sheet with other settings. */
  readonly columns: readonly Column<FormFormula>[];
}
