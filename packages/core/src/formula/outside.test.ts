import { addMonths, endOfMonth, differenceInCalendarDays, getISODay, getISOWeek } from 'date-fns';
import { evaluate } from './testing/engines';
import type { CellValue } from '../values';

/**
 * Univariate data of the NIST Statistical Reference Datasets (itl.nist.gov/div898/strd), with the
 * certified mean and standard deviation. How many digits of the deviation can be had is bounded by
 * the data: 1000000.1 is stored 1e-11 off.
 */
function numAcc(centre: number): number[] {
  const around = Array.from({ length: 1000 }, (_, n) => centre + (n % 2 === 0 ? -0.1 : 0.1));
  return [centre, ...around.map((value) => Number(value.toFixed(1)))];
}

const LEW = [
  -213, -564, -35, -15, 141, 115, -420, -360, 203, -338, -431, 194, -220, -513, 154, -125, -559, 92,
  -21, -579, -52, 99, -543, -175, 162, -457, -346, 204, -300, -474, 164, -107, -572, -8, 83, -541,
  -224, 180, -420, -374, 201, -236, -531, 83, 27, -564, -112, 131, -507, -254, 199, -311, -495, 143,
  -46, -579, -90, 136, -472, -338, 202, -287, -477, 169, -124, -568, 17, 48, -568, -135, 162, -430,
  -422, 172, -74, -577, -13, 92, -534, -243, 194, -355, -465, 156, -81, -578, -64, 139, -449, -384,
  193, -198, -538, 110, -44, -577, -6, 66, -552, -164, 161, -460, -344, 205, -281, -504, 134, -28,
  -576, -118, 156, -437, -381, 200, -220, -540, 83, 11, -568, -160, 172, -414, -408, 188, -125,
  -572, -32, 139, -492, -321, 205, -262, -504, 142, -83, -574, 0, 48, -571, -106, 137, -501, -266,
  190, -391, -406, 194, -186, -553, 83, -13, -577, -49, 103, -515, -280, 201, 300, -506, 131, -45,
  -578, -80, 138, -462, -361, 201, -211, -554, 32, 74, -533, -235, 187, -372, -442, 182, -147, -566,
  25, 68, -535, -244, 194, -351, -463, 174, -125, -570, 15, 72, -550, -190, 172, -424, -385, 198,
  -218, -536, 96,
];

test.each<[name: string, data: number[], mean: number, deviation: number, digits: number]>([
  ['NumAcc1', [10000001, 10000003, 10000002], 10000002, 1, 14],
  ['NumAcc2', numAcc(1.2), 1.2, 0.1, 13],
  ['NumAcc3', numAcc(1000000.2), 1000000.2, 0.1, 9],
  ['NumAcc4', numAcc(10000000.2), 10000000.2, 0.1, 8],
  ['Lew', LEW, -177.435, 277.332168044316, 14],
])('NIST StRD %s: mean and standard deviation', (_name, data, mean, deviation, digits) => {
  const sheet = data.map((value): CellValue[] => [value]);
  const range = `A1:A${data.length}`;
  const agreeing = (found: unknown, certified: number): number =>
    Math.min(15, -Math.log10(Math.abs((found as number) - certified) / Math.abs(certified)));
  expect(agreeing(evaluate(`AVERAGE(${range})`, sheet), mean)).toBeGreaterThanOrEqual(12);
  expect(agreeing(evaluate(`STDEV(${range})`, sheet), deviation)).toBeGreaterThanOrEqual(
    Math.min(digits, 12),
  );
});

test('dates agree with date-fns, day by day from 1900 to 2100', () => {
  const wrong: string[] = [];
  // Midday: no zone of the machine moves it to another day.
  const first = new Date(1900, 0, 1, 12);
  const days = differenceInCalendarDays(new Date(2100, 11, 31, 12), first);
  const epoch = new Date(1899, 11, 30, 12);
  for (let n = 0; n <= days; n += 1) {
    const date = new Date(1900, 0, 1 + n, 12);
    const serial = differenceInCalendarDays(date, epoch);
    const [year, month, day] = [date.getFullYear(), date.getMonth() + 1, date.getDate()];
    const later = differenceInCalendarDays(addMonths(date, 7), epoch);
    const end = differenceInCalendarDays(endOfMonth(date), epoch);
    const expected = [serial, year, month, day, getISODay(date), getISOWeek(date), later, end];
    const found = [
      `DATE(${year};${month};${day})`,
      `YEAR(${serial})`,
      `MONTH(${serial})`,
      `DAY(${serial})`,
      `WEEKDAY(${serial};2)`,
      `ISOWEEKNUM(${serial})`,
      `EDATE(${serial};7)`,
      `EOMONTH(${serial};0)`,
    ].map((formula) => evaluate(formula, []));
    if (JSON.stringify(found) !== JSON.stringify(expected)) {
      wrong.push(`${year}-${month}-${day}: ${JSON.stringify(found)}`);
    }
  }
  expect(wrong.slice(0, 5)).toEqual([]);
}, 60_000);
