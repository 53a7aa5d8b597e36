import { kindOf, type Column } from '../kinds';

/** What stands in a field before anyone types. */
export type StartingValue =
  | { readonly kind: 'text'; readonly text: string }
  | { readonly kind: 'today' }
  | { readonly kind: 'now' };

/** A column placed on a form. It holds on to the column by id, wherever the column moves. */
export interface FormField {
  readonly id: string;
  readonly columnId: string;
  /** A label of the field's own; without one the column's heading stands. */
  readonly label?: string;
  readonly hint?: string;
  readonly required?: boolean;
  readonly start?: StartingValue;
  /** A line that may hold breaks. */
  readonly several?: boolean;
}

export interface FormDefinition {
  readonly fields: readonly FormField[];
}

/** One click: a form with every column of a sheet as a field, in the sheet's order. */
export function formOfSheet(columns: readonly Column[]): FormDefinition {
  return { fields: columns.map((column) => ({ id: column.id, columnId: column.id })) };
}

/** Whether people type into a field of this column, or only see it. */
export function isTyped(column: Column): boolean {
  return kindOf(column).control !== 'shown';
}

export function labelOf(field: FormField, column: Column): string {
  return field.label ?? column.heading;
}
