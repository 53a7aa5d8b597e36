export {
  type ChangeKind,
  isRecordChange,
  RECORD_CHANGES,
  type RecordChangeKind,
  type StructureChangeKind,
} from './change';
export { convertCell } from './convert';
export {
  type Doubt,
  inTheWay,
  isTyped,
  judgeCell,
  type JudgedCell,
  type JudgedRecord,
  judgeRecord,
  judgeWrite,
  NO_DOUBTS,
  type RecordGround,
  typedCells,
  type Verdict,
  type WeighedCheck,
} from './judge';
export { type KeyGround, takenBy } from './keys';
export { isSecret, withoutForgotten } from './forget';
export { nameOfRecord } from './name';
export { RECORD_SENTENCES } from './sentences';
