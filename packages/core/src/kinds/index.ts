export { CHOICE_SEPARATOR, foldText } from './choices';
export * from './kind';
export { formatRunningNumber, parseRunningNumber, PLAIN_PATTERN } from './runningNumber';
export { isOfKind, showValue, typedValue } from './show';
export { USUAL_CURRENCY } from './money';
export { kindOf, KINDS } from './table';
export { fromWire, toWire } from './wire';
