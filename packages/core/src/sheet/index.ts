export { FigureSum } from './figures';
export { type FreeCell, type FreeCells, type FreeRow, FreeRows, isBlankCell } from './freeRows';
export { heldValues, heldValuesIn } from './heldValues';
export { type KeyChange, keyColumnsOf, keyConflicts } from './keyIndex';
export { usualLength } from './lengths';
export { isHeadingFree, type RecordBlock, rowOfPosition } from './place';
export { readFree } from './readFree';
export { type Growing, ORDER_GAP, SheetModel, type StoredRecord } from './sheetModel';
export { asTrial, isTrial } from './trial';
