import {
  paths,
  type RecordView,
  type RowsView,
  type SheetView,
  type UndoView,
} from '@varn/contract';
import * as fc from 'fast-check';
import { randomUUID } from 'node:crypto';
import { SheetCache } from '../store/sheetCache';
import { start, type Client, type Running } from '../testing/harness';

/**
 * Any order of writes, by the grid's doors, against a plain list; and any number of them taken back
 * and done again, against what stood before and after each.
 */
let running: Running;
beforeAll(async () => {
  running = await start();
});
afterAll(() => running.stop());

type Step =
  | { readonly is: 'add'; readonly texts: readonly string[] }
  | { readonly is: 'change'; readonly at: number; readonly text: string; readonly column: 0 | 1 }
  | { readonly is: 'remove'; readonly at: number; readonly many: number }
  | { readonly is: 'move'; readonly at: number; readonly to: number }
  | { readonly is: 'takeBack' | 'again' | 'reread' };

/** A record as the list holds it: its two cells. */
type Pair = readonly [string | null, string | null];

const text = fc.constantFrom('', 'ash', 'beck', '007', 'x;y', '12', 'é');
const step: fc.Arbitrary<Step> = fc.oneof(
  {
    weight: 3,
    arbitrary: fc.record({
      is: fc.constant('add' as const),
      texts: fc.array(
        text.filter((each) => each !== ''),
        { minLength: 1, maxLength: 3 },
      ),
    }),
  },
  {
    weight: 3,
    arbitrary: fc.record({
      is: fc.constant('change' as const),
      at: fc.nat(9),
      text,
      column: fc.constantFrom(0 as const, 1 as const),
    }),
  },
  {
    weight: 2,
    arbitrary: fc.record({
      is: fc.constant('remove' as const),
      at: fc.nat(9),
      many: fc.integer({ min: 1, max: 3 }),
    }),
  },
  {
    weight: 2,
    arbitrary: fc.record({ is: fc.constant('move' as const), at: fc.nat(9), to: fc.nat(9) }),
  },
  {
    weight: 3,
    arbitrary: fc.record({
      is: fc.constantFrom('takeBack' as const, 'again' as const, 'reread' as const),
    }),
  },
);

/** A sheet of two columns of text, and the writes on it. */
class Sheet {
  private constructor(
    private readonly who: Client,
    private readonly id: string,
    private readonly columns: readonly string[],
  ) {}

  static async make(): Promise<Sheet> {
    const { owner, workbook } = running;
    const body = {
      writeId: randomUUID(),
      name: `List ${randomUUID().slice(0, 8)}`,
      headings: ['A', 'B'],
    };
    const { body: made } = await owner.ask<SheetView>('POST', paths.sheets(workbook.id), body);
    return new Sheet(
      owner,
      made.id,
      made.columns.map(({ id }) => id),
    );
  }

  async records(): Promise<RecordView[]> {
    return (await this.who.get<RowsView>(paths.rows(this.id, 0, 100))).records;
  }

  async pairs(): Promise<Pair[]> {
    const said = (value: unknown) => (typeof value === 'string' ? value : null);
    return (await this.records()).map(({ cells }) => [said(cells[0]), said(cells[1])]);
  }

  /** @returns whether it was written */
  async do(step: Step): Promise<boolean> {
    const records = await this.records();
    const { revision } = await this.who.get<SheetView>(paths.sheet(this.id));
    const write = { writeId: randomUUID(), revision };
    const at = ({ id, revision: seen }: RecordView) => ({ id, revision: seen });
    const [a = '', b = ''] = this.columns;
    const send = async (path: string, body: object): Promise<boolean> => {
      const { status } = await this.who.ask('POST', path, { ...write, ...body });
      if (status >= 300) throw new Error(`${path} was answered with ${status}`);
      return true;
    };
    switch (step.is) {
      case 'add':
        return send(paths.cells(this.id), {
          added: step.texts.map((each) => ({ answers: { [a]: each } })),
        });
      case 'change': {
        const record = records[step.at];
        const column = step.column === 0 ? a : b;
        const other = record?.cells[1 - step.column] ?? null;
        if (!record || (record.cells[step.column] ?? '') === step.text) return false;
        // A record with nothing in it is refused; that is tested elsewhere.
        if (step.text === '' && other === null) return false;
        return send(paths.cells(this.id), {
          records: [{ ...at(record), answers: { [column]: step.text } }],
        });
      }
      case 'remove': {
        const gone = records.slice(step.at, step.at + step.many);
        return (
          gone.length > 0 && send(paths.removeRows(this.id), { records: gone.map(at), rows: [] })
        );
      }
      case 'move': {
        const record = records[step.at];
        if (!record || step.to > records.length || step.to === step.at || step.to === step.at + 1)
          return false;
        return send(paths.moveRows(this.id), {
          records: [at(record)],
          rows: [],
          above: step.to + 2,
        });
      }
      case 'takeBack':
      case 'again': {
        const { workbook } = running;
        const { undo, redo } = await this.who.get<UndoView>(paths.undo(workbook.id));
        const entry = step.is === 'again' ? redo : undo;
        return (
          entry !== null &&
          send(paths.undo(workbook.id), { undoes: entry.writeId, revision: undefined })
        );
      }
      case 'reread':
        running.app.get(SheetCache).drop(this.id);
        return true;
    }
  }
}

/** What a step makes of the list. */
function after(list: readonly Pair[], step: Step): Pair[] {
  switch (step.is) {
    case 'add':
      return [...list, ...step.texts.map((each): Pair => [each, null])];
    case 'change':
      return list.map(([a, b], n): Pair => {
        if (n !== step.at) return [a, b];
        const now = step.text === '' ? null : step.text;
        return step.column === 0 ? [now, b] : [a, now];
      });
    case 'remove':
      return list.filter((_, n) => n < step.at || n >= step.at + step.many);
    case 'move': {
      const rest = list.filter((_, n) => n !== step.at);
      const to = step.to > step.at ? step.to - 1 : step.to;
      return [...rest.slice(0, to), ...list.slice(step.at, step.at + 1), ...rest.slice(to)];
    }
    default:
      return [...list];
  }
}

test('whatever is written, taken back and done again, the sheet is what a list would be', async () => {
  await fc.assert(
    fc.asyncProperty(fc.array(step, { minLength: 4, maxLength: 14 }), async (steps) => {
      const sheet = await Sheet.make();
      // What stood before each write that can be taken back, and after each that was.
      const past: Pair[][] = [];
      const future: Pair[][] = [];
      let now: Pair[] = [];
      for (const each of steps) {
        if (each.is === 'takeBack' || each.is === 'again') {
          const [from, to] = each.is === 'takeBack' ? [past, future] : [future, past];
          if (from.length === 0) continue;
          expect(await sheet.do(each)).toBe(true);
          to.push(now);
          now = from.pop() ?? [];
        } else if (await sheet.do(each)) {
          if (each.is !== 'reread') {
            past.push(now);
            future.length = 0;
          }
          now = after(now, each);
        }
        expect([each, await sheet.pairs()]).toEqual([each, now]);
      }
      while (past.length > 0) {
        await sheet.do({ is: 'takeBack' });
        expect(await sheet.pairs()).toEqual(past.pop());
      }
    }),
    {
      numRuns: 25,
      // A record that was moved, removed and put back stood under another revision.
      examples: [
        [
          [
            { is: 'add', texts: ['12', '12'] },
            { is: 'move', at: 1, to: 0 },
            { is: 'remove', at: 0, many: 1 },
            { is: 'remove', at: 0, many: 1 },
          ],
        ],
      ],
    },
  );
});

test('writes beside one another leave each record as its last accepted write had it', async () => {
  const sheet = await Sheet.make();
  const texts = ['ash', 'beck', 'fen', 'holm'];
  await sheet.do({ is: 'add', texts });
  const tries = Array.from({ length: 40 }, (_, n) => ({ at: n % texts.length, text: `by ${n}` }));
  const done = await Promise.allSettled(
    tries.map(({ at, text: typed }) => sheet.do({ is: 'change', at, text: typed, column: 1 })),
  );
  const taken = tries.filter((_, n) => done[n]?.status === 'fulfilled');
  const pairs = await sheet.pairs();
  // One of those that were accepted stands, never a mixture; what was refused left no trace.
  for (const [at, [a, b]] of pairs.entries()) {
    expect(a).toBe(texts[at]);
    expect(taken.filter((each) => each.at === at).map((each) => each.text)).toContain(b);
  }
  const records = await sheet.records();
  for (const [at, { revision }] of records.entries()) {
    expect(revision).toBe(1 + taken.filter((each) => each.at === at).length);
  }
});
