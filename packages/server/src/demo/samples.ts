import {
  CHOICE_SEPARATOR,
  formatRunningNumber,
  serialOfDate,
  serialOfTime,
  type CellValue,
} from '@varn/core';
import { demoColumn, type DemoSheet } from './demoSheet';
import { oxygenSaturation } from './oxygen';
import { round, type Random } from './random';
import { RIVERS, type Station } from './stations';
import { TRAINING } from './volunteers';

export const SAMPLE_COUNT = 2400;
const NUMBER_PATTERN = 'RW-00000';
const FIRST_DAY = serialOfDate({ year: 2024, month: 11, day: 1 });
const DAYS = 730;

export const WEATHER = ['Dry', 'Showers', 'Steady rain', 'Heavy rain', 'Snow or sleet'];
export const FLOW = ['Low', 'Normal', 'High', 'In spate'];
export const SMELL = ['None', 'Earthy', 'Sewage', 'Chemical', 'Rotten eggs'];
const NOTES = [
  'Foam below the weir',
  'Two herons on the far bank',
  'Meter slow to settle',
  'Cattle in the water upstream',
  'Fresh gravel at the step',
  'Water clear to the bed, fine weed on the stones',
];

/** The samples of two seasons; the heading stands in row 4, under a title and totals. */
export function samplesSheet(
  random: Random,
  stations: readonly Station[],
  observers: readonly string[],
  count: number,
): DemoSheet {
  const column = (
    heading: string,
    ...rest: [Parameters<typeof demoColumn>[2], Parameters<typeof demoColumn>[3]?]
  ): ReturnType<typeof demoColumn> => demoColumn('Samples', heading, ...rest);
  return {
    name: 'Samples',
    topMatter: [['River samples'], ['Seasons', '2024–25 and 2025–26'], ['Averages']],
    columns: [
      column('Number', 'runningNumber', { pattern: NUMBER_PATTERN }),
      column('Date', 'date'),
      column('Time', 'time'),
      column('River', 'oneChoice', { choices: RIVERS }),
      column('Station', 'oneChoice', { choices: stations.map(({ code }) => code) }),
      column('Observer', 'oneChoice', { choices: observers }),
      column('Training', 'oneChoice', { choices: TRAINING }),
      column('Water temp', 'number', { unit: '°C', decimals: 1 }),
      column('Air temp', 'number', { unit: '°C', decimals: 1 }),
      column('pH', 'number', { decimals: 2 }),
      column('Oxygen', 'number', { unit: 'mg/L', decimals: 1 }),
      column('Oxygen %', 'computed', { unit: '%' }),
      column('Turbidity', 'wholeNumber', { unit: 'NTU' }),
      column('Nitrate', 'number', { unit: 'mg/L', decimals: 1 }),
      column('Weather', 'oneChoice', { choices: WEATHER }),
      column('Flow', 'oneChoice', { choices: FLOW }),
      column('Meter rinsed', 'yesNo'),
      column('Smell', 'severalChoices', { choices: SMELL }),
      column('Photo', 'file'),
      column('Notes', 'text'),
      column('Written at', 'writtenAt'),
      column('Written by', 'writtenBy'),
    ],
    records: samples(random, stations, observers, count),
  };
}

function* samples(
  random: Random,
  stations: readonly Station[],
  observers: readonly string[],
  count: number,
): Generator<CellValue[]> {
  for (let n = 1; n <= count; n += 1) {
    const day = FIRST_DAY + Math.floor(((n - 1) * DAYS) / count);
    const warmth = -Math.cos(((day - FIRST_DAY + 60) / 365.25) * 2 * Math.PI);
    const { code, river } = random.pick(stations);
    const hour = random.whole(7, 17);
    const minute = random.whole(0, 11) * 5;
    const water = round(Math.max(0.5, random.around(10 + 5.5 * warmth, 1.4)), 1);
    const oxygen = round(oxygenSaturation(water) * random.around(0.93, 0.05), 1);
    const smells = [...new Set([random.pick(SMELL), random.pick(SMELL)])].filter(
      (each) => each !== 'None',
    );
    yield [
      formatRunningNumber(NUMBER_PATTERN, n),
      day,
      serialOfTime(hour, minute, 0),
      river,
      code,
      random.pick(observers),
      random.pick(TRAINING),
      water,
      round(random.around(11 + 8 * warmth, 3), 1),
      round(random.around(7.4, 0.3), 2),
      oxygen,
      // The share of saturation is computed.
      null,
      Math.max(1, Math.round(random.around(12, 7))),
      round(Math.max(0.1, random.around(4.5, 1.6)), 1),
      random.pick(WEATHER),
      random.pick(FLOW),
      random.chance(0.93),
      smells.length > 0 && random.chance(0.35) ? smells.join(CHOICE_SEPARATOR) : null,
      random.chance(0.04) ? `${code.toLowerCase()}-${n}.jpg` : null,
      random.chance(0.18) ? random.pick(NOTES) : null,
      day + serialOfTime(Math.min(23, hour + 2), random.whole(0, 59), random.whole(0, 59)),
      random.chance(0.7) ? 'Tom Okafor-Reed' : 'Ines Halloran',
    ];
  }
}
