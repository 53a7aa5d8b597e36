export { foldCode, foldText, ownText, rewrittenChoices } from './choices';
export { CHOICE_SEPARATOR, joinChoices, separatorSign, splitChoices } from './several';
export { fileIdOf, fileNameOf, fileText } from './file';
export * from './kind';
export {
  formatRunningNumber,
  runningNumberIn,
  parseRunningNumber,
  PLAIN_PATTERN,
} from './runningNumber';
export { LONGEST_NAME, misfittingSettings, settingProblem, type SettingProblem } from './settings';
export { isOfKind, showValue, typedValue } from './show';
export { USUAL_CURRENCY } from './money';
export { kindOf, KINDS } from './table';
export { fromWire, toWire } from './wire';
export { KIND_SENTENCES } from './sentences';
