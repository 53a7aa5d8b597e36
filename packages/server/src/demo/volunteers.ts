import type { CellValue } from '@varn/core';
import { demoColumn, type DemoSheet } from './demoSheet';
import type { Random } from './random';

const GIVEN = [
  'Ada',
  'Bram',
  'Ceri',
  'Dilys',
  'Edo',
  'Freya',
  'Gwil',
  'Hanna',
  'Idris',
  'Jory',
  'Kezia',
  'Lowri',
  'Mirek',
  'Nell',
  'Owain',
  'Petra',
  'Quill',
  'Rhona',
  'Sanne',
  'Tamsin',
  'Ulla',
  'Vigo',
  'Wyn',
  'Yara',
  'Zeb',
];
const FAMILY = [
  'Ambrose-Hale',
  'Brackley',
  'Cray',
  'Dunmere',
  'Eskdaughter',
  'Fallow',
  'Garrick',
  'Holt',
  'Inskip',
  'Jessamy',
  'Kestle',
  'Larkmoor',
  'Marrable',
  'Nancarrow',
  'Okonjo',
  'Pellow',
  'Quennell',
  'Rusk',
  'Sallow',
  'Tregarth',
];

export const TRAINING = ['Starter', 'Sampler', 'Lead sampler'] as const;
const COUNT = 62;

/** The roster: 62 made-up people, by ids with leading zeros. */
export function volunteersSheet(random: Random): { sheet: DemoSheet; names: string[] } {
  const names: string[] = [];
  const records: CellValue[][] = [];
  while (names.length < COUNT) {
    const name = `${random.pick(GIVEN)} ${random.pick(FAMILY)}`;
    if (names.includes(name)) continue;
    names.push(name);
    const mail = `${name.toLowerCase().replace(/[^a-z]+/g, '.')}@riverwatch.example`;
    records.push([
      String(names.length).padStart(4, '0'),
      name,
      mail,
      // 07700 900000 to 900999 are kept free for fiction.
      `07700 900${String(random.whole(0, 999)).padStart(3, '0')}`,
      random.pick(TRAINING),
      random.chance(0.8) ? random.whole(1, 40) : null,
    ]);
  }
  return {
    names,
    sheet: {
      name: 'Volunteers',
      topMatter: [],
      columns: [
        demoColumn('Volunteers', 'Id', 'text'),
        demoColumn('Volunteers', 'Name', 'text'),
        demoColumn('Volunteers', 'Mail', 'text'),
        demoColumn('Volunteers', 'Phone', 'text'),
        demoColumn('Volunteers', 'Training level', 'oneChoice', { choices: TRAINING }),
        demoColumn('Volunteers', 'Kit no.', 'wholeNumber'),
      ],
      records,
    },
  };
}
