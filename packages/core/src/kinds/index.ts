export { foldCode, foldText, ownText, rewrittenChoices } from './choices';
export { fileIdOf, fileNameOf, fileText } from './file';
export {
  type Column,
  type ColumnSettings,
  type GivenSettings,
  KIND_IDS,
  type KindId,
  asShown,
  type Admits,
  type Computing,
  mapColumn,
  type ReadingContext,
  type Typing,
  withoutFormula,
  type Tail,
  type WrittenFacts,
} from './kind';
export {
  type ChoiceValue,
  LIST_ORDERS,
  type Listed,
  type ListItem,
  type ListOrder,
  type ListSettings,
  mapList,
} from './list';
export {
  type Condition,
  type ConditionGroup,
  isGroup,
  isRule,
  MOST_RULES,
  type Relation,
  RELATIONS,
  type Rule,
  type RuleTest,
  SIGN_SETS,
  type SignSet,
  type Span,
  standsAlone,
  type When,
} from './rule';
export { USUAL_CURRENCY } from './money';
export {
  firstNumberOf,
  isOfZeros,
  formatRunningNumber,
  sayFirstNumbers,
  parseRunningNumber,
  PLAIN_PATTERN,
  runningNumberIn,
} from './runningNumber';
export { KIND_SENTENCES } from './sentences';
export { LONGEST_NAME, misfittingSettings, settingProblem } from './settings';
export { CHOICE_SEPARATOR, joinChoices, separatorSign, splitChoices } from './several';
export { isOfKind, showValue, typedValue } from './show';
export { kindOf, KINDS } from './table';
export { fromWire, toWire } from './wire';
