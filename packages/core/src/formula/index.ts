export { Calculation } from './calculation/calculation';
export { type GridSheet, type LostColumn, SheetGrid } from './calculation/sheetGrid';
export { callProblem } from './check';
export { type Code, compile, type Sources, NO_RECORD } from './compile';
export { type Area, isArea, type Value } from './functions/area';
export { Budget, stepsTaken, withinBudget } from './functions/budget';
export { compareValues } from './functions/convert';
export type { Moment } from './functions/define';
export { FUNCTIONS } from './functions/table';
export { textTest } from './functions/wildcards';
export {
  ERROR_CODES,
  type Expression,
  FormulaError,
  type FormulaProblem,
} from './grammar/expression';
export { DEEPEST, parseWritten } from './grammar/parser';
export { walk } from './grammar/tree';
export { helpAt, moveFormula, type Offer, referencesIn, type ReferenceSpan } from './help';
export {
  checkLimits,
  type LimitClass,
  limitsFormula,
  type LimitsProblem,
  readLimits,
} from './limits';
export {
  bindList,
  type BoundList,
  listWriter,
  sourceColumn,
  sourceKind,
  sourceSheet,
} from './listFormulas';
export { Condition, orderingsIn } from './outcomes';
export {
  bindFormula,
  type Directory,
  parseFormula,
  type RangeName,
  writeFormula,
} from './references/bind';
export { withHeadings } from './references/bareHeadings';
export type {
  StoredColumn,
  StoredFormula,
  StoredFreeCell,
  StoredFreeCells,
  StoredFreeRow,
  StoredFreeRows,
} from './references/reference';
export { type Deletable, type Use, useOf } from './references/uses';
export {
  moveReference,
  printReference,
  printSheetName,
  type WrittenReference,
} from './references/written';
export { resultKind } from './resultKind';
export { typeWarnings } from './typeWarnings';
