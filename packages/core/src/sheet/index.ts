export { type ColumnCondition, ConditionalTotals, type TotalsMet } from './conditionalTotals';
export { type ColumnFigures, FigureSum } from './figures';
export {
  CELL_BACKS,
  type CellBack,
  type CellStyle,
  type CellStyleChange,
  type FreeCell,
  type FreeCells,
  type FreeRow,
  FreeRows,
  isBlankCell,
  restyled,
} from './freeRows';
export { type HeldValue, heldValues, heldValuesIn, isUnique } from './heldValues';
export { type KeyChange, keyColumnsOf, keyConflicts, keyOf } from './keyIndex';
export { usualLength } from './lengths';
export { isHeadingFree, type RecordBlock, rowOfPosition } from './place';
export { readFree } from './readFree';
export { type Series, seriesOf } from './series';
export { type Growing, ORDER_GAP, SheetModel, type StoredRecord } from './sheetModel';
export { type Grading, type KnownOfNumbers, type Scan, type Sure, ToldNumbers } from './scan';
export { TouchedSlots } from './touchedSlots';
export { asTrial, isTrial, TRIAL_MARK } from './trial';
