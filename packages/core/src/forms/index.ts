export { DETAIL_BOUNDS, detailProblem, isPlainId, WIDTH_BOUNDS, widthProblem } from './bounds';
export { broughtAlong } from './brought';
export { checkForm, type CheckGround, type FormCheck, MOST_FIELDS } from './checks';
export { type BlockDifference, type BlockPart, compareForms, type FormPart } from './compare';
export {
  CONTROL_IDS,
  type ControlDetails,
  type ControlId,
  controlOf,
  CONTROLS,
  controlsOf,
  USUAL_STEPS,
} from './controls';
export {
  type AfterSubmit,
  type Block,
  columnIdsOf,
  type ColumnsById,
  type Entering,
  type FieldBlock,
  type FieldSettings,
  type FormDefinition,
  type FormLook,
  type GroupBlock,
  type GroupShape,
  isEntry,
  labelOfBlock,
  type Limits,
  type Member,
  MOST_BLOCKS,
  type PictureSize,
  type PlainBlock,
  type StartingValue,
  type Tone,
} from './definition';
export { bareFormula, type Elsewhere, TextEvaluator, TextFormulas } from './evaluator';
export { fileProblem } from './files';
export { type Entered, fill, type Filling, judgeInput, textIn } from './filling';
export {
  comparedBySize,
  type FormulaGround,
  formulaProblem,
  withApostrophes,
} from './formulaProblem';
export { type FormulaPlace, formulasOf, mapFormulas } from './formulas';
export { storedApart, storedTogether } from './groups';
export { memberHeading, proposedHeading } from './headings';
export { type Answers, type Input, inputsOf, withRules } from './inputs';
export {
  afterMessage,
  expected,
  type LandingCell,
  landingRow,
  messageWithHeadings,
  messageWithIds,
  readiness,
} from './landing';
export {
  fieldSpan,
  flowBehind,
  formOfSheet,
  type FormPage,
  PAGE_PARTS,
  pagesOf,
  rowsOf,
} from './layout';
export { plannedColumns } from './planned';
export { type Evaluator, type PreparedForm, prepareForm } from './prepared';
export {
  choicesIn,
  countryName,
  READY_MADE,
  readyMade,
  readyMadeFor,
  type ReadyMade,
} from './readyMade';
export { isSame, sharing } from './same';
export { otherwiseThanSeen, seenAnswers } from './seen';
export { FORM_SENTENCES } from './sentences';
export { type Kept, keptAnswers, startingAnswers } from './starting';
export { settle, type Settled } from './settle';
