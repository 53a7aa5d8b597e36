export { CHOICE_SEPARATOR, foldText } from './choices';
export * from './kind';
export { formatRunningNumber, parseRunningNumber, PLAIN_PATTERN } from './runningNumber';
export { isOfKind, showValue } from './show';
export { kindOf, KINDS } from './table';
export { fromWire, toWire } from './wire';
