import type { Rule } from '@varn/core';
import { Type } from 'class-transformer';
import { IsArray, IsInt, IsObject, IsString, ValidateNested } from 'class-validator';
import { IsName, IsRules } from './decorators';

/** Rules of a column as they would be. */
export class TryRules {
  @IsRules() rules!: Rule[];
}

/** A word that admits, as it is put under a name. */
export class PutSecretWord {
  @IsName('The name of the word') name!: string;
  @IsName('The word') word!: string;
}

/** The names under which words are kept; the words themselves are told to nobody. */
export class SecretWordsView {
  @IsString({ each: true }) names!: string[];
}

/** A record whose stored value breaks a rule. */
export class BrokenRecordView {
  @IsString() recordId!: string;
  /** The grid's row, from 1. */
  @IsInt() row!: number;
  /** The value, as it is shown. */
  @IsString() text!: string;
  /** What is said of it, of each rule it breaks. */
  @IsString({ each: true }) says!: string[];
}

/** Which stored values break rules. */
export class BrokenView {
  /** For each rule, in how many records it is broken. */
  @IsInt({ each: true }) counts!: number[];
  /** How many records break any. */
  @IsInt() records!: number;
  /** The first of them. */
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => BrokenRecordView)
  first!: BrokenRecordView[];
}

/** A rule that nearly all stored values follow. */
export class SuggestedRuleView {
  @IsObject() rule!: Rule;
  /** How many values were looked at. */
  @IsInt() values!: number;
  /** How many of them break it. */
  @IsInt() exceptions!: number;
}

/** Rules that a column's stored values follow, and that it does not have. */
export class SheetProblems {
  @IsString() sheetId!: string;
  /** Stored values that break rules of their column. */
  @IsInt() values!: number;
}

/** Where values break rules in a workbook; sheets without such values are left out. */
export class ProblemsView {
  @IsArray() @ValidateNested({ each: true }) @Type(() => SheetProblems) sheets!: SheetProblems[];
}

export class SuggestedRulesView {
  @IsArray()
  @ValidateNested({ each: true })
  @Type(() => SuggestedRuleView)
  suggestions!: SuggestedRuleView[];
}
