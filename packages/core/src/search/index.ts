export { readCondition } from './condition';
export { type Replacement, replacing } from './replacing';
export { inQuotes, NOTHING_TICKED, readTicked, sayTicked, type Ticked } from './ticked';
export { dayAtEnd, withDayAtEnd } from './pickedDay';
export {
  isBlankQuestion,
  NO_QUESTION,
  type Question,
  questionAddress,
  questionOfAddress,
  type QuestionPart,
  type QuestionReading,
  questionTests,
  readQuestion,
  sayQuestion,
} from './question';
export {
  MOST_ORDERED,
  nextOrder,
  type OrderPart,
  orderWith,
  orderWithout,
  partOf,
  type ViewOrder,
} from './order';
export { countsOf, orderedBy, positionsIn, type ViewTest } from './view';
