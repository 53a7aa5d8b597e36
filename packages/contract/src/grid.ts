import {
  CELL_BACKS,
  KIND_IDS,
  STRICTNESSES,
  type CellBack,
  type CellValue,
  type ColumnSettings,
  type GivenSettings,
  type ErrorReason,
  type KindId,
  type Strictness,
} from '@varn/core';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNumber,
  IsObject,
  IsOptional,
  IsString,
  IsUUID,
  MaxLength,
  ValidateNested,
} from 'class-validator';
import {
  IsCount,
  IsName,
  IsSettings,
  IsTextMap,
  MOST_COLUMNS,
  settingsProblem,
} from './decorators';
import { LONGEST_CELL, LAST_FREE_ROW, MOST_WRITTEN_ROWS } from './limits';
import {
  flag,
  list,
  mapOf,
  one,
  parts,
  Shaped,
  string,
  textMap,
  uuid,
  whole,
  type Shape,
} from './shape';
import { SheetLook } from './look';
import { CellNote, Landed, MOST_ROWS } from './sheets';

/** New texts of some cells of a record, by column id; '' clears a cell. */
export class RecordEdit {
  @IsString() id!: string;
  /** The revision of the record that was looked at. */
  @IsInt() revision!: number;
  @IsTextMap() answers!: Record<string, string>;
  /** Columns whose answers are meant, although they were asked about. */
  @IsOptional() @IsString({ each: true }) @ArrayMaxSize(MOST_COLUMNS) meant?: string[];
}

/** A record begun in the grid, written when its row is left. */
export class NewRecord {
  @IsTextMap() answers!: Record<string, string>;
  @IsOptional() @IsString({ each: true }) @ArrayMaxSize(MOST_COLUMNS) meant?: string[];
  /** The record it is put above; at the end when absent. */
  @IsOptional() @IsString() above?: string;
}

/** New texts of cells in a row outside of the records, by column from 0; '' clears a cell. */
export class FreeRowEdit {
  /** The grid's row, from 1. */
  @IsCount(1, LAST_FREE_ROW) row!: number;
  /** The row's revision that was looked at; absent where there was no such row yet. */
  @IsOptional() @IsInt() revision?: number;
  @IsTextMap() cells!: Record<string, string>;
  /** How the cells of these columns are shown from now on: by column from 0, or `null` for as it is. */
  @IsOptional() @IsObject() shown?: Record<string, CellLook | null>;
  /** What changes in how the cells of these columns stand out. */
  @IsOptional() @IsObject() styles?: Record<string, CellStyleChange>;
}

/** A change of how a cell outside of the records stands out; what is absent stays. */
export class CellStyleChange {
  @IsOptional() @IsBoolean() strong?: boolean;
  @IsOptional() @IsBoolean() heading?: boolean;
  @IsOptional() @IsBoolean() wrapped?: boolean;
  /** '' takes the background away. */
  @IsOptional() @IsIn([...CELL_BACKS, '']) back?: CellBack | '';
}

/** How a cell outside of the records stands out. */
export class CellStyleView {
  @IsOptional() @IsIn([true]) strong?: true;
  @IsOptional() @IsIn([true]) heading?: true;
  @IsOptional() @IsIn([true]) wrapped?: true;
  @IsOptional() @IsIn(CELL_BACKS) back?: CellBack;
}

/** How a cell outside of the records is shown. */
export class CellLook {
  @IsIn(KIND_IDS) kind!: KindId;
  @IsOptional() @IsSettings() settings?: ColumnSettings<never>;
}

const settings: Shape = (value) => {
  const problem = settingsProblem(value);
  return problem === null ? null : ` ${problem}`;
};
const look: Shape = (value) =>
  value === null ? null : parts({ kind: one(...KIND_IDS), 'settings?': settings })(value);
const cellStyle = parts({
  'strong?': flag,
  'heading?': flag,
  'wrapped?': flag,
  'back?': one(...CELL_BACKS, ''),
});
const written = (of: Shape): Shape => list(of, MOST_WRITTEN_ROWS);
const meant = list(string, MOST_COLUMNS);

/** Cells of one sheet, written together: typed, pasted or filled. */
@Shaped(
  parts({
    writeId: uuid,
    revision: whole(),
    'records?': written(
      parts({ id: string, revision: whole(), answers: textMap, 'meant?': meant }),
    ),
    'added?': written(parts({ answers: textMap, 'meant?': meant, 'above?': string })),
    'rows?': written(
      parts({
        row: whole(1, LAST_FREE_ROW),
        'revision?': whole(),
        cells: textMap,
        'shown?': mapOf(look),
        'styles?': mapOf(cellStyle),
      }),
    ),
    'partly?': flag,
  }),
)
export class EditCells {
  @IsUUID() writeId!: string;
  /** The sheet's revision that was looked at: rows and columns stand where they stood. */
  @IsInt() revision!: number;
  @IsOptional()
  @ArrayMaxSize(MOST_WRITTEN_ROWS)
  @ValidateNested({ each: true })
  @Type(() => RecordEdit)
  records?: RecordEdit[];
  @IsOptional()
  @ArrayMaxSize(MOST_WRITTEN_ROWS)
  @ValidateNested({ each: true })
  @Type(() => NewRecord)
  added?: NewRecord[];
  @IsOptional()
  @ArrayMaxSize(MOST_WRITTEN_ROWS)
  @ValidateNested({ each: true })
  @Type(() => FreeRowEdit)
  rows?: FreeRowEdit[];
  /** Whether cells that can't be written are left out, instead of refusing all. */
  @IsOptional() @IsBoolean() partly?: boolean;
}

/** A cell that was not written, and why. */
export class CellRefusal {
  /** Which list of the request it is in, and its place there. */
  @IsIn(['records', 'added', 'rows']) list!: 'records' | 'added' | 'rows';
  @IsInt() at!: number;
  /** The column's id, or in `rows` its place from 0. */
  @IsString() column!: string;
  @IsString() code!: string;
  @IsString() message!: string;
  /** It is only asked about: sent again as meant, it is written. */
  @IsIn(STRICTNESSES) strictness!: Strictness;
  /** Of a new record: the one that was written without it; none where the record was not. */
  @IsOptional() @IsString() recordId?: string;
  /** The grid's row of the record that stands in the way. */
  @IsOptional() @IsInt() row?: number;
  /** Of a formula: where in its text, sign `=` included. */
  @IsOptional() @IsInt() from?: number;
  @IsOptional() @IsInt() to?: number;
}

/** Where a row outside of the records landed. */
export class RowLanded {
  @IsString() rowId!: string;
  @IsInt() revision!: number;
}

/** What a write of the grid came to. */
export class Written {
  @IsString() writeId!: string;
  /** Sequence number of its last change; 0 when nothing was written. */
  @IsInt() seq!: number;
  @IsArray() @ValidateNested({ each: true }) @Type(() => Landed) records!: Landed[];
  @IsArray() @ValidateNested({ each: true }) @Type(() => RowLanded) rows!: RowLanded[];
  @IsArray() @ValidateNested({ each: true }) @Type(() => CellRefusal) refused!: CellRefusal[];
  /** A few of the values that a form of the sheet, or a rule, would not take. */
  @IsOptional() @IsArray() @ValidateNested({ each: true }) @Type(() => CellNote) notes?: CellNote[];
}

export class InsertRows {
  @IsUUID() writeId!: string;
  @IsInt() revision!: number;
  /** Above which row of the grid, from 1. */
  @IsCount(1, LAST_FREE_ROW) at!: number;
  @IsCount(1, 1000) count!: number;
}

export class RecordAt {
  @IsString() id!: string;
  @IsInt() revision!: number;
}

@Shaped(
  parts({
    writeId: uuid,
    revision: whole(),
    records: written(parts({ id: string, revision: whole() })),
    rows: written(whole()),
  }),
)
export class RemoveRows {
  @IsUUID() writeId!: string;
  @IsInt() revision!: number;
  @IsArray()
  @ArrayMaxSize(MOST_WRITTEN_ROWS)
  @ValidateNested({ each: true })
  @Type(() => RecordAt)
  records!: RecordAt[];
  /** Rows outside of the records, by their number from 1. */
  @IsArray() @ArrayMaxSize(MOST_WRITTEN_ROWS) @IsInt({ each: true }) rows!: number[];
}

export class MoveRows {
  @IsUUID() writeId!: string;
  @IsInt() revision!: number;
  /** Free rows by their number, or records by their id: never both. */
  @IsArray() @ArrayMaxSize(1000) @IsInt({ each: true }) rows!: number[];
  @IsArray()
  @ArrayMaxSize(1000)
  @ValidateNested({ each: true })
  @Type(() => RecordAt)
  records!: RecordAt[];
  /** The grid's row they go above, from 1. */
  @IsCount(1) above!: number;
}

/** One cell outside of the records. */
export class FreeCellView {
  value!: CellValue;
  /** Why the value is an error. */
  @IsOptional() why?: ErrorReason;
  /** As people write it, with its sign `=`. */
  @IsOptional() @IsString() formula?: string;
  @IsOptional() @IsIn(KIND_IDS) kind?: KindId;
  @IsOptional() @IsObject() settings?: ColumnSettings<never>;
  @IsOptional() @ValidateNested() @Type(() => CellStyleView) style?: CellStyleView;
  /** Whether an array that is written elsewhere covers it. */
  @IsOptional() @IsBoolean() covered?: boolean;
}

export class FreeRowView {
  /** '' where the row holds nothing but what an array puts there. */
  @IsString() id!: string;
  @IsInt() revision!: number;
  /** By column from 0; `null` where nothing stands. */
  @IsArray() cells!: (FreeCellView | null)[];
}

export class FreeRowsView {
  /** Position of the first row, from 0. */
  @IsInt() from!: number;
  /** How many rows there are, with those an array covers. */
  @IsInt() count!: number;
  @IsArray() @ValidateNested({ each: true }) @Type(() => FreeRowView) rows!: FreeRowView[];
  /** Whether formulas are being computed: results stand as last known, and their event follows. */
  @IsOptional() @IsBoolean() computing?: boolean;
}

export class FreeRowsQuery {
  @Type(() => Number) @IsCount() from!: number;
  @Type(() => Number) @IsCount(1, MOST_ROWS) count!: number;
}

/** A rectangle of cells: rows outside of the records by number, or records of the view by position. */
export class CellBox {
  @IsIn(['free', 'records']) part!: 'free' | 'records';
  /** The first row (a number from 1, or a position from 0) and the one past the last. */
  @IsCount() from!: number;
  @IsCount() to!: number;
  /** The first column, from 0, and the one past the last. */
  @IsCount() left!: number;
  @IsCount() right!: number;
}

/** Which cells one wants the figures of. */
export class AskFigures {
  @IsArray()
  @ArrayMaxSize(100)
  @ValidateNested({ each: true })
  @Type(() => CellBox)
  boxes!: CellBox[];
  @IsOptional() @IsString() @MaxLength(10_000) view?: string;
}

/** Figures of some cells. */
export class FiguresView {
  /** Cells that hold anything, and those that hold a number. */
  @IsInt() filled!: number;
  @IsInt() numbers!: number;
  @IsNumber() sum!: number;
  /** Of the numbers; absent where there is none. */
  @IsOptional() @IsNumber() mean?: number;
  @IsOptional() @IsNumber() least?: number;
  @IsOptional() @IsNumber() most?: number;
}

export class FoundPlace {
  @IsIn(['free', 'records']) part!: 'free' | 'records';
  /** A row's number from 1, or a record's position in the view from 0. */
  @IsCount() row!: number;
  @IsCount() column!: number;
}

/** A text to be found in what the cells of a sheet show. */
export class FindText {
  @IsString() @MaxLength(500) text!: string;
  /** The cell after which the search begins; from the first on when absent. */
  @IsOptional() @ValidateNested() @Type(() => FoundPlace) after?: FoundPlace;
  /** Whether it is looked for before that cell. */
  @IsOptional() @IsBoolean() back?: boolean;
  @IsOptional() @IsString() @MaxLength(10_000) view?: string;
}

export class FoundView {
  /** The next cell that shows the text, after the last one the first again; `null` for none. */
  @IsOptional() @ValidateNested() @Type(() => FoundPlace) cell!: FoundPlace | null;
  /** How many cells show it, and which of them this is, from 1; of very large sheets not counted. */
  @IsOptional() @IsInt() count?: number;
  @IsOptional() @IsInt() nth?: number;
}

/** A formula that is being typed. */
export class CheckFormula {
  @IsString() @MaxLength(LONGEST_CELL) text!: string;
  /** The column it is for; absent for a cell outside of the records. */
  @IsOptional() @IsString() columnId?: string;
}

/** What stands in the way of a formula, or what to look at again. */
export class FormulaNote {
  @IsString() message!: string;
  @IsInt() from!: number;
  @IsInt() to!: number;
  @IsIn(STRICTNESSES) strictness!: Strictness;
}

export class FormulaView {
  @IsArray() @ValidateNested({ each: true }) @Type(() => FormulaNote) notes!: FormulaNote[];
  /** What it would give now, as it would show; for a column, of its first records. */
  @IsString({ each: true }) gives!: string[];
}

/** Another kind, format or formula for a column. */
export class ColumnChange {
  @IsOptional() @IsName('The heading') heading?: string;
  @IsOptional() @IsCount(0, MOST_COLUMNS) place?: number;
  @IsOptional() @IsIn(KIND_IDS) kind?: KindId;
  @IsOptional() @IsSettings() settings?: GivenSettings;
  /** The formula of a computed column, with or without its sign `=`. */
  @IsOptional() @IsString() @MaxLength(LONGEST_CELL) formula?: string;
  @IsOptional() @IsBoolean() follows?: boolean;
  @IsInt() revision!: number;
}

export class ConversionExample {
  @IsInt() row!: number;
  @IsString() from!: string;
  /** What it becomes; the sentence why not, where it is kept as it is. */
  @IsString() to!: string;
}

/** What another kind or formula would do to the stored values of a column. */
export class ConversionView {
  /** Values that stay what they are, that become others, and that can't be and are kept as text. */
  @IsInt() same!: number;
  @IsInt() converted!: number;
  @IsInt() kept!: number;
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => ConversionExample)
  examples!: ConversionExample[];
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => ConversionExample)
  problems!: ConversionExample[];
}

export class HeldValueView {
  @IsString() text!: string;
  /** In how many records it stands. */
  @IsInt() count!: number;
}

/** What a column holds, the most frequent first. */
export class ColumnValuesView {
  @IsArray() @ValidateNested({ each: true }) @Type(() => HeldValueView) values!: HeldValueView[];
  /** How many different ones there are; the first are told. */
  @IsInt() different!: number;
}

export class AddSheet {
  @IsUUID() writeId!: string;
  @IsName('The sheet’s name') name!: string;
  /** Headings of its records; none for a sheet of free cells. */
  @IsArray() @ArrayMaxSize(MOST_COLUMNS) @IsString({ each: true }) headings!: string[];
}

export class ChangeSheet {
  @IsOptional() @IsName('The sheet’s name') name?: string;
  @IsOptional() @IsCount(0, 1000) place?: number;
  @IsOptional() @ValidateNested() @Type(() => SheetLook) look?: SheetLook;
  /** The columns without a heading in their new order: ids, '' for one put in; others go. */
  @IsOptional() @IsString({ each: true }) @ArrayMaxSize(MOST_COLUMNS) looseColumns?: string[];
  @IsInt() revision!: number;
}

export class AddName {
  @IsUUID() writeId!: string;
  @IsName('The range’s name') name!: string;
  /** A range of the sheet as people write it: `B4:B9`, `B:B`, or a heading in apostrophes. */
  @IsString() @MaxLength(500) range!: string;
}

export class NameView {
  @IsString() id!: string;
  @IsString() name!: string;
  /** The range, with its sheet, as people write it. */
  @IsString() range!: string;
}

export class UndoEntry {
  @IsString() writeId!: string;
  /** What it was: "2 cells in Choices". */
  @IsString() says!: string;
}

/** What one could take back, and do again. */
export class UndoView {
  /** `null` where there is nothing. */
  @IsOptional() @ValidateNested() @Type(() => UndoEntry) undo!: UndoEntry | null;
  @IsOptional() @ValidateNested() @Type(() => UndoEntry) redo!: UndoEntry | null;
}

/** Something that uses what is to be deleted. */
export class UseView {
  /** What it is, by name. */
  @IsString() where!: string;
  /** What becomes of it. */
  @IsString() becomes!: string;
}

/** What uses a column, a sheet or a name. */
export class UsesView {
  @IsArray() @ValidateNested({ each: true }) @Type(() => UseView) uses!: UseView[];
  /** How many more there are. */
  @IsInt() more!: number;
  /** How many records hold a value in the column. */
  @IsInt() values!: number;
}

/** What is to be deleted: a column, a name, or without either the sheet. */
export class UsesQuery {
  @IsOptional() @IsString() columnId?: string;
  @IsOptional() @IsString() nameId?: string;
}
