export {
  type ChangeKind,
  isRecordChange,
  RECORD_CHANGES,
  type RecordChangeKind,
  type StructureChangeKind,
} from './change';
export { convertCell } from './convert';
export {
  type FieldPlaces,
  type GivenCells,
  isTyped,
  judgeCell,
  judgeChange,
  type JudgedCell,
  judgeRestored,
  judgeWrite,
  judgeWriteInSteps,
  NO_DOUBTS,
  type RecordGround,
  typedCells,
  type WeighedCheck,
} from './judge';
export { type Door, DOORS } from './door';
export { filledAhead, type Judged } from './judged';
export { type KeyGround, takenBy, toldApartBy } from './keys';
export { isSecret } from './forget';
export { nameOfRecord } from './name';
export { RECORD_SENTENCES } from './sentences';
export { type Doubt, inTheWay, isNote, type Verdict } from './verdict';
