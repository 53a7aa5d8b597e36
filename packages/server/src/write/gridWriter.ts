import type {
  CellRefusal,
  EditCells,
  FreeRowEdit,
  InsertRows,
  Landed,
  MoveRows,
  NewRecord,
  RecordEdit,
  RemoveRows,
  RowLanded,
  Written,
} from '@varn/contract';
import { MOST_CELLS, MOST_COLUMNS } from '@varn/contract';
import {
  bindFormula,
  isBlankCell,
  restyled,
  judgeChange,
  judgeWrite,
  ORDER_GAP,
  readFree,
  resultKind,
  sayFormulaProblem,
  sayProblem,
  typedCells,
  type Calculation,
  type Cells,
  type StoredFreeCell,
  type StoredFreeCells,
  type StoredFreeRow,
  type StoredFreeRows,
  type Judged,
  type SheetModel,
  type StoredRecord,
  type Verdict,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import { Calculator } from '../calculation/calculator';
import { Refused } from '../http/refused';
import { newId } from '../ids';
import { Catalog, type SheetFacts } from '../store/catalog';
import { nextTurn, Pace } from '../turns/turns';
import {
  changed,
  moved,
  removed,
  reshaped,
  rowAdded,
  rowChanged,
  rowMoved,
  rowRemoved,
  type Decision,
  type WriteSite,
} from './decision';
import { FormNotes } from './formNotes';
import { keyChangesOf, keyGround } from './keys';
import { isRowLine } from '../log/line';
import { landedOf } from '../log/told';
import { filledOf, groundOf, newRecord, type Origin } from './judging';
import { recordAt } from './recordWriter';
import { cellsOf, Pieces } from './pieces';
import type { Decided } from './deciding';
import { WritePath, type Done } from './writePath';

type Lists = CellRefusal['list'];

/** Writes what is done in the grid: cells typed and pasted, rows put in, taken out and moved. */
@Injectable()
export class GridWriter {
  constructor(
    private readonly path: WritePath,
    private readonly calculator: Calculator,
    private readonly catalog: Catalog,
  ) {}

  /** Writes cells of a sheet as one write; all of them, or if asked those that can be. */
  async edit(sheetId: string, edits: EditCells, writer: Writer): Promise<Written> {
    checkSize(edits);
    // It took its time to be read.
    await nextTurn();
    const { writeId, records = [], added: fresh = [], rows = [] } = edits;
    refuseTwice(
      records,
      rows.map(({ row }) => row),
    );
    const { workbook } = this.sheetOf(sheetId);
    const typesFormula = rows.some(({ cells }) =>
      Object.values(cells).some((text) => text.trim().startsWith('=')),
    );
    // Formulas are tied to the sheets they name, which must be at hand for it.
    if (typesFormula) await this.calculator.of(workbook.id);
    const order = this.order(sheetId, writeId, writer, ['edit', JSON.stringify(edits)]);
    const decide = (site: WriteSite): Generator<undefined, Decided> =>
      this.decideEdit(site, edits, writer);
    const typed = [...records, ...fresh].map(({ answers }) => answers);
    const done =
      rows.length > 0
        ? await this.path.write(order, decide)
        : await this.path.writeSome(order, decide, {
            records: typed.length,
            cells: cellsOf(typed),
          });
    return this.written(writeId, done);
  }

  /** Puts blank rows in, above the heading or in a sheet without records. */
  async insertRows(sheetId: string, insert: InsertRows, writer: Writer): Promise<Written> {
    const { writeId, revision, at, count } = insert;
    const order = this.order(sheetId, writeId, writer, ['insert', `${at}`, `${count}`]);
    const done = await this.path.write(order, ({ sheet, rows }) => {
      guardShape(sheet, revision, true);
      if (at > rows.count + 1) {
        throw Refused.badRequest(
          'noSuchRow',
          `at: rows are put in above row ${rows.count + 1} at the latest; records are added below the others.`,
        );
      }
      const keys = keysBetween(rows.at(at - 2)?.orderKey, rows.at(at - 1)?.orderKey, count);
      return { decisions: keys.map((orderKey) => rowAdded(blankRow(orderKey))) };
    });
    return this.written(writeId, done);
  }

  /** Sends records and free rows to the bin. */
  async removeRows(sheetId: string, remove: RemoveRows, writer: Writer): Promise<Written> {
    const { writeId, revision, records, rows: numbers } = remove;
    refuseTwice(records, numbers);
    const asked = ['removeRows', JSON.stringify(records), JSON.stringify(numbers)];
    const order = this.order(sheetId, writeId, writer, asked);
    const done = await this.path.write(order, ({ sheet, model, rows }) => {
      guardShape(sheet, revision, numbers.length > 0);
      const free = numbers.map((number) => freeRowAt(rows, number));
      const decisions = [
        ...records.map((at) => removed(recordAt(model, at.id, at.revision))),
        ...free.map(rowRemoved),
      ];
      return { decisions };
    });
    return this.written(writeId, done);
  }

  /** Puts records or free rows above another row. */
  async moveRows(sheetId: string, move: MoveRows, writer: Writer): Promise<Written> {
    const { writeId, revision, records, rows: numbers, above } = move;
    refuseTwice(records, numbers);
    const asked = ['moveRows', JSON.stringify(records), JSON.stringify(numbers), `${above}`];
    const order = this.order(sheetId, writeId, writer, asked);
    const done = await this.path.write(order, ({ sheet, model, rows }) => {
      guardShape(sheet, revision, true);
      if (records.length > 0) return { decisions: movedRecords(records, above, sheet, model) };
      const going = numbers.map((number) => freeRowAt(rows, number));
      const staying = rows.all().filter((row) => !going.includes(row));
      const target = rows.at(above - 1);
      const before = staying.findIndex((row) => row.orderKey >= (target?.orderKey ?? Infinity));
      const at = before < 0 ? staying.length : before;
      const keys = keysBetween(staying[at - 1]?.orderKey, staying[at]?.orderKey, going.length);
      return { decisions: going.map((row, n) => rowMoved(row, keys[n] ?? row.orderKey)) };
    });
    return this.written(writeId, done);
  }

  private *decideEdit(
    site: WriteSite,
    { revision, records = [], added: fresh = [], rows = [], partly = false }: EditCells,
    writer: Writer,
  ): Generator<undefined, Decided> {
    guardShape(site.sheet, revision, rows.length > 0);
    const notes = new FormNotes(this.catalog.formsOf(site.sheet.id), site.sheet.columnsById);
    const calculation = this.calculator.loaded(site.sheet.workbook.id);
    const batch = new Edit(site, writer, calculation, notes, { partly });
    yield* batch.editRecords(records);
    yield* batch.addRecords(fresh);
    batch.editRows(rows);
    batch.refuseTakenKeys();
    const { decisions } = batch;
    const refused = batch.refusals();
    if (refused.length > 0 && !partly) throw Refused.byCells(refused);
    const { told } = notes;
    return { decisions, answer: { refused, ...(told.length > 0 && { notes: told }) } };
  }

  private order(sheetId: string, writeId: string, writer: Writer, asked: string[]) {
    return { sheetId, writeId, writer, door: 'grid' as const, asked };
  }

  private async written(writeId: string, { changes, answer }: Done): Promise<Written> {
    const pace = new Pace();
    const pieces = new Pieces();
    const records: Landed[] = [];
    const rows: RowLanded[] = [];
    for (const change of changes) {
      const landed = landedOf(change, this.sheetOf(change.sheetId));
      if (landed) records.push(landed);
      else if (isRowLine(change)) rows.push({ rowId: change.rowId, revision: change.revision });
      if (pieces.isOver(landed?.cells)) await pace.keep();
    }
    const { refused = [], notes } = (answer ?? {}) as Partial<Pick<Written, 'refused' | 'notes'>>;
    return {
      ...(notes && { notes }),
      writeId,
      seq: changes.at(-1)?.seq ?? 0,
      records,
      rows,
      refused,
    };
  }

  private sheetOf(sheetId: string): SheetFacts {
    const sheet = this.catalog.sheet(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    return sheet;
  }
}

/** Reads the cells of one write, and gathers what is to be done and what cannot be. */
export class Edit {
  decisions: Decision[] = [];
  private readonly refused: CellRefusal[] = [];
  /** Where in the request each record's decision is from. */
  private readonly partly: boolean;
  private readonly origin: Origin;
  /** What Varn fills in of each new record of the write. */
  private readonly filled: Cells;
  private readonly origins = new Map<Decision, { list: Lists; at: number }>();

  constructor(
    private readonly site: WriteSite,
    private readonly writer: Writer,
    private readonly calculation: Calculation | null,
    private readonly notes: FormNotes,
    { partly, door = 'Grid' }: { readonly partly: boolean; readonly door?: string },
  ) {
    this.partly = partly;
    this.origin = { by: writer.name, door };
    this.filled = filledOf(site, this.origin);
  }

  *editRecords(edits: readonly RecordEdit[]): Generator<undefined, void> {
    const pieces = new Pieces();
    for (const [at, { id, revision, answers, meant }] of edits.entries()) {
      if (pieces.isOver(answers)) yield;
      const stored = recordAt(this.site.model, id, revision);
      const judged = this.judge('records', at, answers, meant, stored);
      if (judged.taken.size > 0) {
        const decision = changed(stored, judged);
        this.origins.set(decision, { list: 'records', at });
        this.decisions.push(decision);
      }
    }
  }

  *addRecords(fresh: readonly NewRecord[]): Generator<undefined, void> {
    let nextKey = this.site.model.nextOrderKey();
    const pieces = new Pieces();
    for (const [at, { answers, meant, above }] of fresh.entries()) {
      if (pieces.isOver(answers)) yield;
      const judged = this.judge('added', at, answers, meant, null);
      if (Object.keys(judged.cells).length === 0) continue;
      const orderKey = above === undefined ? nextKey : keyAbove(this.site.model, above);
      const decision = newRecord(this.site, judged, orderKey, this.origin);
      this.origins.set(decision, { list: 'added', at });
      this.decisions.push(decision);
      if (above === undefined) nextKey += ORDER_GAP;
    }
  }

  /** Leaves out records whose key is another's. */
  refuseTakenKeys(): void {
    const ofRecords = this.decisions.filter((decision) => this.origins.has(decision));
    const out = new Set<Decision>();
    for (const verdict of judgeWrite(keyChangesOf(ofRecords), keyGround(this.site))) {
      const decision = ofRecords[verdict.at];
      const origin = decision && this.origins.get(decision);
      if (!decision || !origin) continue;
      out.add(decision);
      this.refuse(origin.list, origin.at, verdict);
    }
    this.decisions = this.decisions.filter((decision) => !out.has(decision));
  }

  /** What was refused; of new records with which record was written without it. */
  refusals(): CellRefusal[] {
    const written = new Map<number, string>();
    for (const decision of this.decisions) {
      const origin = this.origins.get(decision);
      if (origin?.list === 'added' && decision.part === 'record') {
        written.set(origin.at, decision.record.id);
      }
    }
    return this.refused.map((refusal) => {
      const recordId = refusal.list === 'added' ? written.get(refusal.at) : undefined;
      return recordId === undefined ? refusal : { ...refusal, recordId };
    });
  }

  editRows(edits: readonly FreeRowEdit[]): void {
    if (edits.length === 0) return;
    const { sheet, rows } = this.site;
    const columns = [...sheet.columns.map(({ id }) => id), ...sheet.looseColumns];
    const widest = edits.reduce((most, edit) => Math.max(most, ...placesIn(edit).map(Number)), -1);
    const loose = Array.from({ length: Math.max(0, widest + 1 - columns.length) }, newId);
    if (loose.length > 0) {
      columns.push(...loose);
      this.decisions.push(reshaped(sheet, { looseColumns: [...sheet.looseColumns, ...loose] }));
    }
    const last = edits.reduce((most, { row }) => Math.max(most, row), 0);
    if (sheet.hasRecords && last > rows.count) {
      throw Refused.badRequest('noSuchRow', `rows: row ${last} is not above the heading.`);
    }
    const made = this.rowsUpTo(last);
    edits.forEach((edit, at) => {
      const fresh = made.get(edit.row);
      const row = fresh ?? freeRowAt(rows, edit.row);
      if (edit.revision !== undefined && !fresh) guardRow(row, edit.revision);
      const cells = this.freeCells(row, edit, at, columns);
      if (!cells) return;
      if (fresh) made.set(edit.row, { ...row, cells });
      else this.decisions.push(rowChanged(row, cells));
    });
    for (const row of made.values()) this.decisions.push(rowAdded(row));
  }

  /** Rows that a write below the last one makes. */
  private rowsUpTo(last: number): Map<number, StoredFreeRow> {
    const { rows } = this.site;
    const made = new Map<number, StoredFreeRow>();
    let orderKey = rows.at(rows.count - 1)?.orderKey ?? 0;
    for (let number = rows.count + 1; number <= last; number += 1) {
      orderKey += ORDER_GAP;
      made.set(number, blankRow(orderKey));
    }
    return made;
  }

  private freeCells(
    row: StoredFreeRow,
    { cells: texts, shown = {}, styles = {} }: FreeRowEdit,
    at: number,
    columns: readonly string[],
  ): StoredFreeCells | null {
    const cells: Record<string, StoredFreeCell> = { ...row.cells };
    const touched = new Set<string>();
    const put = (id: string, cell: StoredFreeCell | null): void => {
      if (!cell) return;
      touched.add(id);
      if (isBlankCell(cell)) Reflect.deleteProperty(cells, id);
      else cells[id] = cell;
    };
    for (const [index, look] of Object.entries(shown)) {
      const id = columns[Number(index)] ?? '';
      const { kind: _kind, settings: _settings, ...bare } = cells[id] ?? {};
      put(id, look ? { ...bare, kind: look.kind, settings: look.settings ?? {} } : bare);
    }
    for (const [index, change] of Object.entries(styles)) {
      const id = columns[Number(index)] ?? '';
      const { style: held, ...bare } = cells[id] ?? {};
      const style = restyled(held, change);
      put(id, style ? { ...bare, style } : bare);
    }
    for (const [index, text] of Object.entries(texts)) {
      const id = columns[Number(index)] ?? '';
      const { style } = cells[id] ?? {};
      const cell = this.freeCell(text, cells[id], at, index);
      // What stands out does so whatever is typed into it.
      put(id, cell && style ? { ...cell, style } : cell);
    }
    return touched.size > 0 ? cells : null;
  }

  private freeCell(
    text: string,
    held: StoredFreeCell | undefined,
    at: number,
    index: string,
  ): StoredFreeCell | null {
    const { sheet, now } = this.site;
    const { locale } = sheet.workbook;
    const reading = readFree(text, held, { locale, now });
    if (reading.what === 'cell') return reading.cell;
    if (reading.what === 'problem') {
      this.put('rows', at, index, reading.problem.code, sayProblem(reading.problem));
      return null;
    }
    const grid = this.calculation?.sheet(sheet.id);
    if (!this.calculation || !grid) throw new Error('the formulas of the workbook are not at hand');
    const home = { sheet: grid, inRecord: false };
    const bound = bindFormula(reading.text, home, this.calculation, locale);
    if (!bound.ok) {
      const { problem } = bound;
      const start = text.lastIndexOf(reading.text);
      this.put('rows', at, index, problem.code, sayFormulaProblem(problem), {
        from: problem.from + start,
        to: problem.to + start,
      });
      return null;
    }
    const look = held?.kind
      ? { kind: held.kind, settings: held.settings ?? {} }
      : (resultKind(bound.expression, this.calculation) ?? {});
    return { formula: bound.formula, ...look };
  }

  private judge(
    list: Lists,
    at: number,
    answers: Readonly<Record<string, string>>,
    meant: readonly string[] = [],
    stored: StoredRecord | null,
  ): Judged {
    const { sheet } = this.site;
    if (Object.keys(answers).some((id) => !sheet.columnsById.has(id))) {
      throw Refused.notFound('column in this sheet');
    }
    const judged = judgeChange(typedCells(answers), stored?.cells ?? null, {
      ...groundOf(this.site),
      ...(!stored && { filled: this.filled }),
      checksOf: this.notes.checksOf,
      meant: new Set(meant),
      partly: this.partly,
    });
    for (const verdict of judged.verdicts) {
      if (verdict.strictness === 'note') this.notes.put(verdict);
      else this.refuse(list, at, verdict);
    }
    return judged;
  }

  private refuse(list: Lists, at: number, { columnId, problem, strictness }: Verdict): void {
    this.put(list, at, columnId, problem.code, sayProblem(problem), {
      strictness,
      ...(problem.code === 'keyTaken' && { row: problem.row }),
    });
  }

  private put(
    list: Lists,
    at: number,
    column: string,
    code: string,
    message: string,
    more: Partial<CellRefusal> = {},
  ): void {
    this.refused.push({ list, at, column, code, message, strictness: 'refuse', ...more });
  }
}

const blankRow = (orderKey: number): StoredFreeRow => ({
  id: newId(),
  orderKey,
  revision: 1,
  cells: {},
});

/** The columns an edit of a row is about, by their places. */
const placesIn = ({ cells, shown = {}, styles = {} }: FreeRowEdit): string[] =>
  [cells, shown, styles].flatMap((each) => Object.keys(each));

function checkSize({ records = [], added: fresh = [], rows = [] }: EditCells): void {
  let cells = 0;
  for (const { answers } of [...records, ...fresh]) cells += Object.keys(answers).length;
  for (const row of rows) {
    const places = placesIn(row);
    cells += places.length;
    const wrong = places.find((place) => !/^\d{1,4}$/.test(place) || Number(place) >= MOST_COLUMNS);
    if (wrong !== undefined) {
      throw Refused.badRequest(
        'noSuchColumn',
        `rows: ‘${wrong.slice(0, 20)}’ is not the place of a column.`,
      );
    }
  }
  if (cells > MOST_CELLS) {
    throw Refused.tooLarge(
      `${cells} cells are more than one write may touch: ${MOST_CELLS}. Write them in parts.`,
    );
  }
}

/** One write changes a record or a row once. */
function refuseTwice(records: readonly { readonly id: string }[], rows: readonly number[]): void {
  const keys = [
    ...records.map(({ id }) => `record ${id.slice(0, 50)}`),
    ...rows.map((n) => `row ${n}`),
  ];
  const seen = new Set<string>();
  for (const key of keys) {
    if (seen.has(key)) {
      throw Refused.badRequest('namedTwice', `The ${key} is named twice. Name each once.`);
    }
    seen.add(key);
  }
}

/** Rows and columns are named by where they stand: they must stand there still. */
function guardShape(sheet: SheetFacts, revision: number, byPlace: boolean): void {
  if (!byPlace || sheet.revision === revision) return;
  throw Refused.conflict(
    'changedSince',
    'Rows or columns were moved since. Look at the sheet again.',
  );
}

function freeRowAt(rows: StoredFreeRows, number: number): StoredFreeRow {
  const row = rows.at(number - 1);
  if (!row)
    throw Refused.badRequest('noSuchRow', `There is no row ${number} outside of the records.`);
  return row;
}

function guardRow(row: StoredFreeRow, revision: number): void {
  if (row.revision === revision) return;
  throw Refused.conflict(
    'changedSince',
    'The row was changed since by someone else. Look at it again.',
  );
}

/** Order keys between two others, evenly apart. */
function keysBetween(
  before: number | undefined,
  after: number | undefined,
  count: number,
): number[] {
  const low = before ?? (after === undefined ? 0 : after - ORDER_GAP * (count + 1));
  const high = after ?? low + ORDER_GAP * (count + 1);
  const step = (high - low) / (count + 1);
  const keys = Array.from({ length: count }, (_, n) => low + step * (n + 1));
  if (new Set([low, ...keys, high]).size < count + 2) {
    throw Refused.conflict('noRoom', 'No more rows fit here. Put them in one row higher or lower.');
  }
  return keys;
}

function keyAbove(model: SheetModel, recordId: string): number {
  if (!model.has(recordId)) throw Refused.notFound('record in this sheet');
  const position = model.positionOf(recordId);
  const before = position > 0 ? model.at(position - 1).orderKey : undefined;
  return keysBetween(before, model.get(recordId).orderKey, 1)[0] ?? 0;
}

function movedRecords(
  records: readonly { id: string; revision: number }[],
  above: number,
  sheet: SheetFacts,
  model: SheetModel,
): Decision[] {
  const going: StoredRecord[] = records.map(({ id, revision }) => recordAt(model, id, revision));
  const ids = new Set(going.map(({ id }) => id));
  const target = above - sheet.headingRow - 1;
  if (target < 0 || target > model.count) {
    throw Refused.badRequest('noSuchRow', `above: there is no record's row ${above}.`);
  }
  let at = target;
  while (at < model.count && ids.has(model.at(at).id)) at += 1;
  let before = target - 1;
  while (before >= 0 && ids.has(model.at(before).id)) before -= 1;
  const low = before >= 0 ? model.at(before).orderKey : undefined;
  const high = at < model.count ? model.at(at).orderKey : undefined;
  const keys =
    high === undefined
      ? going.map((_, n) => model.nextOrderKey() + n * ORDER_GAP)
      : keysBetween(low, high, going.length);
  return going.map((record, n) => moved(record, keys[n] ?? record.orderKey));
}
