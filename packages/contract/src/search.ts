import { MOST_ORDERED, STRICTNESSES, type Strictness } from '@varn/core';
import { Type } from 'class-transformer';
import {
  ArrayMaxSize,
  IsArray,
  IsBoolean,
  IsIn,
  IsInt,
  IsNotEmpty,
  IsNumber,
  IsOptional,
  IsString,
  IsUUID,
  MaxLength,
  ValidateNested,
} from 'class-validator';
import { IsCount, IsName, IsTextMap } from './decorators';
import { LONGEST_CONDITION } from './limits';
import { flag, list, parts, text } from './shape';
import { RecordView } from './sheets';

/** The longest words that are read. */
export const LONGEST_WORDS = 300;
/** The most conditions of one question. */
export const MOST_CONDITIONS = 100;

/** The longest question as an address. */
export const LONGEST_ADDRESS = 10_000;

/** A condition on one column, as people write it. */
export class FilterView {
  @IsString() @MaxLength(64) columnId!: string;
  @IsString() @MaxLength(LONGEST_CONDITION) says!: string;
}

/** Which records are meant: words that each holds in any column, and conditions. All must hold. */
export class QuestionView {
  @IsOptional() @IsString() @MaxLength(LONGEST_WORDS) text?: string;
  @IsArray()
  @ArrayMaxSize(MOST_CONDITIONS)
  @ValidateNested({ each: true })
  @Type(() => FilterView)
  filters!: FilterView[];
}

/** A question as it stands in an address, as JSON: its parts, and no others. */
export const viewShape = parts({
  'text?': text(LONGEST_WORDS),
  'filters?': list(
    parts({ columnId: text(LONGEST_WORDS), says: text(LONGEST_CONDITION) }),
    MOST_CONDITIONS,
  ),
  'order?': list(parts({ columnId: text(LONGEST_WORDS), 'falling?': flag }), MOST_ORDERED),
});

/** One thing a question asks, and how many records are left with it and those before it. */
export class QuestionPartView {
  /** The column it is about; `null` for words in any. */
  @IsOptional() @IsString() columnId!: string | null;
  /** `pH is at least 8`. */
  @IsString() says!: string;
  @IsInt() count!: number;
}

/** A condition that can't be read. */
export class QuestionProblem {
  @IsString() columnId!: string;
  /** What is wrong with it and what to do. */
  @IsString() message!: string;
}

/** How many records a question finds, said as a sentence. */
export class CountsView {
  @IsInt() count!: number;
  /** How many records the sheet holds. */
  @IsInt() of!: number;
  /** `Samples where River is Ash Beck and pH is at least 8`. */
  @IsString() says!: string;
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => QuestionPartView)
  parts!: QuestionPartView[];
  /** What of it can't be read: while anything can't, no record is counted. */
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => QuestionProblem)
  problems!: QuestionProblem[];
}

/** Words to look for in all columns of the records; the best few are told. */
export class SearchRecords {
  @IsString() @MaxLength(LONGEST_WORDS) text!: string;
  @IsCount(1, 50) most!: number;
}

/** A record, and where it stands. */
export class RecordPlaceView {
  @ValidateNested() @Type(() => RecordView) record!: RecordView;
  /** The grid's row, from 1. */
  @IsInt() row!: number;
  /** Its position among the records, from 0. */
  @IsInt() position!: number;
  /** How many records there are. */
  @IsInt() count!: number;
}

/** A record, by what people call it. */
export class NamedRecordView {
  @IsString() id!: string;
  @IsString() name!: string;
  /** The grid's row, from 1. */
  @IsInt() row!: number;
}

export class FoundRecordView {
  @ValidateNested() @Type(() => RecordView) record!: RecordView;
  @IsInt() row!: number;
  /** Whether its key is what was looked for. */
  @IsOptional() @IsBoolean() byKey?: boolean;
}

/** The best of the records that hold what was looked for: by their key first, then the newest. */
export class FoundRecordsView {
  @IsInt() count!: number;
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => FoundRecordView)
  found!: FoundRecordView[];
}

/** Cells as typed, by column id, of a record that is not written yet. */
export class TypedCells {
  @IsTextMap() answers!: Record<string, string>;
}

/** The record that has a key, if one does. */
export class KnownRecordView {
  @IsOptional() @ValidateNested() @Type(() => NamedRecordView) record?: NamedRecordView;
}

/** What was written today, of the workbook's zone, and stands. */
export class TodayView {
  /** By whoever asks, and by all. */
  @IsInt() mine!: number;
  @IsInt() all!: number;
  /** The last few of one's own, the newest first. */
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => NamedRecordView)
  last!: NamedRecordView[];
}

/** Keeps a question under a name, for oneself or for everyone in the workbook. */
export class KeepQuestion {
  @IsName('The name of the question') name!: string;
  /** As the query of an address: its conditions, order and columns. */
  @IsString() @IsNotEmpty() @MaxLength(LONGEST_ADDRESS) address!: string;
  @IsBoolean() isShared!: boolean;
}

/** Which records are meant all at once, and how many whoever asks saw of them. */
export class MatchesView {
  /** A question as the rows of a view take it: JSON with `text` and `filters`. */
  @IsString() @MaxLength(10_000) view!: string;
  @IsInt() count!: number;
}

/** What one column of all matches is to become. */
export class NewValue extends MatchesView {
  @IsString() @MaxLength(64) columnId!: string;
  /** As typed; `''` clears, and behind `=` stands a formula over each record. */
  @IsString() @MaxLength(10_000) text!: string;
  /** Whether what is only asked about is meant. */
  @IsOptional() @IsBoolean() takesAsked?: boolean;
}

/** Changes one column of all matches, as one write. */
export class ChangeMatches extends NewValue {
  @IsUUID() writeId!: string;
}

/** Sends all matches to the bin, as one write. */
export class RemoveMatches extends MatchesView {
  @IsUUID() writeId!: string;
}

/** What would become of one record. */
export class MatchPreview {
  @IsInt() row!: number;
  @IsString() before!: string;
  @IsString() after!: string;
}

/** A record that stays as it is while others are changed, and why. */
export class LeftRecord {
  @IsInt() row!: number;
  /** What people call it. */
  @IsString() name!: string;
  /** The value it was to have. */
  @IsString() text!: string;
  @IsString() message!: string;
  /** What is only asked about can be meant. */
  @IsIn(STRICTNESSES) strictness!: Strictness;
}

/** What a change of one column in many records would come to. */
export class ManyPreview {
  /** How many would be changed; those that hold the value already are left as they are. */
  @IsInt() changed!: number;
  /** How many stay as they are, asked about and refused, and the first of them. */
  @IsInt() asked!: number;
  @IsInt() refused!: number;
  @IsArray() @ValidateNested({ each: true }) @Type(() => LeftRecord) left!: LeftRecord[];
}

/** What a change of all matches would do, and to the first of them. */
export class MatchesPreview extends ManyPreview {
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => MatchPreview)
  first!: MatchPreview[];
}

/** A text that is to stand in place of another in the cells of records. */
export class ReplaceText {
  /** What is looked for, whatever its case, in the text one would type to get a cell again. */
  @IsString() @IsNotEmpty() @MaxLength(500) text!: string;
  @IsString() @MaxLength(500) by!: string;
  /** The view whose records are meant; all where absent. */
  @IsOptional() @IsString() @MaxLength(10_000) view?: string;
  /** Whether what is only asked about is meant. */
  @IsOptional() @IsBoolean() takesAsked?: boolean;
}

/** What it would come to. */
export class ReplacePreview extends ManyPreview {
  /** In how many cells the text stands. */
  @IsInt() cells!: number;
}

/** Puts a text in place of another, as one write. */
export class ReplaceAll extends ReplaceText {
  @IsUUID() writeId!: string;
  /** In how many cells it stood when it was looked at. */
  @IsCount() cells!: number;
}

/** How far a large write has come. */
export class UnderwayView {
  /** From 0 to 1; `null` where it is not under way, or not one’s own. */
  @IsOptional() @IsNumber() share!: number | null;
}

/** What was done to many records at once; the write id takes it back. */
export class ManyChanged {
  @IsString() writeId!: string;
  @IsInt() changed!: number;
  /** How many stayed as they were. */
  @IsInt() left!: number;
}
