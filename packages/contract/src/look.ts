import { IsOptional } from 'class-validator';
import { IsCount, IsMapOf } from './decorators';
import { LEAST_WIDTH, MOST_LINES, MOST_WIDTH, TOTALS, type Total } from './limits';

const isWidth = (value: unknown): boolean =>
  typeof value === 'number' && value >= LEAST_WIDTH && value <= MOST_WIDTH;

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
}
