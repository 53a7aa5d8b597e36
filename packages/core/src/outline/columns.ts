import { bareFormula, isSame, proposedHeading } from '../forms';
import { foldText, kindOf, MOST_RULES, type Column, type Rule } from '../kinds';
import type { LineDraft, RulePiece } from './line';
import { OutlineError, type PieceProblem } from './problem';
import { readRuleOf } from './rules';
import type { OutlineGround } from './ground';
import { tiedList } from './lists';

type Tell = (problem: PieceProblem, line: number | undefined, at: number) => void;

/** What a line says of rules of its column, and of its field alone. */
interface RuledLine {
  readonly id: string;
  readonly pieces: readonly RulePiece[];
  readonly ownPieces: readonly RulePiece[];
  readonly line: number;
}

/** The columns that lines are about: those of the sheet, those that are planned, new ones. */
export class LineColumns {
  /** Columns that come or change with the form, by id. */
  readonly planned = new Map<string, Column<string>>();
  /** The line a column is first placed on, by its id. */
  readonly placedOn = new Map<string, number>();
  /** What lines say of rules, by the column. */
  private readonly ruled: RuledLine[] = [];
  private readonly byHeading = new Map<string, Column<string>>();
  private readonly byFolded = new Map<string, Column<string>>();
  private readonly ofSheet: ReadonlySet<string>;

  constructor(
    private readonly ground: OutlineGround,
    private readonly tell: Tell,
    private readonly lineNow: () => number,
  ) {
    for (const column of [...ground.columns, ...(ground.planned ?? [])]) this.know(column);
    this.ofSheet = new Set(ground.columns.map(({ id }) => id));
  }

  byId(): ReadonlyMap<string, Column<string>> {
    const all = [...this.byHeading.values(), ...this.planned.values()];
    return new Map(all.map((column) => [column.id, column]));
  }

  called(heading: string): Column<string> | undefined {
    return this.byHeading.get(heading) ?? this.byFolded.get(foldText(heading));
  }

  /**
   * What the column of a line is called: what it says, else what the label names, else a short
   * name made of it that no other column has.
   */
  headingFor(said: string | undefined, label: string): string {
    if (said !== undefined) return said;
    const short = proposedHeading(label);
    if (short === label || this.called(label)) return label;
    for (let n = 1; ; n += 1) {
      const heading = n === 1 ? short : `${short} ${n}`;
      const known = this.called(heading);
      if (!known || !(this.ofSheet.has(known.id) || this.placedOn.has(known.id))) return heading;
    }
  }

  /**
   * The column a line is about: one of the sheet's, one that is planned, or a new one.
   *
   * @param kindAt where in its line the kind stands
   * @param line where another kind is told of; the line that is read where absent
   */
  columnFor(
    heading: string,
    { kind, settings, list, rules = [], ownRules = [], formula, shape }: LineDraft,
    kindAt: number,
    line?: number,
  ): Column<string> {
    const wanted =
      shape === 'boxes' ? { kind: 'yesNo' as const, settings: {} } : { kind, settings };
    const known = this.called(heading);
    const inSheet = known !== undefined && this.ofSheet.has(known.id);
    if (inSheet && known.kind !== wanted.kind) {
      const is = kindOf(known).label;
      const said = kindOf(wanted).label;
      const problem = { code: 'otherKind', heading: known.heading, is, said } as const;
      this.tell(problem, line, kindAt);
      return known;
    }
    const id = known?.id ?? this.ground.newId();
    if (rules.length + ownRules.length > 0) {
      const pieces = shape === 'boxes' ? [] : rules;
      this.ruled.push({ id, pieces, ownPieces: ownRules, line: line ?? this.lineNow() });
    }
    const { formula: held, ...before } = known?.settings ?? {};
    const written = formula !== undefined && formula !== bareFormula(held ?? '') ? formula : held;
    // Choices are typed or fed.
    const { choices: _typed, ...unfed } = before;
    const { list: _fed, ...typed } = before;
    const rest = list ? unfed : wanted.settings.choices ? typed : before;
    const fed = list && shape !== 'boxes' ? { list: tiedList(list, this.idOf) } : {};
    const said = { ...(inSheet ? rest : {}), ...wanted.settings, ...fed };
    const column: Column<string> = {
      ...(inSheet ? known : { id, heading, kind: wanted.kind }),
      settings: written === undefined ? said : { ...said, formula: written },
    };
    if (!inSheet || !isSame(column.settings, known.settings)) {
      this.planned.set(id, column);
      this.know(column);
    }
    return column;
  }

  /** Ties lists to columns that stood on later lines. */
  tieLists(): void {
    for (const [id, column] of this.planned) {
      const { list } = column.settings;
      if (!list) continue;
      this.planned.set(id, {
        ...column,
        settings: { ...column.settings, list: tiedList(list, this.idOf) },
      });
    }
  }

  /**
   * Reads what lines say of rules, which may be about columns of later lines.
   *
   * @returns the rules of fields alone, by the column they stand for
   */
  readRules(): ReadonlyMap<string, readonly Rule[]> {
    const ofFields = new Map<string, readonly Rule[]>();
    const columns = [...this.byId().values()];
    for (const { id, pieces, ownPieces, line } of this.ruled) {
      const column = this.byId().get(id);
      if (!column) continue;
      const read = (all: readonly RulePiece[]): Rule[] =>
        all.slice(0, MOST_RULES).flatMap((piece) => this.readRule(piece, column, columns, line));
      const own = read(ownPieces);
      if (own.length > 0) ofFields.set(id, own);
      if (pieces.length === 0) continue;
      const rules = read(pieces);
      if (isSame(column.settings.rules ?? [], rules)) continue;
      this.planned.set(id, { ...column, settings: { ...column.settings, rules } });
    }
    return ofFields;
  }

  private readRule(
    piece: RulePiece,
    column: Column<string>,
    columns: readonly Column<string>[],
    line: number,
  ): Rule[] {
    try {
      return [readRuleOf(piece, column, columns)];
    } catch (error) {
      if (!(error instanceof OutlineError)) throw error;
      this.tell(error.problem, line, error.at);
      return [];
    }
  }

  /** The id of the column that is called so; what it is called where there is none. */
  private readonly idOf = (heading: string): string => this.called(heading)?.id ?? heading;

  private know(column: Column<string>): void {
    this.byHeading.set(column.heading, column);
    this.byFolded.set(foldText(column.heading), column);
  }
}
