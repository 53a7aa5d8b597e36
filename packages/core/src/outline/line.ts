import type {
  ControlDetails,
  ControlId,
  FieldSettings,
  GroupShape,
  Limits,
  StartingValue,
} from '../forms';
import type { Piece } from './pieces';
import type { Column, ColumnSettings, KindId, ListSettings } from '../kinds';
import type { RuleWord } from '../rules';

/** A rule as a line says it, not read yet. */
export interface RulePiece {
  readonly word: RuleWord;
  readonly rest: Piece;
}

type Writable<T> = { -readonly [Name in keyof T]: T[Name] };

/** What a line of the outline says of a field, while it is read. */
export interface LineDraft {
  readonly kind: KindId;
  readonly control: ControlId | undefined;
  readonly settings: Writable<ColumnSettings<never>>;
  readonly details: Writable<ControlDetails>;
  readonly field: Writable<Omit<FieldSettings, 'control' | 'details' | 'label' | 'rules'>>;
  /** What feeds its choices; columns in it are told by their headings. */
  list?: Writable<ListSettings>;
  heading?: string;
  /** Rules of its column, and of the field alone, read once all lines are. */
  rules?: RulePiece[];
  ownRules?: RulePiece[];
  formula?: string;
  shownWhen?: string;
  shape?: GroupShape;
  /** How often a field is repeated, where its members are not listed. */
  times?: number;
  /** Whether no answer may stand in it twice. */
  different?: true;
}

/** What is said of a field, as it is written down. */
export interface LineEntry {
  readonly column: Column<string>;
  /** The heading of another column of the sheet, by its id. */
  readonly headingOf: (columnId: string) => string;
  readonly columns: ReadonlyMap<string, Column<string>>;
  readonly control: ControlId | undefined;
  readonly details: ControlDetails;
  readonly field: FieldSettings;
  readonly limits: Limits;
  readonly start: StartingValue | undefined;
  readonly shownWhen: string | undefined;
  /** The column's heading where the line calls it otherwise. */
  readonly heading: string | undefined;
  readonly shape: GroupShape | undefined;
  readonly times: number | undefined;
  readonly different: boolean;
}

/** Something a line can say of its field behind the kind. */
export interface Attribute {
  /** The words it begins with. */
  readonly words: string;
  /** What else people begin it with. */
  readonly also?: readonly string[];
  /** Brings what stands behind the words into the draft. */
  read(rest: Piece, draft: LineDraft): void;
  /** How it is written, or `null` where there is nothing to say. */
  write(entry: LineEntry): string | null;
}
