export { compile, type Code, type Sources } from './compile';
export { callProblem } from './check';
export { mapReferences, walk } from './grammar/tree';
export {
  ArrayArea,
  eachValue,
  isArea,
  type Area,
  type Figures,
  type Value,
} from './functions/area';
export { compareValues, ERRORS, numberText } from './functions/convert';
export type { FunctionDefinition, Moment, ParameterInfo } from './functions/define';
export { helpAt, moveFormula, referencesIn, type CaretHelp, type ReferenceSpan } from './help';
export {
  checkLimits,
  limitsFormula,
  readLimits,
  type LimitClass,
  type LimitsProblem,
} from './limits';
export { typeWarnings, type TypeWarning } from './typeWarnings';
export { resultKind, type ShownAs } from './resultKind';
export { FUNCTIONS, nearFunction } from './functions/table';
export { withinBudget } from './functions/budget';
export { Condition, orderingsIn } from './outcomes';
export * from './grammar/expression';
export { lex, LONGEST_FORMULA, STORED_NOTATION, type Notation, type Token } from './grammar/lexer';
export { DEEPEST, parseStored, parseWritten } from './grammar/parser';
export { printFormula } from './grammar/print';
export { Calculation, type BookSheets, type Recalculated } from './calculation/calculation';
export { SheetGrid, type GridSheet, type LostColumn } from './calculation/sheetGrid';
export {
  bindFormula,
  parseFormula,
  writeFormula,
  type Bound,
  type Directory,
  type Home,
  type RangeName,
} from './references/bind';
export * from './references/reference';
export { useOf, type Deletable, type Use } from './references/uses';
export {
  moveReference,
  printReference,
  printSheetName,
  type WrittenCell,
  type WrittenReference,
} from './references/written';
