export {
  isRecordChange,
  RECORD_CHANGES,
  type ChangeKind,
  type RecordChangeKind,
  type RowChangeKind,
  type StructureChangeKind,
} from './change';
