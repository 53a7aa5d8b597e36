import { compile, type Code } from '../formula/compile';
import { callProblem, walk } from '../formula/check';
import { isArea } from '../formula/functions/area';
import type { Moment } from '../formula/functions/define';
import { FormulaError, type Expression } from '../formula/grammar/expression';
import { parseWritten } from '../formula/grammar/parser';
import type { WrittenReference } from '../formula/references/written';
import type { Column } from '../kinds';
import type { Cells, CellValue } from '../values';
import type { Evaluator } from './prepared';

/** A formula that reads nothing but the record itself, or one whose value comes from elsewhere. */
type Ready = { readonly code: Code } | { readonly elsewhere: true } | { readonly unread: true };

/** What a form's formulas stand on where they are computed. */
export interface Ground {
  readonly columns: readonly Column[];
  /** Formulas of computed columns as people write them, by column id. */
  readonly formulas: Readonly<Record<string, string>>;
  readonly moment: Moment;
}

/** A formula's text without the sign it may begin with. */
export const bareFormula = (text: string): string => text.trim().replace(/^=/, '').trim();

/**
 * Computes formulas as people write them, in the browser, from the record alone. What reads other
 * cells is asked of the server: `elsewhere` has its answers, by the formula's text.
 */
export class TextEvaluator implements Evaluator<string> {
  private readonly ready = new Map<string, Ready>();
  private readonly byHeading: ReadonlyMap<string, Column>;
  private readonly inComputing = new Set<string>();
  private held: Record<string, CellValue> = {};
  /** The cells that are held, with what was computed of them. */
  private over: Cells | null = null;

  constructor(
    private readonly ground: Ground,
    private readonly elsewhere: ReadonlyMap<string, CellValue> = new Map(),
  ) {
    this.byHeading = new Map(ground.columns.map((column) => [column.heading.trim(), column]));
  }

  value(formula: string, cells: Cells): CellValue {
    this.hold(cells);
    return this.run(formula);
  }

  computed(cells: Cells): Record<string, CellValue> {
    this.hold(cells);
    const values: Record<string, CellValue> = {};
    for (const { id, kind } of this.ground.columns) {
      if (kind === 'computed' && this.ground.formulas[id] !== undefined) values[id] = this.cell(id);
    }
    return values;
  }

  /** The formulas whose values only the server can tell, of these and of computed columns. */
  asksFor(formulas: Iterable<string>): string[] {
    const all = new Set([...formulas, ...Object.values(this.ground.formulas)]);
    return [...all].filter((each) => 'elsewhere' in this.prepare(each));
  }

  private hold(cells: Cells): void {
    if (this.over === cells) return;
    this.over = cells;
    this.held = { ...cells };
  }

  private run(formula: string): CellValue {
    const ready = this.prepare(formula);
    if ('elsewhere' in ready) return this.elsewhere.get(formula) ?? null;
    if ('unread' in ready) return { error: '#NAME?' };
    const value = ready.code(-1);
    return isArea(value) ? value.at(0, 0) : value;
  }

  /** A cell of the record; of a computed column, what its formula gives, once. */
  private cell(id: string): CellValue {
    const formula = this.ground.formulas[id];
    if (formula === undefined || id in this.held) return this.held[id] ?? null;
    if (this.inComputing.has(id)) return { error: '#REF!' };
    this.inComputing.add(id);
    const value = this.run(formula);
    this.inComputing.delete(id);
    this.held[id] = value;
    return value;
  }

  private prepare(formula: string): Ready {
    let ready = this.ready.get(formula);
    if (!ready) {
      ready = this.read(formula);
      this.ready.set(formula, ready);
    }
    return ready;
  }

  private read(formula: string): Ready {
    const { moment } = this.ground;
    let expression: Expression<WrittenReference>;
    try {
      expression = parseWritten(bareFormula(formula), moment.locale);
    } catch (error) {
      if (error instanceof FormulaError) return { unread: true };
      throw error;
    }
    if (callProblem(expression) || readsUnknown(expression, this.byHeading))
      return { unread: true };
    if (readsElsewhere(expression)) return { elsewhere: true };
    const read = (reference: WrittenReference): Code => {
      const column =
        reference.kind === 'heading' ? this.byHeading.get(reference.heading.trim()) : undefined;
      const id = column?.id ?? '';
      return () => this.cell(id);
    };
    return { code: compile(expression, { read, place: () => null }, moment) };
  }
}

/** Whether a formula reads anything but the record itself. */
function readsElsewhere(expression: Expression<WrittenReference>): boolean {
  let found = false;
  walk(expression, (each) => {
    if (each.type !== 'reference') return;
    const { reference } = each;
    found ||= reference.kind !== 'heading' || reference.sheet !== null;
  });
  return found;
}

function readsUnknown(
  expression: Expression<WrittenReference>,
  byHeading: ReadonlyMap<string, Column>,
): boolean {
  let found = false;
  walk(expression, (each) => {
    if (each.type !== 'reference' || each.reference.kind !== 'heading') return;
    const { sheet, heading } = each.reference;
    found ||= sheet === null && !byHeading.has(heading.trim());
  });
  return found;
}
