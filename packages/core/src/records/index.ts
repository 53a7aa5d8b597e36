export {
  isRecordChange,
  RECORD_CHANGES,
  type ChangeKind,
  type RecordChangeKind,
  type RowChangeKind,
  type StructureChangeKind,
} from './change';
export { convertCell } from './convert';
export {
  inTheWay,
  isTyped,
  judgeCell,
  judgeRecord,
  judgeWrite,
  typedCells,
  type CellCheck,
  type CellGround,
  type Doubt,
  type Given,
  type JudgedCell,
  type JudgedRecord,
  type RecordGround,
  type Verdict,
  type WeighedCheck,
  type WriteVerdict,
} from './judge';
export { takenBy, type KeyGround } from './keys';
export { RECORD_SENTENCES } from './sentences';
