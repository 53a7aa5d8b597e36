import { serialOfDate, serialOfTime, type CellValue } from '@varn/core';
import { demoColumn, type DemoSheet } from './demoSheet';
import type { Random } from './random';
import { RIVERS, type Station } from './stations';

const SIGHTINGS = 180;
const FIRST_DAY = serialOfDate({ year: 2025, month: 1, day: 4 });
const DAYS = 690;

const OTHER = 'Something else';
const WHAT = ['Dead fish', 'Foam', 'Oil film', 'Sewage', 'Litter', 'Cattle in the water', OTHER];
const PLACES = [
  'below the weir',
  'at the footbridge',
  'by the mill race',
  'under the road',
  'at the ford',
];
const SAID = ['A pipe dripping brown water', 'Paint tins in the reeds', 'Water the colour of milk'];

/** What passers-by reported. */
export function sightingsSheet(random: Random, stations: readonly Station[]): DemoSheet {
  const column = (
    heading: string,
    ...rest: [Parameters<typeof demoColumn>[2], Parameters<typeof demoColumn>[3]?]
  ): ReturnType<typeof demoColumn> => demoColumn('Sightings', heading, ...rest);
  return {
    name: 'Sightings',
    topMatter: [],
    columns: [
      column('What', 'oneChoice', { choices: WHAT }),
      column('Other', 'text'),
      column('How bad', 'wholeNumber'),
      column('River', 'oneChoice', { choices: RIVERS }),
      column('Where', 'text'),
      column('Seen at', 'moment'),
      column('Photo', 'file'),
      column('Contact', 'yesNo'),
      column('How', 'oneChoice', { choices: ['Phone', 'Mail'] }),
      column('Phone', 'phone', { country: 'GB' }),
      column('Mail', 'email'),
      column('Written at', 'writtenAt'),
    ],
    records: sightings(random, stations),
  };
}

function* sightings(random: Random, stations: readonly Station[]): Generator<CellValue[]> {
  for (let n = 0; n < SIGHTINGS; n += 1) {
    const day = FIRST_DAY + Math.floor((n * DAYS) / SIGHTINGS);
    const seen = day + serialOfTime(random.whole(7, 20), random.whole(0, 11) * 5, 0);
    const what = random.pick(WHAT);
    const { river, code } = random.pick(stations);
    const wished = random.chance(0.35);
    const byPhone = wished && random.chance(0.6);
    // 07700 900000 to 900999 are kept free for fiction.
    const phone = `+447700900${String(random.whole(0, 999)).padStart(3, '0')}`;
    yield [
      what,
      what === OTHER ? random.pick(SAID) : null,
      random.whole(1, 5),
      river,
      `${code}, ${random.pick(PLACES)}`,
      seen,
      null,
      random.chance(0.9) ? wished : null,
      wished ? (byPhone ? 'Phone' : 'Mail') : null,
      byPhone ? phone : null,
      wished && !byPhone ? `walker${n}@passers.example` : null,
      seen + serialOfTime(0, random.whole(3, 55), 0),
    ];
  }
}
