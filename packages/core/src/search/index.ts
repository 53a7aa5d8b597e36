export { readCondition } from './condition';
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
export { countsOf, orderedBy, positionsIn, type ViewOrder, type ViewTest } from './view';
