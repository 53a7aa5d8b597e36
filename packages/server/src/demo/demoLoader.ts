import type { BroughtIn, Role } from '@varn/contract';
import { Inject, Injectable, Logger, type OnApplicationBootstrap } from '@nestjs/common';
import { randomBytes, randomUUID } from 'node:crypto';
import {
  formOfSheet,
  readOutline,
  sayOutlineProblem,
  type CellValue,
  withoutFormula,
} from '@varn/core';
import { hashPassword } from '../accounts/passwords';
import { newId } from '../ids';
import { SETTINGS, type Settings } from '../settings';
import { Catalog } from '../store/catalog';
import { Account, Membership, Workbook } from '../store/entities';
import { Store } from '../store/store';
import { ArrivalWriter, type NewWorkbook, type RecordSource } from '../write/arrivalWriter';
import type { Writer } from '../access/access';
import { GridWriter } from '../write/gridWriter';
import { ColumnWriter } from '../write/columnWriter';
import { SheetWriter } from '../write/sheetWriter';
import { FormWriter } from '../forms/formWriter';
import type { DemoSheet } from './demoSheet';
import { DEMO_FORMS } from './forms';
import {
  CHOICES_LOOKS,
  choicesSheet,
  OXYGEN_SHARE,
  SUMMARY_LOOKS,
  summarySheet,
  type Looks,
  type Typed,
} from './freeSheets';
import { DUE_DAYS, kitLoansSheet } from './kitLoans';
import { Random } from './random';
import { SAMPLE_COUNT, samplesSheet } from './samples';
import { seasonSurveySheet } from './seasonSurvey';
import { sightingsSheet } from './sightings';
import { stationsSheet } from './stations';
import { volunteersSheet } from './volunteers';

const SEED = 20_241_101;
const BATCH = 2000;

const WORKBOOK: NewWorkbook = {
  name: 'Ashbeck River Watch',
  locale: 'en-GB',
  timeZone: 'Europe/London',
  currency: 'GBP',
};

const PEOPLE: readonly { name: string; email: string; role: Role }[] = [
  { name: 'Ines Halloran', email: 'ines@riverwatch.example', role: 'owner' },
  { name: 'Tom Okafor-Reed', email: 'tom@riverwatch.example', role: 'clerk' },
  { name: 'Wen Lindqvist', email: 'wen@riverwatch.example', role: 'reader' },
];

/** Loads the demo into an empty store, through the same path by which files come in. */
@Injectable()
export class DemoLoader implements OnApplicationBootstrap {
  private readonly logger = new Logger('demo');

  constructor(
    private readonly store: Store,
    private readonly catalog: Catalog,
    private readonly arrivals: ArrivalWriter,
    private readonly grid: GridWriter,
    private readonly sheets: SheetWriter,
    private readonly columns: ColumnWriter,
    private readonly forms: FormWriter,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    if (!this.settings.demo || (await this.store.em().count(Workbook)) > 0) return;
    await this.load(this.settings.demoSamples ?? SAMPLE_COUNT);
  }

  private async load(sampleCount: number): Promise<void> {
    const [owner] = await this.addPeople();
    if (!owner) throw new Error('the demo has no people');
    const random = new Random(SEED);
    const { sheet: stations, stations: places } = stationsSheet(random);
    const { sheet: volunteers, names } = volunteersSheet(random);
    const samples = samplesSheet(random, places, names, sampleCount);

    const { workbookId } = await this.bringIn(WORKBOOK, stations, owner);
    await this.bringIn(workbookId, volunteers, owner);
    const { sheetId } = await this.bringIn(workbookId, samples, owner);
    const loans = await this.bringIn(workbookId, kitLoansSheet(random, names), owner);
    await this.bringIn(workbookId, sightingsSheet(random, places), owner);
    await this.bringIn(workbookId, seasonSurveySheet(random), owner);
    await this.store.transaction(async (em) => {
      const others = await em.find(Account, { demo: true, id: { $ne: owner.id } });
      for (const account of others) {
        const role = PEOPLE.find(({ email }) => email === account.email)?.role ?? 'reader';
        await em.insert(Membership, { workbook: workbookId, account: account.id, role });
      }
    });
    await this.catalog.refresh(workbookId);
    // Written by nobody of the demo, so that nobody finds it among what they could take back.
    const loader = await this.addAccount('Varn', 'varn@riverwatch.example', false);
    await this.compute(workbookId, sheetId, loans.sheetId, loader);
    await this.compose(workbookId, loader);
    this.logger.log(`the demo is loaded, with ${sampleCount} samples`);
  }

  /** Writes what is computed, through the same path as people do. */
  private async compute(
    workbookId: string,
    samples: string,
    loans: string,
    owner: Writer,
  ): Promise<void> {
    const column = async (sheetId: string, columnId: string, formula: string): Promise<void> => {
      const { revision } = this.catalog.sheet(sheetId) ?? { revision: 0 };
      const change = { kind: 'computed', formula, follows: true, revision } as const;
      await this.columns.changeColumn(sheetId, columnId, change, owner);
    };
    await column(samples, 'samples.oxygen-percent', OXYGEN_SHARE);
    await column(loans, 'kit-loans.total', `='Deposit'*'Quantity'`);
    await column(loans, 'kit-loans.due', `='Out'+${DUE_DAYS}`);

    await this.type(samples, 3, this.totalsOf(samples), owner);
    await this.type(loans, 2, this.totalsOf(loans), owner);
    for (const [name, typed, looks] of [
      ['Choices', choicesSheet(), CHOICES_LOOKS],
      ['Summary', summarySheet(), SUMMARY_LOOKS],
    ] as const) {
      const order = { writeId: randomUUID(), name, headings: [] };
      const sheetId = await this.sheets.addSheet(workbookId, order, owner);
      await this.type(sheetId, 1, typed, owner, looks);
    }
  }

  /** Reads the forms' outlines and puts them to use, as an analyst would. */
  private async compose(workbookId: string, owner: Writer): Promise<void> {
    for (const { sheet: name, outline } of DEMO_FORMS) {
      const sheet = this.catalog.sheetsOf(workbookId).find((each) => each.name === name);
      if (!sheet) throw new Error(`the demo has no sheet ${name}`);
      // Fields are told by their columns, so that tests read well.
      const previous = formOfSheet(sheet.columns);
      const reading = readOutline(outline, {
        columns: sheet.columns.map(withoutFormula),
        previous,
        newId,
      });
      const [problem] = reading.problems;
      if (problem) throw new Error(`line ${problem.line}: ${sayOutlineProblem(problem)}`);
      const begin = { writeId: randomUUID(), name: reading.name ?? name, sheetId: sheet.id };
      const { id } = await this.forms.begin(workbookId, begin, owner);
      const { definition } = reading;
      const draft = { definition, columns: [...reading.columns] };
      const { revision } = await this.forms.save(id, { ...draft, revision: 1 });
      await this.forms.use(id, { writeId: randomUUID(), revision }, owner);
    }
  }

  /** A row of totals above the numbers of a sheet. */
  private totalsOf(sheetId: string): Typed {
    const { name, columns } = this.catalog.sheet(sheetId) ?? { name: '', columns: [] };
    const totals: Readonly<Record<string, string>> = {
      'Water temp': 'AVERAGE',
      'Air temp': 'AVERAGE',
      pH: 'AVERAGE',
      Oxygen: 'AVERAGE',
      Turbidity: 'AVERAGE',
      Nitrate: 'AVERAGE',
      Quantity: 'SUM',
      Total: 'SUM',
    };
    const texts = columns.map(({ heading }, n) => {
      const total = totals[heading];
      if (total === undefined) return n > 0 ? '' : name === 'Samples' ? 'Averages' : 'Totals';
      const figure = `${total}('${name}'!'${heading}')`;
      return total === 'AVERAGE' ? `=ROUND(${figure};1)` : `=${figure}`;
    });
    return [texts];
  }

  /** Types texts into free rows, from a row on. */
  private async type(
    sheetId: string,
    from: number,
    typed: Typed,
    owner: Writer,
    looks: Looks = {},
  ): Promise<void> {
    const rows = typed.map((texts, n) => ({
      row: from + n,
      ...looks[from + n],
      cells: Object.fromEntries(
        texts.flatMap((text, column) => (text === '' ? [] : [[String(column), text] as const])),
      ),
    }));
    const { revision } = this.catalog.sheet(sheetId) ?? { revision: 0 };
    await this.grid.edit(sheetId, { writeId: randomUUID(), revision, rows }, owner);
  }

  /** The demo's people have passwords nobody knows: one signs in as them with one click. */
  private async addPeople(): Promise<{ id: string; name: string }[]> {
    const people: { id: string; name: string }[] = [];
    for (const { name, email } of PEOPLE) people.push(await this.addAccount(name, email, true));
    return people;
  }

  private async addAccount(
    name: string,
    email: string,
    demo: boolean,
  ): Promise<{ id: string; name: string }> {
    const id = newId();
    const passwordHash = await hashPassword(randomBytes(24).toString('base64url'));
    await this.store.em().insert(Account, { id, name, email, passwordHash, demo });
    return { id, name };
  }

  private bringIn(
    into: string | NewWorkbook,
    sheet: DemoSheet,
    owner: { id: string; name: string },
  ): Promise<BroughtIn> {
    const source: RecordSource = async (store) => {
      const counts = { records: 0, blankRows: 0, totalsRows: 0, keptAsText: 0 };
      let batch: CellValue[][] = [];
      for (const record of sheet.records) {
        batch.push(record);
        counts.records += 1;
        if (batch.length === BATCH) {
          await store(batch);
          batch = [];
        }
      }
      await store(batch);
      return { topMatter: sheet.topMatter, counts };
    };
    const writeId = randomUUID();
    return this.arrivals.bringIn({ writeId, digest: 'demo', writer: owner, into, sheet, source });
  }
}
