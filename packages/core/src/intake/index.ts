export { type ArrivalPlan, arrivalReader, topMatterOf } from './arrival';
export { guardText, unguardText } from './guard';
export type { FoundHeading, Layout } from './layout';
export { type ArrivalPreview, ArrivalScout } from './preview';
export { isTotalsRow } from './textShape';
