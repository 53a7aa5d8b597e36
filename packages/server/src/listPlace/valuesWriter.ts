import type { ChangeValues, ValueChange, ValuesChanged, ValuesCount } from '@varn/contract';
import {
  isTyped,
  joinChoices,
  kindOf,
  sayCountOf,
  sayProblem,
  showValue,
  splitChoices,
  type CellValue,
  type ReadingContext,
  type SheetModel,
  type StoredColumn,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import { Refused } from '../http/refused';
import { Lists } from '../lists/lists';
import { ChangeLog } from '../log/changeLog';
import { Catalog, type SheetFacts } from '../store/catalog';
import { SheetCache } from '../store/sheetCache';
import { Pace } from '../turns';
import { changed, type RecordDecision, type WriteSite } from '../write/decision';
import { recordAt, withComputed } from '../write/recordWriter';
import { MANY_RECORDS, WritePath, type Decided } from '../write/writePath';

/** Records looked at, or decided, before it is asked whether others wait. */
const FEW = 50;
const MANY = 1000;
/** The most records one write changes. */
const MOST_RECORDS = 50_000;

/** Changes values of a column wherever they are stored: spellings folded into one, an item renamed. */
@Injectable()
export class ValuesWriter {
  constructor(
    private readonly catalog: Catalog,
    private readonly cache: SheetCache,
    private readonly lists: Lists,
    private readonly path: WritePath,
    private readonly log: ChangeLog,
  ) {}

  /** How many records hold values that are to become others. */
  async count(
    sheetId: string,
    columnId: string,
    changes: readonly ValueChange[],
  ): Promise<ValuesCount> {
    const { sheet, column } = this.columnOf(sheetId, columnId);
    const model = await this.cache.model(sheetId);
    const found = await holders(model, becomingIn(column, sheet, changes));
    return { count: found.length };
  }

  /** @throws Refused 409 where others hold them by now; 422 where the new value is none */
  async change(
    sheetId: string,
    columnId: string,
    { writeId, changes, count }: ChangeValues,
    writer: Writer,
  ): Promise<ValuesChanged> {
    const { sheet, column } = this.columnOf(sheetId, columnId);
    await this.lists.ready(sheet);
    const becoming = becomingIn(column, sheet, changes);
    const targets = readTargets(column, changes, this.lists.contextOf(sheet));
    const asked = ['changeValues', columnId, JSON.stringify(changes), String(count)];
    const order = { sheetId, writeId, writer, door: 'grid', asked };
    const isRepeat = await this.log.besideHasWrite(writeId);
    const model = await this.cache.model(sheetId);
    const found = isRepeat ? [] : await holders(model, becoming);
    if (!isRepeat) refuseOthers(found.length, count);
    const decide = function* (site: WriteSite): Generator<void, Decided> {
      const decisions: RecordDecision[] = [];
      for (const { id, revision } of found) {
        if (decisions.length % FEW === FEW - 1) yield;
        const stored = recordAt(site.model, id, revision);
        const after = becoming.after(stored.cells[columnId] ?? null, targets);
        const cells = { ...stored.cells, [columnId]: after };
        decisions.push(changed(stored, withComputed(cells, site.sheet, site.calculation)));
      }
      return { decisions, answer: { changed: decisions.length } };
    };
    const { answer } =
      found.length >= MANY_RECORDS
        ? await this.path.writeMany(order, decide)
        : await this.path.write(order, decide);
    return { writeId, ...(answer as { changed: number }) };
  }

  private columnOf(sheetId: string, columnId: string): { sheet: SheetFacts; column: StoredColumn } {
    const sheet = this.catalog.sheetInUse(sheetId);
    const column = sheet?.columnsById.get(columnId);
    if (!sheet || !column) throw Refused.notFound('column in this sheet');
    if (isTyped(column) && column.kind !== 'file') return { sheet, column };
    throw Refused.badRequest(
      'notTyped',
      `columnId: ${column.heading} is filled in by Varn or computed. Choose a column that people type.`,
    );
  }
}

/** What a cell becomes, told by the texts of what it holds. */
interface Becoming {
  readonly columnId: string;
  readonly isMeant: (value: CellValue) => boolean;
  readonly after: (value: CellValue, targets: ReadonlyMap<string, CellValue>) => CellValue;
}

function becomingIn(
  column: StoredColumn,
  { workbook: { locale } }: SheetFacts,
  changes: readonly ValueChange[],
): Becoming {
  const to = new Map(
    changes.flatMap(({ from, to: text }) => from.map((each) => [each, text] as const)),
  );
  // Values are few and records many.
  const told = new Map<CellValue, boolean>();
  const isMany = column.kind === 'severalChoices';
  const { separator } = column.settings;
  const textsOf = (value: CellValue): string[] =>
    isMany && typeof value === 'string'
      ? splitChoices(value, separator)
      : [showValue(value, column, locale)];
  return {
    columnId: column.id,
    isMeant(value) {
      if (value === null) return false;
      let is = told.get(value);
      if (is === undefined) {
        is = textsOf(value).some((text) => to.has(text));
        told.set(value, is);
      }
      return is;
    },
    after(value, targets) {
      const texts = textsOf(value).map((text) => to.get(text) ?? text);
      if (!isMany) return targets.get(texts[0] ?? '') ?? null;
      return joinChoices([...new Set(texts)], separator);
    },
  };
}

/** The values that texts become. @throws Refused 422 where one is no value of the column */
function readTargets(
  column: StoredColumn,
  changes: readonly ValueChange[],
  context: ReadingContext,
): Map<string, CellValue> {
  const targets = new Map<string, CellValue>();
  for (const { to } of changes) {
    const reading = kindOf(column).read(to, column, { ...context, asWritten: true });
    // What is kept may be on no list: it is what most records hold already.
    if (!reading.ok && !column.settings.list) throw Refused.unreadable(sayProblem(reading.problem));
    targets.set(to, reading.ok ? reading.value : to);
  }
  return targets;
}

/** The records that hold values that are meant. */
async function holders(
  model: SheetModel,
  { columnId, isMeant }: Becoming,
): Promise<{ id: string; revision: number }[]> {
  const pace = new Pace();
  const found: { id: string; revision: number }[] = [];
  for (let position = 0; position < model.count; position += 1) {
    if (position % MANY === 0) await pace.keep();
    if (position < model.count && isMeant(model.cellAt(position, columnId))) {
      found.push(model.headOf(model.slotAt(position)));
    }
  }
  return found;
}

function refuseOthers(found: number, count: number): void {
  if (found === 0) {
    throw Refused.badRequest(
      'nothingToDo',
      'No record holds these values any more. Look at them again.',
    );
  }
  if (found > MOST_RECORDS) {
    throw Refused.badRequest(
      'tooMany',
      `changes: at most ${sayCountOf(MOST_RECORDS, 'record')} are changed at once. Choose fewer values.`,
    );
  }
  if (found !== count) {
    throw Refused.conflict(
      'changedSince',
      `${sayCountOf(found, 'record')} hold these values by now, not ${count}. Look at them again.`,
    );
  }
}
