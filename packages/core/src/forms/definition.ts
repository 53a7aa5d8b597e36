import type { Column, Rule } from '../kinds';
import type { ControlDetails, ControlId } from './controls/control';

/**
 * What stands in a field before anyone types. What is seen is what is stored: it is the answer
 * until someone types over it. A `beginning` is a start to type on, and no answer alone. A
 * `suggestion` is no answer until it is taken. One that is `kept` gives way, once changed, to what
 * was typed, until the day changes.
 *
 * `F` is a formula: the text people write in the browser, a formula by identity where it is stored.
 */
export type StartingValue<F = string> = (
  | { readonly kind: 'text' | 'beginning'; readonly text: string }
  | { readonly kind: 'today' | 'now' }
  /** One above the highest number the column holds, by a pattern or as that is written. */
  | { readonly kind: 'next'; readonly pattern?: string }
  | { readonly kind: 'formula'; readonly formula: F }
) & { readonly suggestion?: true; readonly kept?: true };

/** The least and the most a value may be; of a text, how many characters it may have. */
export interface Limits {
  readonly from?: number;
  readonly to?: number;
}

/** What every block of a form has. */
interface BlockBase<F> {
  readonly id: string;
  /** It is there only while this holds over the answers; absent, it always is. */
  readonly shownWhen?: F;
  /** Lines of comment that stand before it in the outline. */
  readonly remark?: string;
}

/** What can be said of a field, or of several that are alike. */
export interface FieldSettings<F = string> {
  /** A label of the field's own; without one the column's heading stands. */
  readonly label?: string;
  readonly hint?: string;
  readonly control?: ControlId;
  readonly details?: ControlDetails;
  readonly required?: true;
  readonly requiredWhen?: F;
  /** Said where an answer is missing, or can’t be read, instead of what Varn says. */
  readonly says?: string;
  readonly readOnly?: true;
  readonly start?: StartingValue<F>;
  readonly limits?: Limits;
  /** Rules on this form alone, besides those of the column. */
  readonly rules?: readonly Rule[];
  /** Parts of a row that the field takes; absent, as many as its column calls for. */
  readonly width?: number;
  /** Whether it stands on the row of the block before it. */
  readonly beside?: true;
}

/** A column placed on a form. It holds on to the column by id, wherever the column moves. */
export interface FieldBlock<F = string> extends BlockBase<F>, FieldSettings<F> {
  readonly is: 'field';
  readonly columnId: string;
}

/** One of several columns that stand together. */
export interface Member {
  readonly id: string;
  readonly columnId: string;
  /** A statement, or a choice; absent, the column's heading. */
  readonly label?: string;
}

/**
 * Several columns as one block: `statements` with the same choices, a field `repeated`, or
 * `boxes`, one yes/no column for each choice.
 */
export interface GroupBlock<F = string> extends BlockBase<F>, FieldSettings<F> {
  readonly is: 'group';
  readonly as: GroupShape;
  /** Of a repeated field: whether no answer may stand in it twice. */
  readonly different?: true;
  readonly label: string;
  readonly members: readonly Member[];
}
export type GroupShape = 'statements' | 'repeated' | 'boxes';

export type Tone = 'note' | 'good' | 'caution';
export type PictureSize = 'small' | 'middling' | 'large' | 'full';
export type PicturePlace = 'start' | 'middle' | 'end';

/** What a form shows between its fields. */
export type PlainBlock<F = string> = BlockBase<F> &
  (
    | { readonly is: 'heading'; readonly text: string }
    /** Words with simple formatting, a part of Markdown. */
    | { readonly is: 'note'; readonly text: string }
    | { readonly is: 'divider' }
    | {
        readonly is: 'picture';
        readonly fileId: string;
        /** Description, for those who do not see it. */
        readonly alt: string;
        readonly size?: PictureSize;
        readonly place?: PicturePlace;
      }
    /** A formula whose text is told; nothing while it gives none. */
    | { readonly is: 'message'; readonly tone: Tone; readonly formula: F }
    /** A new page begins. */
    | { readonly is: 'page'; readonly title: string }
  );

export type Block<F = string> = FieldBlock<F> | GroupBlock<F> | PlainBlock<F>;

export type Accent = 'brass' | 'slate' | 'pine' | 'madder';

/** How the form's page looks. */
export interface FormLook {
  readonly accent?: Accent;
  readonly density?: 'dense' | 'roomy';
  readonly width?: 'narrow' | 'wide';
  readonly labels?: 'beside';
  /** Fields that come by lines stand one a row, not side by side where they fit. */
  readonly rows?: 'single';
}

/** How the form is filled in. */
export interface Entering {
  /** Enter goes on to the next field, or submits from any. */
  readonly enter?: 'submits';
  /** A submit that is too early goes to what is missing, or is held back with the reason. */
  readonly early?: 'heldBack';
  /** It opens on a blank record, or on the last one. */
  readonly opensOn?: 'last';
  /** A new record comes to the end of the sheet, or right under its heading. */
  readonly lands?: 'top';
}

/** What happens once a record is written. */
export interface AfterSubmit {
  /** What is said; `{#column id}` gives an answer, and people write `{Heading}`. */
  readonly message?: string;
  /** What stays in its field for the next record: all, or the fields with these ids. */
  readonly keep?: 'all' | readonly string[];
  /** Where one goes; absent, on to the next record. */
  readonly then?: 'record' | 'close';
}

export interface FormDefinition<F = string> {
  readonly blocks: readonly Block<F>[];
  readonly look?: FormLook;
  readonly entering?: Entering;
  readonly after?: AfterSubmit;
  /** Lines of comment at the end of the outline. */
  readonly remark?: string;
}

/** Columns by id, with which a form's fields find theirs. */
export type ColumnsById = ReadonlyMap<string, Column>;

/** How much may stand on one form. */
export const MOST_BLOCKS = 1500;

/** Whether a block writes columns. */
export function isEntry<F>(block: Block<F>): block is FieldBlock<F> | GroupBlock<F> {
  return block.is === 'field' || block.is === 'group';
}

/** The columns a block writes. */
export function columnIdsOf<F>(block: Block<F>): string[] {
  if (block.is === 'field') return [block.columnId];
  return block.is === 'group' ? block.members.map(({ columnId }) => columnId) : [];
}

/** What a block is called where one goes to it. */
export function labelOfBlock<F>(block: Block<F>, columns: ColumnsById): string {
  switch (block.is) {
    case 'field':
      return block.label ?? columns.get(block.columnId)?.heading ?? 'a field without a column';
    case 'group':
      return block.label;
    case 'heading':
    case 'note':
      return block.text;
    case 'picture':
      return block.alt || 'Picture';
    case 'message':
      return 'Live message';
    case 'page':
      return block.title;
    case 'divider':
      return 'Divider';
  }
}
