import { kindOf, mapList, type KindId, type ListSettings } from '../kinds';
import type { FormulaProblem } from './grammar/expression';
import { bindFormula, parseFormula, writeFormula, type Directory } from './references/bind';
import { resultKind } from './resultKind';
import type { SheetGrid } from './calculation/sheetGrid';
import type { Reference, StoredFormula } from './references/reference';
import type { Notation } from './grammar/lexer';
import { resolved } from './calculation/shapes';

/** What a list's settings come to: tied to what they refer to, or the first that could not be. */
export type BoundList =
  | { readonly ok: true; readonly list: ListSettings<StoredFormula> }
  | { readonly ok: false; readonly text: string; readonly problem: FormulaProblem };

/** Thrown through `mapList`, which knows of no problems. */
class Unbound extends Error {
  constructor(
    readonly text: string,
    readonly problem: FormulaProblem,
  ) {
    super(text);
  }
}

const bare = (text: string): string => text.trim().replace(/^=/, '');

/** The sheet a list's source stands in; `null` where it stands in none: `SEQUENCE(31)`. */
export function sourceSheet(
  source: StoredFormula,
  directory: Pick<Directory, 'sheet' | 'name'>,
): string | null {
  for (const reference of source.references) {
    const of = resolved(reference, directory);
    if (of && of.kind !== 'name') return of.sheet;
  }
  return null;
}

/** The column whose records feed a list, if one does as it stands. */
export function sourceColumn(
  { text, references }: StoredFormula,
  directory: Pick<Directory, 'name'>,
): Extract<Reference, { kind: 'column' }> | null {
  const [only] = references;
  if (!only || text.trim() !== '⟨0⟩') return null;
  const of = only.kind === 'name' ? (directory.name(only.id)?.reference ?? null) : only;
  return of?.kind === 'column' ? of : null;
}

/** The kind that a source's values are shown as where they are dates or times. */
export function sourceKind(source: StoredFormula, directory: Directory): KindId | undefined {
  const kind = resultKind(parseFormula(source), directory)?.kind;
  return kind !== undefined && kindOf({ kind }).iso !== undefined ? kind : undefined;
}

/** Ties a list to what it refers to. @param home the sheet it is offered in */
export function bindList(
  list: ListSettings,
  home: SheetGrid,
  directory: Directory,
  notation: Notation,
): BoundList {
  const bind = (text: string, source?: string): StoredFormula => {
    const grid = source === undefined ? home : gridOf(bind(source));
    const at = { sheet: grid, inRecord: source !== undefined };
    const bound = bindFormula(bare(text), at, directory, notation);
    if (!bound.ok) throw new Unbound(text, bound.problem);
    return bound.formula;
  };
  const gridOf = (source: StoredFormula): SheetGrid =>
    directory.sheet(sourceSheet(source, directory) ?? '') ?? home;
  try {
    return { ok: true, list: mapList(list, bind) };
  } catch (error) {
    if (error instanceof Unbound) return { ok: false, text: error.text, problem: error.problem };
    throw error;
  }
}

/** What writes a list's formulas as people read them, without their signs `=`. */
export const listWriter =
  (home: SheetGrid, directory: Directory, notation: Notation) =>
  (formula: StoredFormula, source?: StoredFormula): string => {
    const grid = source && directory.sheet(sourceSheet(source, directory) ?? '');
    return writeFormula(formula, grid ?? home, directory, notation);
  };
