export * from './checks';
export {
  compareForms,
  type BlockDifference,
  type BlockPart,
  type FormDifferences,
  type FormPart,
} from './compare';
export * from './controls';
export * from './definition';
export { bareFormula, TextEvaluator, TextFormulas, type Elsewhere, type Ground } from './evaluator';
export { fileProblem } from './files';
export {
  fill,
  judgeInput,
  otherwiseThanSeen,
  type Entered,
  type Filling,
  type SaidMessage,
} from './filling';
export { FORM_SENTENCES } from './sentences';
export { comparedBySize, formulaProblem, type FormulaGround } from './formulaProblem';
export { formulasOf, mapFormulas, type FormulaPlace } from './formulas';
export { inputsOf, inputsOfBlock, isBoxes, type Answers, type Input } from './inputs';
export * from './landing';
export * from './layout';
export { DETAIL_BOUNDS, detailProblem, isPlainId, WIDTH_BOUNDS, widthProblem } from './bounds';
export { storedApart, storedTogether } from './groups';
export { memberHeading, proposedHeading } from './headings';
export { isSame, sharing } from './same';
export { plannedColumns } from './planned';
export { choicesIn, READY_MADE, readyMade, type ReadyMade } from './readyMade';
export { prepareForm, type Evaluator, type PreparedForm } from './prepared';
export * from './starting';
export { filledByVarn, type WrittenFacts } from './varn';
