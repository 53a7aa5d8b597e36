import type { CellValue } from '@varn/core';
import { demoColumn, type DemoSheet } from './demoSheet';
import { round, type Random } from './random';

export const RIVERS = ['Ash Beck', 'Corrow Water', 'Mereling'] as const;
export type River = (typeof RIVERS)[number];

const CODES: Record<River, string> = { 'Ash Beck': 'AB', 'Corrow Water': 'CW', Mereling: 'ME' };
const FIRST = [
  'Alder',
  'Stone',
  'Otter',
  'Fern',
  'Heron',
  'Willow',
  'Tanner',
  'Hollow',
  'Long',
  'Quarry',
  'Drovers',
  'Marl',
];
const SECOND = [
  'Ford',
  'Weir',
  'Bridge',
  'Pool',
  'Mill',
  'Bend',
  'Steps',
  'Outfall',
  'Meadow',
  'Lock',
];
const ACCESS = [
  'Footpath',
  'Roadside',
  'Through the farmyard, ask first',
  'Steep bank',
  'Boat only',
];

export interface Station {
  readonly code: string;
  readonly river: River;
}

const column = (
  heading: string,
  ...rest: [Parameters<typeof demoColumn>[2], Parameters<typeof demoColumn>[3]?]
) => demoColumn('Stations', heading, ...rest);

/** 46 stations, one of them written twice, and one blank row: something for a list to skip. */
export function stationsSheet(random: Random): { sheet: DemoSheet; stations: Station[] } {
  const stations: Station[] = [];
  const records: CellValue[][] = [];
  const names = new Set<string>();
  RIVERS.forEach((river, index) => {
    const count = [16, 15, 15][index] ?? 0;
    for (let n = 1; n <= count; n += 1) {
      const code = `${CODES[river]}-${String(n).padStart(2, '0')}`;
      let name: string;
      do name = `${random.pick(FIRST)} ${random.pick(SECOND)}`;
      while (names.has(name));
      names.add(name);
      const square = `${random.pick(['QA', 'QB', 'QF'])} ${random.whole(100, 999)} ${random.whole(100, 999)}`;
      const depth = round(random.around(0.9, 0.3), 1);
      stations.push({ code, river });
      records.push([code, river, name, square, random.pick(ACCESS), depth, random.chance(0.9)]);
    }
  });
  const twice = records[7];
  if (twice) records.splice(20, 0, [...twice]);
  records.splice(33, 0, [null, null, null, null, null, null, null]);
  return {
    stations,
    sheet: {
      name: 'Stations',
      topMatter: [],
      columns: [
        column('Code', 'text'),
        column('River', 'oneChoice', { choices: RIVERS }),
        column('Name', 'text'),
        column('Grid letters', 'text'),
        column('Access', 'text'),
        column('Depth', 'number', { unit: 'm' }),
        column('In use', 'yesNo'),
      ],
      records,
    },
  };
}
