import type { Cells, CellValue } from '../values';

/**
 * A mark held with the cells of a record that was written to try a form. It is no column's, so
 * that nothing shows it as a value, and it goes wherever the record's cells go.
 */
export const TRIAL_MARK = '~trial';

export const isTrial = (cells: Cells): boolean => cells[TRIAL_MARK] === true;

export const asTrial = (cells: Cells): Record<string, CellValue> => ({
  ...cells,
  [TRIAL_MARK]: true,
});
