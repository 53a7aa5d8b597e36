import type { NumberFormat } from '../format';
import type { Cells, CellValue, LocaleFacts, Reading } from '../values';
import { mapList, type Listed, type ListSettings } from './list';
import type { Rule } from './rule';

export const KIND_IDS = [
  'text',
  'wholeNumber',
  'number',
  'money',
  'date',
  'time',
  'moment',
  'yesNo',
  'oneChoice',
  'severalChoices',
  'email',
  'phone',
  'webAddress',
  'file',
  'computed',
  'runningNumber',
  'writtenAt',
  'writtenBy',
  'door',
] as const;

/** What a column holds. Adding one is a file in this folder and its line in `index.ts`. */
export type KindId = (typeof KIND_IDS)[number];

/** What people type to fill a cell of a kind; `none` where nobody types. */
export type Typing = 'line' | 'number' | 'date' | 'time' | 'yesNo' | 'choice' | 'none';

/** What is set of a column. `F` is its formula: a text as people write it, or one by identity. */
export interface ColumnSettings<F = unknown> extends NumberFormat {
  /** The choices of a choice column, in the order they are offered. */
  readonly choices?: readonly string[];
  /** What feeds the choices, where they are not typed. */
  readonly list?: ListSettings<F>;
  /** Whether answers beside the choices are taken, and what is put before them to tell them apart. */
  readonly own?: string;
  /** What stands between several choices in one cell; `; ` where it says nothing. */
  readonly separator?: string;
  /** What may be stored in it, whatever way it comes. */
  readonly rules?: readonly Rule[];
  /** Whether people tell records apart by this column. */
  readonly key?: boolean;
  /** What stands inside the field's right edge: `°C`, `mg/L`. */
  readonly unit?: string;
  /** A running number's pattern: `RW-00000` gives `RW-00001`. */
  readonly pattern?: string;
  /** How dates and times are shown: a number format code of ISO/IEC 29500, `d mmm yyyy`. */
  readonly datePattern?: string;
  /** Whose phone numbers may be typed without a country code: ISO 3166-1, two letters. */
  readonly country?: string;
  /** Of a computed column or cell, and of choices that are fed: the kind its values are shown as. */
  readonly shownAs?: KindId;
  /** Of a computed column: its formula, the same for every record. */
  readonly formula?: F;
  /** Whether its values follow at once from what they are computed of; else as of writing. */
  readonly follows?: boolean;
}

/** Settings as people give them: a formula has a way of its own, a list is told by its texts. */
export type GivenSettings = Omit<ColumnSettings<string>, 'formula'>;

/**
 * A column of a record block. Its id is permanent: heading and place may change. `F` is the formula
 * it carries; who reads, shows or stores values takes a column with any.
 */
export interface Column<F = unknown> {
  readonly id: string;
  readonly heading: string;
  readonly kind: KindId;
  readonly settings: ColumnSettings<F>;
}

/**
 * The same column with its formulas written in another way.
 *
 * @param write is given the source too for what a list says of a row of it
 */
export function mapColumn<F, G>(
  column: Column<F>,
  write: (formula: F, source?: F) => G,
): Column<G> {
  const { formula, list, ...settings } = column.settings;
  return {
    ...column,
    settings: {
      ...settings,
      ...(formula !== undefined && { formula: write(formula) }),
      ...(list && { list: mapList(list, write) }),
    },
  };
}

/** A computed column as one of the kind its values are shown as; others as they are. */
export const asShown = (column: Column): Column =>
  column.kind === 'computed' ? { ...column, kind: column.settings.shownAs ?? 'number' } : column;

/** A column without the formula it carries, and without what feeds its choices. */
export function withoutFormula(column: Column): Column<never> {
  const { formula: _formula, list: _list, ...settings } = column.settings;
  return { ...column, settings };
}

/** What reading typed text needs to know of the workbook and the moment. */
export interface ReadingContext {
  readonly locale: LocaleFacts;
  /** The serial of now in the workbook's time zone; its whole part is today. */
  readonly now: number;
  /**
   * Whether the text stands in a file or another column, and says no more than what is written:
   * a bare `24` is no day, `ab3` no AB-03.
   */
  readonly asWritten?: boolean;
  /** The list that feeds a column's choices, by its id; nothing where it is not at hand. */
  readonly listed?: (columnId: string) => Listed | undefined;
  /** What a record holds that is being changed, by column id: a choice that is gone may stay. */
  readonly held?: Cells | null;
  /** What the computed columns of the sheet come to; absent where it has none. */
  readonly computing?: Computing;
  /** Whether a text is the secret word of a name; absent in browsers, where any may be. */
  readonly admits?: Admits;
  /** Whether the workbook holds a file; absent in browsers, where any may be there. */
  readonly holdsFile?: (fileId: string) => boolean;
}

export type Admits = (name: string, text: string) => boolean;

/** What the computed columns of a sheet give for a record, and what of it they read. */
export interface Computing {
  readonly values: (cells: Cells) => Cells;
  /** Typed columns among which the answers are that a computed one comes of. */
  readonly reads: (columnId: string) => readonly string[];
  /** What is stored of them as of writing; `null` where one gives nothing. */
  readonly atWriting: (cells: Cells) => Cells;
}

/** What Varn fills in when a record is written. */
export interface WrittenFacts {
  readonly by: string;
  /** The serial of now in the workbook's zone. */
  readonly at: number;
  /** The form's name, or what else it comes through. */
  readonly door: string;
  /** Gives the next running number of a column; `null` for a trial record, which uses none up. */
  readonly nextNumber: ((columnId: string) => number) | null;
}

/** What is said of a column right behind its kind: `one of (a, b)`, `money EUR`, `text 2..40`. */
export type Tail =
  'limits' | 'lengths' | 'currency' | 'choices' | 'country' | 'pattern' | 'formula';

export interface Kind {
  readonly id: KindId;
  /** The kind's name, as people read it. */
  readonly label: string;
  readonly align: 'start' | 'end';
  /** Who fills a cell of this kind. */
  readonly filledBy: 'people' | 'varn' | 'formula';
  /** What Varn puts into a new record's cell; `null` leaves it blank. */
  readonly fill?: (column: Column, facts: WrittenFacts) => CellValue;
  /** What may stand behind the kind's words in an outline; limits where it says nothing. */
  readonly tail?: Tail;
  readonly typing: Typing;
  /** The type of value a cell of this kind holds. */
  readonly holds: 'string' | 'number' | 'boolean' | 'any';
  /** Whether the stored numbers are serials that the API writes as ISO 8601. */
  readonly iso?: 'date' | 'time' | 'moment';
  /** How many characters a value takes when nothing is stored yet. */
  readonly usualLength: number;
  /** Reads typed text into a value to store. */
  read(text: string, column: Column, context: ReadingContext): Reading;
  /** Writes a stored value as people read it, and as `read` reads it back. */
  readonly show: (value: Exclude<CellValue, null>, column: Column, locale: LocaleFacts) => string;
  /** Writes it by the column's format, where that is another way; it may not read back. */
  format?(value: Exclude<CellValue, null>, column: Column, locale: LocaleFacts): string;
}
