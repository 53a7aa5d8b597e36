import type { Column, KindId } from '../../kinds';
import type { CellValue, Problem } from '../../values';

export const CONTROL_IDS = [
  'line',
  'lines',
  'number',
  'date',
  'dateLists',
  'time',
  'moment',
  'dropdown',
  'radio',
  'boxes',
  'yesNo',
  'checked',
  'steps',
  'scale',
  'pictures',
  'file',
  'shown',
] as const;

/** What a field lets people answer with. Adding one is a file in this folder and its line in the table. */
export type ControlId = (typeof CONTROL_IDS)[number];

/** What can be said of a control beyond what it is. Each control takes some of it. */
export interface ControlDetails {
  /** How many lines of text it shows. */
  readonly lines?: number;
  /** By how much a number goes up and down. */
  readonly step?: number;
  /** The first and last of steps, or of a scale. */
  readonly from?: number;
  readonly to?: number;
  /** Steps drawn as figures, not as marks. */
  readonly figures?: true;
  /** What the ends of a scale mean. */
  readonly ends?: readonly [string, string];
  /** Choices in a row, not in a stack. */
  readonly inRow?: true;
  /** Pictures of choices, by choice: the id of a file. */
  readonly pictures?: Readonly<Record<string, string>>;
  /** A choice's picture is shown once it is chosen. */
  readonly follows?: true;
  /** Which files are taken, and how large at most, in megabytes. */
  readonly accepts?: 'images' | 'documents';
  readonly most?: number;
  /** Offers what the column holds already. */
  readonly suggests?: true;
}

export interface Control {
  readonly id: ControlId;
  /** What it is called where it is chosen. */
  readonly label: string;
  /** The kinds of column it can fill. */
  readonly kinds: readonly KindId[];
  /** Which of the details it takes. */
  readonly takes: readonly (keyof ControlDetails)[];
  /** How many characters its own parts take beside what is typed. */
  readonly ownCharacters: number;
  /** How many parts of a row it takes whatever the column holds, where that is so. */
  readonly span?: number;
  /** What keeps a value of the column's kind from being an answer here. */
  check?(value: Exclude<CellValue, null>, details: ControlDetails, column: Column): Problem | null;
}
