import {
  Budget,
  callProblem,
  compile,
  Condition,
  FormulaError,
  isArea,
  NO_RECORD,
  parseWritten,
  walk,
  withinBudget,
  type Code,
  type Expression,
  type Moment,
  type WrittenReference,
} from '../formula';
import type { Column } from '../kinds';
import type { Cells, CellValue } from '../values';
import type { Evaluator } from './prepared';

/**
 * A formula made ready: it reads nothing but the record itself, or its value comes from elsewhere,
 * or it can't be read. `reads` are the record's own columns it reads.
 */
type Ready =
  | {
      readonly is: 'own';
      readonly reads: readonly string[];
      readonly code: Code;
      readonly condition: Condition<WrittenReference>;
    }
  | { readonly is: 'elsewhere'; readonly reads: readonly string[] }
  | { readonly is: 'unread'; readonly reads: readonly string[] };

/** What a form's formulas stand on where they are computed. */
export interface Ground {
  /** The sheet's columns, those that are computed with their formulas as people write them. */
  readonly columns: readonly Column<string>[];
  readonly moment: Moment;
}

/** A formula's text without the sign it may begin with. */
export const bareFormula = (text: string): string => text.trim().replace(/^=/, '').trim();

/** The formulas of a form and its sheet as people write them, each read once. */
export class TextFormulas {
  readonly byHeading: ReadonlyMap<string, Column>;
  /** Formulas of the computed columns, by column id. */
  readonly ofColumns: ReadonlyMap<string, string>;
  private readonly ready = new Map<string, Ready>();
  private cell: (columnId: string) => CellValue = () => null;

  constructor(readonly ground: Ground) {
    this.byHeading = new Map(ground.columns.map((column) => [column.heading.trim(), column]));
    this.ofColumns = new Map(
      ground.columns.flatMap(({ id, kind, settings: { formula } }) =>
        kind === 'computed' && formula !== undefined ? [[id, formula] as const] : [],
      ),
    );
  }

  prepare(formula: string): Ready {
    let ready = this.ready.get(formula);
    if (!ready) {
      ready = this.read(formula);
      this.ready.set(formula, ready);
    }
    return ready;
  }

  /** Runs with the record's cells as they are given. */
  over<T>(cell: (columnId: string) => CellValue, run: () => T): T {
    const before = this.cell;
    this.cell = cell;
    try {
      return run();
    } finally {
      this.cell = before;
    }
  }

  /** What a formula's value from elsewhere depends on in these cells, as one text. */
  readIn(formula: string, cells: Cells): string {
    return JSON.stringify(this.prepare(formula).reads.map((id) => cells[id] ?? null));
  }

  /** The formulas whose values only the server can tell, of these and of computed columns. */
  elsewhere(formulas: Iterable<string>): string[] {
    const all = new Set([...formulas, ...this.ofColumns.values()]);
    return [...all].filter((each) => this.prepare(each).is === 'elsewhere');
  }

  private read(formula: string): Ready {
    const { moment } = this.ground;
    let expression: Expression<WrittenReference>;
    try {
      expression = parseWritten(bareFormula(formula), moment.locale);
    } catch (error) {
      if (error instanceof FormulaError) return { is: 'unread', reads: [] };
      throw error;
    }
    const columnOf = (reference: WrittenReference): string | null => {
      if (reference.kind !== 'heading' || reference.sheet !== null) return null;
      return this.byHeading.get(reference.heading.trim())?.id ?? null;
    };
    const reads: string[] = [];
    const others: WrittenReference[] = [];
    walk(expression, (each) => {
      if (each.type !== 'reference') return;
      const id = columnOf(each.reference);
      if (id === null) others.push(each.reference);
      else reads.push(id);
    });
    const isLost = others.some((each) => each.kind === 'heading' && each.sheet === null);
    if (isLost || callProblem(expression)) return { is: 'unread', reads: [] };
    if (others.length > 0) return { is: 'elsewhere', reads };
    const read = (reference: WrittenReference): Code => {
      const id = columnOf(reference) ?? '';
      return () => this.cell(id);
    };
    const made = (tree: Expression<WrittenReference>): Code =>
      compile(tree, { read, place: () => null }, moment);
    return {
      is: 'own',
      reads,
      code: made(expression),
      condition: new Condition(expression, columnOf, (tree) => {
        const code = made(tree);
        return () => single(code);
      }),
    };
  }
}

function single(code: Code): CellValue {
  const value = withinBudget(() => code(NO_RECORD));
  return isArea(value) ? value.at(0, 0) : value;
}

/** What the server told of formulas that read other cells. */
export interface Elsewhere {
  /** By the formula's text: its value, and what it read of the record. */
  readonly values: ReadonlyMap<string, { readonly value: CellValue; readonly read: string }>;
  /** Whether it was told of just the answers that stand. */
  readonly isCurrent: boolean;
}

const NOTHING_TOLD: Elsewhere = { values: new Map(), isCurrent: true };

/**
 * Computes formulas as people write them, in the browser, from the record alone. What reads other
 * cells is asked of the server; what it told last stands until it tells of newer answers.
 */
export class TextEvaluator implements Evaluator<string> {
  private readonly inComputing = new Set<string>();
  private held: Record<string, CellValue> = {};
  /** The cells that are held, with what was computed of them. */
  private over: Cells | null = null;

  constructor(
    private readonly formulas: TextFormulas,
    private readonly elsewhere: Elsewhere = NOTHING_TOLD,
  ) {}

  value(formula: string, cells: Cells): CellValue {
    this.hold(cells);
    return this.run(formula);
  }

  outcomes(formula: string, cells: Cells): CellValue[] {
    this.hold(cells);
    const ready = this.formulas.prepare(formula);
    if (ready.is !== 'own') return [this.run(formula)];
    const cell = (id: string): CellValue => this.cell(id);
    return this.formulas.over(cell, () => ready.condition.outcomes((id) => cell(id) === null));
  }

  computed(cells: Cells): Record<string, CellValue> {
    this.hold(cells);
    const values: Record<string, CellValue> = {};
    for (const id of this.formulas.ofColumns.keys()) values[id] = this.cell(id);
    return values;
  }

  reads(columnId: string): string[] {
    const found = new Set<string>();
    const begun = new Set<string>();
    const put = (id: string): void => {
      const formula = this.formulas.ofColumns.get(id);
      if (formula === undefined) found.add(id);
      else if (!begun.has(id)) {
        begun.add(id);
        this.formulas.prepare(formula).reads.forEach(put);
      }
    };
    put(columnId);
    return [...found];
  }

  waits(formula: string, cells: Cells, waiting: ReadonlySet<string>): boolean {
    return this.waitsIn(formula, cells, waiting, new Set());
  }

  waitingColumns(cells: Cells, waiting: ReadonlySet<string>): string[] {
    return [...this.formulas.ofColumns]
      .filter(([, formula]) => this.waits(formula, cells, waiting))
      .map(([id]) => id);
  }

  within<T>(work: () => T): T {
    return new Budget().run(work);
  }

  private waitsIn(
    formula: string,
    cells: Cells,
    waiting: ReadonlySet<string>,
    seen: Set<string>,
  ): boolean {
    if (seen.has(formula)) return false;
    seen.add(formula);
    const ready = this.formulas.prepare(formula);
    if (ready.is === 'elsewhere' && this.isOld(formula, cells)) return true;
    return ready.reads.some((id) => {
      const computed = this.formulas.ofColumns.get(id);
      return (
        waiting.has(id) || (computed !== undefined && this.waitsIn(computed, cells, waiting, seen))
      );
    });
  }

  private isOld(formula: string, cells: Cells): boolean {
    if (this.elsewhere.isCurrent) return false;
    const told = this.elsewhere.values.get(formula);
    return told?.read !== this.formulas.readIn(formula, cells);
  }

  private hold(cells: Cells): void {
    if (this.over === cells) return;
    this.over = cells;
    this.held = { ...cells };
  }

  private run(formula: string): CellValue {
    const ready = this.formulas.prepare(formula);
    if (ready.is === 'elsewhere') return this.elsewhere.values.get(formula)?.value ?? null;
    if (ready.is === 'unread') return { error: '#NAME?' };
    return this.formulas.over(
      (id) => this.cell(id),
      () => single(ready.code),
    );
  }

  /** A cell of the record; of a computed column, what its formula gives, once. */
  private cell(id: string): CellValue {
    const formula = this.formulas.ofColumns.get(id);
    if (formula === undefined || id in this.held) return this.held[id] ?? null;
    if (this.inComputing.has(id)) return { error: '#REF!' };
    this.inComputing.add(id);
    const value = this.run(formula);
    this.inComputing.delete(id);
    this.held[id] = value;
    return value;
  }
}
