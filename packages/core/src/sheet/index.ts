export { FigureSum, type ColumnFigures } from './figures';
export * from './freeRows';
export { heldValues, heldValuesIn, type HeldValue } from './heldValues';
export { usualLength } from './lengths';
export { readFree, type FreeReading } from './readFree';
export { keyColumnsOf, keyConflicts, KeyIndex, type KeyChange, type KeyConflict } from './keyIndex';
export * from './place';
export { ORDER_GAP, SheetModel, type Growing, type StoredRecord } from './sheetModel';
export { asTrial, isTrial } from './trial';
