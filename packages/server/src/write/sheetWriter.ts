import type { AddName, AddSheet, ChangeSheet } from '@varn/contract';
import {
  bindFormula,
  printSheetName,
  sayFormulaProblem,
  type Calculation,
  type Column,
  type RangeName,
} from '@varn/core';
import { Injectable } from '@nestjs/common';
import type { Writer } from '../access/access';
import { randomUUID } from 'node:crypto';
import { Calculator } from '../calculation/calculator';
import { Refused } from '../http/refused';
import { digestOf, newId } from '../ids';
import { Catalog, type SheetFacts } from '../store/catalog';
import { FreeRowEntity, Sheet } from '../store/entities';
import { refuseTaken } from './columns';
import { named, reshaped, type Decision } from './decision';
import { StructureWriter } from './structureWriter';
import { WritePath } from './writePath';

/** Free rows and columns a new sheet of free cells begins with. */
const FIRST_ROWS = 40;
const FIRST_COLUMNS = 10;
const ROW_GAP = 1024;

/** Adds, changes and removes sheets, and gives ranges of them names. Ids stay. */
@Injectable()
export class SheetWriter {
  constructor(
    private readonly path: WritePath,
    private readonly structure: StructureWriter,
    private readonly catalog: Catalog,
    private readonly calculator: Calculator,
  ) {}

  /** Adds a sheet: with a record block under headings, or of free cells. @returns its id */
  async addSheet(
    workbookId: string,
    order: AddSheet,
    writer: Writer,
    { hasRecords = order.headings.length > 0 } = {},
  ): Promise<string> {
    const { writeId, headings } = order;
    const name = order.name.trim();
    headings.forEach((heading, n) => refuseTaken(heading, headings.slice(0, n)));
    const digest = digestOf(writer.id, 'addSheet', workbookId, JSON.stringify(order));
    const id = newId();
    const made = await this.structure.write(
      { writeId, writer, kind: 'sheetAdded', digest },
      async (em) => {
        const others = this.catalog.allSheetsOf(workbookId);
        refuseNameTaken(name, others);
        await em.insert(Sheet, {
          id,
          workbook: workbookId,
          name,
          place: Math.max(-1, ...others.map(({ place }) => place)) + 1,
          columns: headings.map((heading): Column<never> => ({
            id: newId(),
            heading: heading.trim(),
            kind: 'text',
            settings: {},
          })),
          revision: 1,
          arriving: false,
          hasRecords,
          looseColumns: hasRecords ? [] : Array.from({ length: FIRST_COLUMNS }, newId),
          lostColumns: [],
          look: {},
        });
        for (let n = 1; !hasRecords && n <= FIRST_ROWS; n += 1) {
          const row = { id: newId(), sheet: id, orderKey: n * ROW_GAP, revision: 1, cells: {} };
          await em.insert(FreeRowEntity, row);
        }
        return { workbookId, sheetId: id, answer: id };
      },
    );
    this.calculator.drop(workbookId);
    return made;
  }

  /** Renames, moves, or changes the look of a sheet. */
  changeSheet(sheetId: string, change: ChangeSheet, writer: Writer): Promise<void> {
    const { revision, name, place, look, looseColumns } = change;
    return this.path.reshape(sheetId, revision, writer, (sheet) => {
      const others = this.catalog.sheetsOf(sheet.workbook.id).filter(({ id }) => id !== sheetId);
      if (name !== undefined) refuseNameTaken(name.trim(), others);
      const decisions: Decision[] = [];
      if (place !== undefined) {
        // The others close up around it.
        const order = others.toSpliced(place, 0, sheet);
        order.forEach((each, n) => {
          if (each.id !== sheetId && each.place !== n) decisions.push(reshaped(each, { place: n }));
        });
        decisions.push(reshaped(sheet, { place: Math.min(place, others.length) }));
      }
      if (name !== undefined || look || looseColumns) {
        decisions.push(
          reshaped(
            { ...sheet, place: place ?? sheet.place },
            {
              ...(name !== undefined && { name: name.trim() }),
              ...(look && { look: { ...look } }),
              ...(looseColumns && { looseColumns: looseFrom(sheet, looseColumns) }),
            },
          ),
        );
      }
      return decisions;
    });
  }

  removeSheet(sheetId: string, revision: number, writer: Writer): Promise<void> {
    return this.path.reshape(sheetId, revision, writer, (sheet) => {
      if (this.catalog.sheetsOf(sheet.workbook.id).length === 1) {
        throw Refused.conflict('lastSheet', 'A workbook keeps at least one sheet.');
      }
      return [reshaped(sheet, { removed: true })];
    });
  }

  /** Gives a range of a sheet a name. */
  async addName(sheetId: string, { writeId, name, range }: AddName, writer: Writer): Promise<void> {
    const calculation = await this.formulasOf(sheetId);
    const called = name.trim();
    if (!NAME.test(called) || /^(?:true|false|[a-z]{1,4}\d*)$/i.test(called)) {
      throw Refused.badRequest(
        'notAName',
        `name: ‘${called.slice(0, 60)}’ could be mistaken. Begin with a letter, use letters, digits and _ only, and nothing like a cell.`,
      );
    }
    const asked = ['addName', called, range];
    await this.path.write({ sheetId, writeId, writer, door: 'grid', asked }, ({ sheet }) => {
      const { names } = sheet.workbook;
      if (names.some((each) => each.name.toLowerCase() === called.toLowerCase())) {
        throw Refused.conflict(
          'nameTaken',
          `Another range is called ${called}. Choose another name.`,
        );
      }
      const home = calculation.sheet(sheetId);
      if (!home) throw Refused.notFound('sheet');
      const written = range.includes('!') ? range : `${printSheetName(sheet.name)}!${range}`;
      const bound = bindFormula(
        written,
        { sheet: home, inRecord: false },
        calculation,
        sheet.workbook.locale,
      );
      if (!bound.ok) {
        throw Refused.badRequest('notARange', `range: ${sayFormulaProblem(bound.problem)}`);
      }
      const { expression } = bound;
      if (expression.type !== 'reference' || expression.reference.kind === 'name') {
        throw Refused.badRequest('notARange', 'range: Write one range, such as B4:B9.');
      }
      const added: RangeName = { id: newId(), name: called, reference: expression.reference };
      return { decisions: [named(names, [...names, added])] };
    });
  }

  async removeName(sheetId: string, nameId: string, writer: Writer): Promise<void> {
    const order = {
      sheetId,
      writeId: randomUUID(),
      writer,
      door: 'grid' as const,
      asked: ['removeName'],
    };
    await this.path.write(order, ({ sheet }) => {
      const { names } = sheet.workbook;
      if (!names.some(({ id }) => id === nameId)) throw Refused.notFound('name');
      return {
        decisions: [
          named(
            names,
            names.filter(({ id }) => id !== nameId),
          ),
        ],
      };
    });
  }

  private async formulasOf(sheetId: string): Promise<Calculation> {
    const sheet = this.catalog.sheet(sheetId);
    if (!sheet) throw Refused.notFound('sheet');
    return this.calculator.of(sheet.workbook.id);
  }
}

const NAME = /^[\p{L}_][\p{L}\p{N}_]*$/u;

/** @throws Refused 409 where another sheet of a workbook is called so */
export function refuseNameTaken(name: string, others: readonly { name: string }[]): void {
  if (!others.some((other) => other.name === name)) return;
  throw Refused.conflict('nameTaken', `Another sheet is called ‘${name}’. Choose another name.`);
}

/** Columns without a heading in another order: some go, '' makes one. */
function looseFrom({ looseColumns, hasRecords }: SheetFacts, asked: readonly string[]): string[] {
  if (hasRecords) {
    throw Refused.badRequest('hasRecords', 'The columns of this sheet have headings.');
  }
  const known = asked.filter((id) => id !== '');
  if (known.some((id) => !looseColumns.includes(id)) || new Set(known).size < known.length) {
    throw Refused.badRequest(
      'noSuchColumn',
      'looseColumns: must be columns of the sheet, once each.',
    );
  }
  return asked.map((id) => (id === '' ? newId() : id));
}
