import type { FreeCellView } from '@varn/contract';
import {
  fromWire,
  isErrorValue,
  isOfKind,
  kindOf,
  ruleDoubts,
  sayErrorValue,
  sayProblem,
  showValue,
  typedValue,
  type CellStyle,
  type CellValue,
  type Column,
  type ErrorReason,
  type LocaleFacts,
} from '@varn/core';
import type { ReadMark } from './marks';

/** How a cell looks, and what is said of it on hover and focus. */
export interface Face {
  readonly text: string;
  readonly align: 'start' | 'end';
  readonly tone: 'plain' | 'kept' | 'broken' | 'error' | 'covered';
  readonly note: string;
  /** Whether a formula gives it. */
  readonly isComputed?: boolean;
  /** How a cell outside of the records stands out. */
  readonly style?: CellStyle;
  /** By what a cell of the records stands out; it is said as well, for whoever sees no colours. */
  readonly marked?: ReadMark;
}

const BLANK: Face = { text: '', align: 'start', tone: 'plain', note: '' };

/** What the cells of a sheet's records are shown by. */
export interface FaceGround {
  readonly columns: readonly Column[];
  readonly byId: ReadonlyMap<string, Column>;
  readonly locale: LocaleFacts;
  /** The serial of now in the workbook's zone, for rules that ask for today. */
  readonly now: number;
  /** What makes cells stand out, by column id. */
  readonly marks?: ReadonlyMap<string, readonly ReadMark[]>;
}

/** A cell of a record, by the place of its column. @param cells its values as the API sends them */
export function recordFace(cells: readonly CellValue[], index: number, ground: FaceGround): Face {
  const column = ground.columns[index];
  if (!column) return BLANK;
  const face = faceOf(cells[index] ?? null, column, ground.locale);
  const note = face.tone === 'plain' ? brokenNote(cells, index, column, ground) : '';
  const told: Face = markedFace(
    note === '' ? face : { ...face, tone: 'broken', note },
    fromWire(cells[index] ?? null, column),
    ground.marks?.get(column.id),
  );
  return column.settings.follows === true ? { ...told, isComputed: true } : told;
}

/** A face with the first mark that is for it. */
function markedFace(face: Face, value: CellValue, marks: readonly ReadMark[] | undefined): Face {
  const mark = marks?.find(({ test }) => (test ? test(value) : face.tone === 'broken'));
  if (!mark) return face;
  return { ...face, marked: mark };
}

/** What is said of a stored value that breaks rules of its column. */
function brokenNote(
  wires: readonly CellValue[],
  index: number,
  column: Column,
  { columns, byId, locale, now }: FaceGround,
): string {
  if (!column.settings.rules || column.settings.rules.length === 0) return '';
  const valueAt = (n: number, of: Column): CellValue => fromWire(wires[n] ?? null, of);
  const cells = Object.fromEntries(columns.map((each, n) => [each.id, valueAt(n, each)]));
  const scope = { columns: byId, context: { locale, now }, cells };
  const doubts = ruleDoubts(column, valueAt(index, column), scope);
  return doubts.map(({ problem }) => sayProblem(problem)).join(' ');
}

function faceOf(wire: CellValue, column: Column, locale: LocaleFacts): Face {
  const value = fromWire(wire, column);
  const kind = kindOf(column);
  const align = alignOf(value, column);
  const text = showValue(value, column, locale);
  if (isErrorValue(value)) {
    return { text, align: 'start', tone: 'error', note: sayErrorValue(value) };
  }
  if (isOfKind(value, column)) return { text, align, tone: 'plain', note: '' };
  const note = `Kept as text: not a valid ${kind.label.toLowerCase()}`;
  return { text, align: 'start', tone: 'kept', note };
}

function alignOf(value: CellValue, column: Column): Face['align'] {
  if (typeof value === 'string') return 'start';
  const { shownAs } = column.settings;
  if (column.kind !== 'computed') return kindOf(column).align;
  if (shownAs !== undefined && shownAs !== 'computed') return kindOf({ kind: shownAs }).align;
  return typeof value === 'number' ? 'end' : 'start';
}

/** How a cell outside of the records is shown, as a column of its own. */
export function lookOf(cell: FreeCellView | null): Column {
  const { kind = 'computed', settings = {} } = cell ?? {};
  return { id: '', heading: '', kind, settings };
}

export function freeFace(cell: FreeCellView | null, locale: LocaleFacts): Face {
  if (!cell) return BLANK;
  const { value, why, covered = false } = cell;
  const styled = cell.style && { style: cell.style };
  if (isErrorValue(value)) {
    const note = sayErrorValue(withReason(value.error, why));
    return { text: value.error, align: 'start', tone: 'error', note, ...styled };
  }
  return {
    ...styled,
    text: showValue(value, lookOf(cell), locale),
    align: typeof value === 'number' ? 'end' : 'start',
    tone: covered ? 'covered' : 'plain',
    note: '',
    isComputed: cell.formula !== undefined || covered,
  };
}

function withReason(error: string, why: ErrorReason | undefined) {
  return { error, ...(why && { why }) };
}

/** What one would type to get a record's cell again. */
export function recordText(wire: CellValue, column: Column, locale: LocaleFacts): string {
  return textOf(fromWire(wire, column), column, locale);
}

/** What one would type to get a cell outside of the records again: its formula, else its value. */
export function freeText(cell: FreeCellView | null, locale: LocaleFacts): string {
  return cell?.formula ?? freeValueText(cell, locale);
}

export function freeValueText(cell: FreeCellView | null, locale: LocaleFacts): string {
  return cell ? textOf(cell.value, lookOf(cell), locale) : '';
}

function textOf(value: CellValue, column: Column, locale: LocaleFacts): string {
  if (value === null) return '';
  if (isErrorValue(value)) return value.error;
  const { shownAs } = column.settings;
  const isShown = column.kind === 'computed' && shownAs !== undefined;
  if (isShown && isOfKind(value, { kind: shownAs })) {
    return typedValue(value, { ...column, kind: shownAs }, locale);
  }
  if (!isOfKind(value, column)) return showValue(value, column, locale);
  return typedValue(value, column, locale);
}
