import { CELL_BACKS, type CellBack } from '@varn/core';
import { IsOptional } from 'class-validator';
import { IsCount, IsMapOf } from './decorators';
import { list, one, parts, text } from './shape';
import {
  LEAST_WIDTH,
  LONGEST_CONDITION,
  MOST_LINES,
  MOST_MARKS,
  MOST_WIDTH,
  TOTALS,
  type Total,
} from './limits';

const isWidth = (value: unknown): boolean =>
  typeof value === 'number' && value >= LEAST_WIDTH && value <= MOST_WIDTH;

/** What makes cells of a column stand out, by a sign and a background. */
export interface CellMark {
  readonly back: CellBack;
  /** The condition it is for; where absent, values that break a rule of the column. */
  readonly says?: string;
}

const marksShape = list(
  parts({ back: one(...CELL_BACKS), 'says?': text(LONGEST_CONDITION) }),
  MOST_MARKS,
);

/** How a sheet is looked at by everyone. */
export class SheetLook {
  /** Widths of columns in pixels, by id. */
  @IsOptional()
  @IsMapOf(`widths of ${LEAST_WIDTH} to ${MOST_WIDTH} pixels`, isWidth)
  widths?: Readonly<Record<string, number>>;
  /** How many columns stay when the others scroll. */
  @IsOptional() @IsCount(0, 20) frozenColumns?: number;
  /** How many lines of text a row shows. */
  @IsOptional() @IsCount(1, MOST_LINES) rowLines?: number;
  /** What the pinned row shows, by column id. */
  @IsOptional()
  @IsMapOf(`of ${TOTALS.join(', ')}`, (value) => TOTALS.includes(value as Total))
  totals?: Readonly<Record<string, Total>>;
  /** Which cells stand out, by column id; the first mark that holds is the one that is shown. */
  @IsOptional()
  @IsMapOf(`at most ${MOST_MARKS} marks`, (value) => marksShape(value) === null)
  marks?: Readonly<Record<string, readonly CellMark[]>>;
}
