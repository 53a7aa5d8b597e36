import type { FreeRowEdit } from '@varn/contract';
import { KIT } from './kitLoans';
import { FLOW, SMELL, WEATHER } from './samples';
import { AGREEMENT } from './seasonSurvey';
import { RIVERS } from './stations';

/** Texts as they are typed into the cells of a sheet, from row 1 and column A on. */
export type Typed = readonly (readonly string[])[];

/** How cells of a row look, by its number from 1. */
export type Looks = Readonly<Record<number, Pick<FreeRowEdit, 'shown' | 'styles'>>>;

/** The same of the first columns of a row, each. */
const each = <T>(columns: number, value: T): Record<string, T> =>
  Object.fromEntries(Array.from({ length: columns }, (_, column) => [String(column), value]));

const TITLE = { styles: each(1, { heading: true }) };
const HEADINGS = { strong: true, back: 'brass' } as const;

const COLOUR = ['Clear', 'Peaty', 'Milky', 'Green', 'Brown'];
const heading = 3;

/** What dropdowns are fed from: a column for each question, side by side, under headings in row 3. */
export function choicesSheet(): Typed {
  const lists: readonly (readonly [string, readonly string[]])[] = [
    ['Weather', WEATHER],
    ['Flow', FLOW],
    ['Smell', SMELL],
    ['Colour', COLOUR],
    ['Kit', KIT.map(([item]) => item)],
    ['Deposit', KIT.map(([, deposit]) => String(deposit))],
    ['Depth mark', [`=SEQUENCE(40)`]],
    ['How far do you agree?', AGREEMENT],
  ];
  const rows: string[][] = [['What can be chosen'], []];
  rows.push(lists.map(([name]) => name));
  const longest = Math.max(...lists.map(([, values]) => values.length));
  for (let n = 0; n < longest; n += 1) rows.push(lists.map(([, values]) => values[n] ?? ''));
  return rows;
}

export const CHOICES_LOOKS: Looks = { 1: TITLE, 3: { styles: each(8, HEADINGS) } };

/** Months of the last season, by their first day as a clerk would type it. */
const MONTHS = Array.from({ length: 12 }, (_, n) => `=DATE(2025;${11 + n};1)`);

/** Handbook temperatures of the table of saturation. */
const TEMPERATURES = ['0', '10', '20', '30'];

/** The exponent of the saturation of fresh water (Benson & Krause 1984), `t` in degrees Celsius. */
const saturation = (t: string): string =>
  `EXP(-139.34411+157570.1/(${t}+273.15)-66423080/(${t}+273.15)^2+12438000000/(${t}+273.15)^3-862194900000/(${t}+273.15)^4)`;

/** The share of saturation of a record, blank where a reading is missing. */
export const OXYGEN_SHARE = `=IF(OR(ISBLANK('Oxygen');ISBLANK('Water temp'));"";ROUND(100*'Oxygen'/${saturation("'Water temp'")};1))`;

/** Counts, means and extremes of the samples, all live. */
export function summarySheet(): Typed {
  const rows: string[][] = [
    ['The seasons in numbers'],
    [],
    ['River', 'Samples', 'Mean pH', 'Lowest pH', 'Mean oxygen', '', 'Temperature', 'Saturation'],
    ...RIVERS.map((river, n) => {
      const row = heading + 1 + n;
      return [
        river,
        `=COUNTIF(Samples!'River';A${row})`,
        `=ROUND(AVERAGEIFS(Samples!'pH';Samples!'River';A${row});2)`,
        `=MINIFS(Samples!'pH';Samples!'River';A${row})`,
        `=ROUND(AVERAGEIFS(Samples!'Oxygen';Samples!'River';A${row});1)`,
        '',
        TEMPERATURES[n] ?? '',
        `=ROUND(${saturation(`G${row}`)};3)`,
      ];
    }),
    [
      'All',
      '=SUM(B4:B6)',
      "=ROUND(AVERAGE(Samples!'pH');2)",
      '=MIN(D4:D6)',
      "=ROUND(AVERAGE(Samples!'Oxygen');1)",
      '',
      TEMPERATURES[3] ?? '',
      `=ROUND(${saturation('G7')};3)`,
    ],
    [],
    ['Month', 'Samples', 'Mean water temp'],
    ...MONTHS.map((month, n) => {
      const row = 10 + n;
      const within = `Samples!'Date';">="&A${row};Samples!'Date';"<"&EDATE(A${row};1)`;
      return [
        month,
        `=COUNTIFS(${within})`,
        `=IFERROR(ROUND(AVERAGEIFS(Samples!'Water temp';${within});1);"")`,
      ];
    }),
    [],
    ['Kit out now', "=COUNTA('Kit loans'!'Out')-COUNTA('Kit loans'!'Back')"],
    ['Deposits held', `=SUMIF('Kit loans'!'Back';"=";'Kit loans'!'Total')`],
  ];
  return rows;
}

/** Titles and headings stand out, and months are shown as such. */
export const SUMMARY_LOOKS: Looks = {
  1: TITLE,
  3: { styles: { ...each(8, HEADINGS), 5: {} } },
  7: { styles: each(5, { strong: true }) },
  9: { styles: each(3, HEADINGS) },
  ...Object.fromEntries(
    MONTHS.map((_, n) => [
      10 + n,
      { shown: { 0: { kind: 'date' as const, settings: { datePattern: 'mmm yyyy' } } } },
    ]),
  ),
};
