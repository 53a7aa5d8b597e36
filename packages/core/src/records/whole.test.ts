import fc from 'fast-check';
import { fill, prepareForm, TextEvaluator, TextFormulas, type FormDefinition } from '../forms';
import type { Column, KindId, Rule } from '../kinds';
import { brokenRules, columnsRead } from '../rules';
import { localeFacts, type Cells } from '../values';
import { judgeChange, judgeRestored, typedCells } from '.';

/**
 * The judge held against its definition, written out apart from it: a rule is asked where its
 * column, or one that it reads, through computed columns too, is another after the change than
 * before; over the whole record; whatever part of it is given, or a form shows.
 */
const locale = localeFacts('en-GB');
const now = 46_000;
const IDS = ['a', 'b', 'c', 'd'] as const;
type Id = (typeof IDS)[number];

/** `twice` is made of `a`. */
const COMPUTED = { twice: (cells: Cells): number => Number(cells['a'] ?? 0) * 2 };
const computing = {
  values: (cells: Cells): Cells => ({ twice: COMPUTED.twice(cells) }),
  reads: (id: string): string[] => (id === 'twice' ? ['a'] : [id]),
  atWriting: (): Cells => ({}),
};

const other = fc.constantFrom(...IDS, 'twice' as const);
const rule: fc.Arbitrary<Rule> = fc.oneof(
  fc.record({ n: fc.nat(6), always: fc.boolean() }).map(({ n, always }): Rule => ({
    must: { is: 'between', from: n },
    ...(always && { always }),
  })),
  other.map((columnId): Rule => ({ must: { is: 'compared', by: '<=', columnId } })),
  fc.record({ n: fc.nat(6), of: other }).map(({ n, of }): Rule => ({
    must: { is: 'between', to: n },
    when: { columnId: of, holds: 'blank' },
  })),
);
const sheetOf = (rules: Readonly<Record<string, readonly Rule[]>>): Map<string, Column> =>
  new Map(
    [...IDS, 'twice'].map((id): [string, Column] => {
      const kind: KindId = id === 'twice' ? 'computed' : 'number';
      const settings = { rules: rules[id] ?? [], ...(id === 'twice' && { formula: "='a'*2" }) };
      return [id, { id, heading: id, kind, settings }];
    }),
  );
const someRules = fc.dictionary(other, fc.array(rule, { maxLength: 2 }));
const record = fc.dictionary(fc.constantFrom(...IDS), fc.nat(6)) as fc.Arbitrary<Cells>;
const typed = fc.dictionary(fc.constantFrom(...IDS), fc.constantFrom('', '0', '2', '4', '6', 'x'), {
  minKeys: 1,
});

/** The rules that refuse a change, as `column rule`, by the definition alone. */
function refusing(columns: ReadonlyMap<string, Column>, before: Cells | null, after: Cells) {
  const whole = (cells: Cells): Cells => ({ ...cells, ...computing.values(cells) });
  const [was, is] = [before && whole(before), whole(after)];
  const isNew = (id: string): boolean => (was?.[id] ?? null) !== (is[id] ?? null);
  const isAny = IDS.some((id) => (before?.[id] ?? null) !== (after[id] ?? null));
  return [...columns.values()].flatMap((column) =>
    brokenRules(is[column.id] ?? null, column, { locale, now, cells: is, columns })
      .filter((each) => {
        if (!isAny) return false;
        if (each.always === true || !was) return true;
        return isNew(column.id) || columnsRead(each).some(isNew);
      })
      .map(() => column.id),
  );
}

/** The record with all that is typed, as far as it can be read. */
function typedOver(before: Cells | null, texts: Readonly<Record<string, string>>) {
  const after: Record<string, number> = { ...(before as Record<string, number>) };
  let isRead = true;
  for (const [id, text] of Object.entries(texts)) {
    if (text === 'x') isRead = false;
    else if (text === '') Reflect.deleteProperty(after, id);
    else after[id] = Number(text);
  }
  return { after, isRead };
}

const context = { locale, now, computing };

test('a change is refused just when its definition says so, and stores just what was given', () => {
  fc.assert(
    fc.property(someRules, fc.option(record), typed, (rules, before, texts) => {
      const columns = sheetOf(rules);
      const { after, isRead } = typedOver(before, texts);
      const judged = judgeChange(typedCells(texts), before, { columns, context });
      const isRefused = judged.verdicts.length > 0;
      const isBlank =
        Object.keys(after).length === 0 && (!before || Object.keys(before).length > 0);
      expect(isRefused).toBe(!isRead || isBlank || refusing(columns, before, after).length > 0);
      expect(judged.cells).toEqual(isRefused ? (before ?? {}) : after);
    }),
    { numRuns: 2000 },
  );
});

test('of what is written in part, nothing breaks a rule beside what was left out', () => {
  fc.assert(
    fc.property(someRules, fc.option(record), typed, (rules, before, texts) => {
      const columns = sheetOf(rules);
      const judged = judgeChange(typedCells(texts), before, { columns, context, partly: true });
      expect(refusing(columns, before, judged.cells)).toEqual([]);
      for (const id of judged.taken) {
        expect(judged.cells[id] ?? '').toEqual(texts[id] === '' ? '' : Number(texts[id]));
      }
    }),
    { numRuns: 2000 },
  );
});

test('a form that shows a part of the columns says and stores what the judge does', () => {
  const shown = fc.subarray<Id>([...IDS], { minLength: 1 });
  fc.assert(
    fc.property(someRules, fc.option(record), typed, shown, (rules, before, texts, ids) => {
      const columns = sheetOf(rules);
      const definition: FormDefinition = {
        blocks: ids.map((id) => ({ is: 'field', id: `f-${id}`, columnId: id })),
      };
      const form = prepareForm(definition, columns);
      const evaluator = new TextEvaluator(
        new TextFormulas({
          columns: [...columns.values()] as Column<string>[],
          moment: { locale, now: () => now },
        }),
      );
      const given = Object.fromEntries(
        ids.map((id) => [id, texts[id] ?? String((before?.[id] ?? '') as number | string)]),
      );
      const answers = Object.fromEntries(ids.map((id) => [`f-${id}`, given[id] ?? '']));
      const filling = fill(form, { answers }, { locale, now, held: before }, evaluator);
      const judged = judgeChange(typedCells(given), before, { columns, context });
      expect(filling.judged.cells).toEqual(judged.cells);
      expect(filling.verdicts.length > 0).toBe(judged.verdicts.length > 0);
      const told = new Set(judged.verdicts.map((each) => each.columnId));
      expect(new Set(filling.verdicts.map((each) => each.columnId))).toEqual(told);
    }),
    { numRuns: 1000 },
  );
});

test('what comes back is stored as it stood, and all that rules say of it is noted', () => {
  fc.assert(
    fc.property(someRules, fc.option(record), record, (rules, before, cells) => {
      const columns = sheetOf(rules);
      const judged = judgeRestored(cells, before, { columns, context });
      expect(judged.cells).toEqual(cells);
      expect(judged.verdicts.every(({ strictness }) => strictness === 'note')).toBe(true);
      const isSame = IDS.every((id) => (before?.[id] ?? null) === (cells[id] ?? null));
      const refused = refusing(columns, before, cells);
      if (!isSame) expect(judged.verdicts.length > 0).toBe(refused.length > 0);
    }),
  );
});
