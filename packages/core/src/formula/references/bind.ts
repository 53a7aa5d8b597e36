import type { SheetGrid } from '../calculation/sheetGrid';
import { callProblem } from '../check';
import {
  FormulaError,
  type Expression,
  type FormulaProblem,
  type Span,
} from '../grammar/expression';
import { lex, STORED_NOTATION, type Notation, type Token } from '../grammar/lexer';
import { parseStored, parseWritten } from '../grammar/parser';
import { mapReferences } from '../grammar/tree';
import type { CellPlace, Reference, RowPlace, StoredFormula } from './reference';
import { withHeadings } from './bareHeadings';
import { printReference, type WrittenCell, type WrittenReference } from './written';

/** A named range of a workbook. */
export interface RangeName {
  readonly id: string;
  readonly name: string;
  readonly reference: Reference;
}

/** The sheets and names that references can point at. */
export interface Directory {
  sheet(id: string): SheetGrid | undefined;
  sheetNamed(name: string): SheetGrid | undefined;
  name(id: string): RangeName | undefined;
  nameCalled(name: string): RangeName | undefined;
  /** What a deleted sheet, column or name was called. */
  lostName(id: string): string | undefined;
}

/** Where a formula stands. */
export interface Home {
  readonly sheet: SheetGrid;
  /** Whether it stands for each record of its sheet, so that a heading alone means a value. */
  readonly inRecord: boolean;
}

/** What reading a typed formula gives. */
export type Bound =
  | {
      readonly ok: true;
      readonly formula: StoredFormula;
      readonly expression: Expression<Reference>;
    }
  | { readonly ok: false; readonly problem: FormulaProblem };

/**
 * Reads a formula as people write it, without its leading `=`, and ties its references to what
 * they point at. Column names without apostrophes are understood where they can mean one column of
 * the sheet: its value in a record, and above the heading all of it.
 */
export function bindFormula(
  text: string,
  home: Home,
  directory: Directory,
  notation: Notation,
): Bound {
  const bound = bindWritten(text, home, directory, notation);
  if (bound.ok) return bound;
  const { name, columns } = home.sheet.sheet;
  const sheet = home.inRecord ? null : name;
  const written = withHeadings(
    text,
    columns.map(({ heading }) => heading),
    (word) => directory.nameCalled(word) !== undefined,
    (heading) => printReference({ kind: 'heading', sheet, heading }),
  );
  const meant = written === text ? bound : bindWritten(written, home, directory, notation);
  // What is wrong is told of what was typed.
  return meant.ok ? meant : bound;
}

function bindWritten(text: string, home: Home, directory: Directory, notation: Notation): Bound {
  try {
    const written = parseWritten(text, notation);
    const calls = callProblem(written);
    if (calls) return { ok: false, problem: calls };
    const references: Reference[] = [];
    const bound = new Map<number, Reference>();
    const stored = lex(text, notation)
      .map((token) => {
        const reference = writtenIn(token);
        if (!reference) return storedToken(token, text, notation);
        const tied = bindReference(reference, token, home, directory);
        bound.set(token.from, tied);
        return `⟨${references.push(tied) - 1}⟩`;
      })
      .join('');
    const expression = mapReferences(written, (reference, at) => {
      return bound.get(at.from) ?? bindReference(reference, at, home, directory);
    });
    return { ok: true, formula: { text: stored, references }, expression };
  } catch (error) {
    if (error instanceof FormulaError) return { ok: false, problem: error.problem };
    throw error;
  }
}

/** The tree of a stored formula. @throws FormulaError where it was not made by `bindFormula` */
export function parseFormula({ text, references }: StoredFormula): Expression<Reference> {
  return parseStored(text, references, STORED_NOTATION);
}

/** A stored formula as people read it now, without its leading `=`. */
export function writeFormula(
  { text, references }: StoredFormula,
  home: SheetGrid,
  directory: Directory,
  notation: Notation,
): string {
  return lex(text, STORED_NOTATION)
    .map((token) => {
      if (token.type === 'slot') {
        const reference = references[token.index];
        return reference ? writeReference(reference, home, directory) : '';
      }
      return token.type === 'number' || token.type === 'sign'
        ? writtenToken(token.text, notation)
        : text.slice(token.from, token.to);
    })
    .join('');
}

function writtenIn(token: Token): WrittenReference | null {
  if (token.type === 'reference') return token.reference;
  if (token.type !== 'word' || /^(?:true|false)$/i.test(token.text)) return null;
  return { kind: 'name', name: token.text };
}

function storedToken(token: Token, text: string, notation: Notation): string {
  if (token.type === 'number') return token.text;
  if (token.type === 'sign' && notation.decimal !== ',' && token.text === ',') return ';';
  return text.slice(token.from, token.to);
}

const writtenToken = (text: string, { decimal }: Notation): string =>
  /^[\d.]/.test(text) ? text.replace('.', decimal) : text;

function bindReference(
  written: WrittenReference,
  { from, to }: Span,
  home: Home,
  directory: Directory,
): Reference {
  const fail = (problem: FormulaProblem): never => {
    throw new FormulaError(problem);
  };
  if (written.kind === 'name') {
    const known = directory.nameCalled(written.name);
    if (!known) return fail({ code: 'unknownName', name: written.name, from, to });
    return { kind: 'name', id: known.id };
  }
  const grid = written.sheet === null ? home.sheet : directory.sheetNamed(written.sheet);
  if (!grid) return fail({ code: 'unknownSheet', name: written.sheet ?? '', from, to });
  const sheet = grid.sheet.id;
  const named = written.sheet !== null && grid === home.sheet ? { named: true as const } : {};
  switch (written.kind) {
    case 'cell':
      return { kind: 'cell', sheet, ...named, cell: bindCell(written.cell, grid) };
    case 'range':
      return { kind: 'range', sheet, ...named, ...bindRange(written.from, written.to, grid) };
    case 'heading': {
      const heading = written.heading.trim();
      const { name } = grid.sheet;
      if (written.sheet === null && !home.inRecord) {
        return fail({ code: 'noRecordHere', heading, sheet: name, from, to });
      }
      const column = grid.sheet.columns.find((each) => each.heading.trim() === heading);
      if (!column) return fail({ code: 'unknownHeading', heading, sheet: name, from, to });
      if (written.sheet !== null) return { kind: 'column', sheet, column: column.id };
      return { kind: 'field', sheet, column: column.id };
    }
  }
}

function bindCell(written: WrittenCell, grid: SheetGrid): CellPlace {
  const row = written.row === null ? ({ at: 'start' } as const) : grid.placeOfRow(written.row);
  return {
    column: grid.placeOfColumn(written.column),
    row,
    ...(written.fixedColumn && { fixedColumn: true as const }),
    ...(written.fixedRow && { fixedRow: true as const }),
  };
}

/**
 * A range that takes in all records holds on to the first and the last, whichever they will be,
 * so that it grows with each record, under the heading too; one that reaches below the last
 * record goes on down.
 */
function bindRange(
  one: WrittenCell,
  other: WrittenCell,
  grid: SheetGrid,
): Pick<Extract<Reference, { kind: 'range' }>, 'from' | 'to' | 'open'> {
  const upsideDown = one.row !== null && other.row !== null && one.row > other.row;
  const [first, last] = upsideDown ? [other, one] : [one, other];
  const from = bindCell(first, grid);
  const to = bindCell(last, grid);
  if (first.row === null) {
    return {
      from: { ...from, row: { at: 'start' } },
      to: { ...to, row: { at: 'end' } },
      open: 'columns',
    };
  }
  const heading = grid.headingRow;
  const firstRecord = heading === null ? null : heading + 1;
  const fromTop: RowPlace = firstRecord === first.row ? { at: 'first' } : from.row;
  if (last.row === null) {
    return { from: { ...from, row: fromTop }, to: { ...to, row: { at: 'end' } }, open: 'down' };
  }
  if (firstRecord === null || first.row > firstRecord || last.row < grid.lastRow)
    return { from, to };
  if (grid.sheet.records.count === 0 && last.row < firstRecord) return { from, to };
  return { from: { ...from, row: fromTop }, to: { ...to, row: { at: 'last' } } };
}

function writeReference(reference: Reference, home: SheetGrid, directory: Directory): string {
  if (reference.kind === 'name') {
    return directory.name(reference.id)?.name ?? directory.lostName(reference.id) ?? '#NAME?';
  }
  const grid = directory.sheet(reference.sheet);
  const sheetName = grid?.sheet.name ?? directory.lostName(reference.sheet) ?? '#REF!';
  const isHome = grid === home;
  const headingOf = (column: string): string =>
    grid?.column(column)?.heading ?? directory.lostName(column) ?? '#REF!';
  switch (reference.kind) {
    case 'field':
      return printReference({ kind: 'heading', sheet: null, heading: headingOf(reference.column) });
    case 'column':
      return printReference({
        kind: 'heading',
        sheet: sheetName,
        heading: headingOf(reference.column),
      });
    case 'cell': {
      const sheet = isHome && reference.named !== true ? null : sheetName;
      const cell = grid && writtenCell(reference.cell, grid, 'from');
      return cell ? printReference({ kind: 'cell', sheet, cell }) : '#REF!';
    }
    case 'range': {
      const sheet = isHome && reference.named !== true ? null : sheetName;
      const from = grid && writtenCell(reference.from, grid, 'from');
      const to = grid && writtenCell(reference.to, grid, 'to');
      if (!from || !to) return '#REF!';
      return printReference({
        kind: 'range',
        sheet,
        from: reference.open === 'columns' ? { ...from, row: null } : from,
        to: reference.open === undefined ? to : { ...to, row: null },
      });
    }
  }
}

function writtenCell(
  { column, row, fixedColumn, fixedRow }: CellPlace,
  grid: SheetGrid,
  side: 'from' | 'to',
): WrittenCell | null {
  const index = grid.indexOf(column);
  const number = grid.rowNear(row, side);
  if (index === null || number === null) return null;
  return {
    column: index,
    row: Math.max(1, number),
    fixedColumn: fixedColumn ?? false,
    fixedRow: fixedRow ?? false,
  };
}
