export {
  type Cells,
  type CellValue,
  type ErrorReason,
  type ErrorValue,
  isErrorValue,
} from './cell';
export { isoDate, isoMoment, isoTime, readIsoDate, readIsoMoment, readIsoTime } from './iso';
export { type DateOrder, localeFacts, type LocaleFacts, plainApostrophes } from './locale';
export { type PartialDate, readPartialDate, writePartialDate } from './partialDate';
export {
  DATE_EXAMPLES,
  doubted,
  type Problem,
  read,
  type Reading,
  READING_SENTENCES,
  refuse,
  type Sentences,
  type Strictness,
  STRICTNESSES,
} from './problem';
export { fullYear, readDate, showDate } from './readDate';
export { KEPT_DIGITS, readNumber, showNumber } from './readNumber';
export { readTime } from './readTime';
export { nearestWord } from './nearest';
export { atOnce } from './steps';
export { asMeant, roundAt } from './round';
export { NumberPlaces, sameNumber } from './sameNumber';
export {
  dateOfSerial,
  type DateParts,
  daysInMonth,
  secondsOfSerial,
  serialNow,
  serialOfDate,
  weekdayOf,
  serialOfTime,
  splitMoment,
} from './serial';
export { plainSigns } from './signs';
export { quote, sayCount, sayCountOf } from './wording';
