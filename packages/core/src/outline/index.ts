export type { OutlineProblem } from './problem';
export { type OutlineReading, readOutline } from './read';
export { type OutlinedForm, writeOutline } from './write';
