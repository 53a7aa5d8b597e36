export type { OutlineProblem } from './problem';
export { readOutline, MOST_OUTLINE_LINES, type OutlineGround, type OutlineReading } from './read';
export { writeOutline, type OutlinedForm } from './write';
