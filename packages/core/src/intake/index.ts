export * from './arrival';
export { AGREEMENT, ColumnTally, type ColumnGuess } from './columnTally';
export { GUARD, guardText, unguardText } from './guard';
export { guessLayout, headingsOf, LAYOUT_ROWS, type FoundHeading, type Layout } from './layout';
export * from './preview';
export { isTotalsRow } from './textShape';
