import type { Area } from './area';
import { LineIndex, type Line } from './lineIndex';

/** Indexes of areas that keep none themselves, as long as the area is there. */
const kept = new WeakMap<Area, Map<number, LineIndex>>();
/** Stands for the first row where others stand for a column. */
const FIRST_ROW = -1;

function keptIndex(area: Area, at: number, line: Line): LineIndex {
  const indexes = kept.get(area) ?? new Map<number, LineIndex>();
  kept.set(area, indexes);
  let index = indexes.get(at);
  if (!index) indexes.set(at, (index = new LineIndex(line)));
  return index;
}

export function columnOf(area: Area, column: number): Line {
  const line: Line = {
    length: area.rows,
    at: (row) => area.at(row, column),
    index: () => area.index?.(column) ?? keptIndex(area, column, line),
  };
  return line;
}

export function firstRowOf(area: Area): Line {
  const line: Line = {
    length: area.columns,
    at: (column) => area.at(0, column),
    index: () => keptIndex(area, FIRST_ROW, line),
  };
  return line;
}

/** The longer side of an area as a line. */
export const lineOf = (area: Area): Line =>
  area.columns > area.rows ? firstRowOf(area) : columnOf(area, 0);

/** Whether an area is one line. */
export const isLine = ({ rows, columns }: Area): boolean => rows === 1 || columns === 1;
