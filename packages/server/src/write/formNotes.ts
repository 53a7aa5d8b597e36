import type { CellNote } from '@varn/contract';
import {
  columnsRead,
  standsAlone,
  ruleDoubts,
  sayProblem,
  type Column,
  type ColumnsById,
  type Rule,
  type Verdict,
  type WeighedCheck,
  withRules,
} from '@varn/core';
import { preparedForm } from '../calculation/formEvaluator';
import type { FormFacts } from '../store/catalog';

/** What is told of one write; more than a few say no more. */
const MOST_NOTES = 5;
/** Cells that are looked at for it. */
const MOST_LOOKED_AT = 20_000;

const NONE: readonly WeighedCheck[] = [];
const NO_COLUMNS: ColumnsById = new Map();

/** What a form of the sheet, in use, would not take of the values that the grid writes. */
export class FormNotes {
  readonly told: CellNote[] = [];
  private readonly checks: ReadonlyMap<string, readonly WeighedCheck[]>;
  private looked = 0;

  constructor(forms: readonly FormFacts[], columns: ColumnsById) {
    this.checks = checksByColumn(forms, columns);
  }

  /** What a column's values are held against, until enough is told. */
  readonly checksOf = (columnId: string): readonly WeighedCheck[] => {
    const checks = this.checks.get(columnId) ?? NONE;
    this.looked += checks.length;
    return this.looked > MOST_LOOKED_AT || this.told.length >= MOST_NOTES ? NONE : checks;
  };

  put({ columnId: column, by = '', problem }: Verdict): void {
    const says = sayProblem(problem);
    const message = by === '' ? says : `‘${by}’ would not take it: ${says}`;
    const isTold = this.told.some((note) => note.message === message);
    if (!isTold && this.told.length < MOST_NOTES) this.told.push({ column, message });
  }
}

/** What the fields of forms in use check, as notes in the forms' names. */
function checksByColumn(
  forms: readonly FormFacts[],
  columns: ColumnsById,
): Map<string, WeighedCheck[]> {
  const byColumn = new Map<string, WeighedCheck[]>();
  for (const { name, version, definition } of forms) {
    if (version === 0) continue;
    for (const { column, checks: own, block } of preparedForm(definition, columns).inputs) {
      const checks = [...own, ...ruleChecks(block.rules)];
      if (checks.length === 0) continue;
      const held = byColumn.get(column.id) ?? [];
      byColumn.set(column.id, held);
      held.push(...checks.map(({ check }) => ({ strictness: 'note' as const, check, by: name })));
    }
  }
  return byColumn;
}

/** A column without its own rules: the judge holds those. */
const without = (column: Column): Column => {
  const { rules: _, ...settings } = column.settings;
  return { ...column, settings };
};

/** Rules of a field that read its answer alone. */
function ruleChecks(rules: readonly Rule[] = []): WeighedCheck[] {
  const alone = rules.filter((rule) => columnsRead(rule).length === 0 && !standsAlone(rule.must));
  if (alone.length === 0) return [];
  const ruledBy = new WeakMap<object, Column>();
  return [
    {
      strictness: 'note',
      check: (value, column, context) => {
        const ruled = ruledBy.get(column) ?? withRules(without(column), alone);
        ruledBy.set(column, ruled);
        const scope = { columns: NO_COLUMNS, context: { ...context, held: null }, cells: {} };
        return ruleDoubts(ruled, value, scope)[0]?.problem ?? null;
      },
    },
  ];
}
