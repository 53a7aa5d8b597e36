import { serialOfDate, serialOfTime, type CellValue } from '@varn/core';
import { demoColumn, type DemoSheet } from './demoSheet';
import type { Random } from './random';
import { RIVERS } from './stations';

const ANSWERS = 60;
const FIRST_DAY = serialOfDate({ year: 2026, month: 11, day: 2 });
export const AGREEMENT = ['Disagree', 'Slightly disagree', 'Neither', 'Slightly agree', 'Agree'];

/** Statements of the survey, each with the heading of its column. */
export const STATEMENTS: readonly (readonly [heading: string, statement: string])[] = [
  ['Kit works', 'The kit I was given works'],
  ['Enough training', 'I was trained well enough to read it'],
  ['Heard', 'What I report is looked at'],
];
const WORDS = [
  'More throw bags, please',
  'The new forms save me an evening a week',
  'Could the meters be checked in spring?',
  'The path to MR-07 has gone',
];

/** What volunteers said of the season. */
export function seasonSurveySheet(random: Random): DemoSheet {
  const column = (
    heading: string,
    ...rest: [Parameters<typeof demoColumn>[2], Parameters<typeof demoColumn>[3]?]
  ): ReturnType<typeof demoColumn> => demoColumn('Season survey', heading, ...rest);
  return {
    name: 'Season survey',
    topMatter: [],
    columns: [
      ...STATEMENTS.map(([heading]) => column(heading, 'oneChoice', { choices: AGREEMENT })),
      column('River', 'oneChoice', { choices: RIVERS }),
      column('Stay', 'wholeNumber'),
      column('Words', 'text'),
      column('Written at', 'writtenAt'),
    ],
    records: answers(random),
  };
}

function* answers(random: Random): Generator<CellValue[]> {
  for (let n = 0; n < ANSWERS; n += 1) {
    const leaning = random.whole(1, 4);
    const agreement = (): string =>
      AGREEMENT[Math.max(0, Math.min(4, leaning + random.whole(-1, 1)))] ?? 'Neither';
    yield [
      ...STATEMENTS.map(() => agreement()),
      random.pick(RIVERS),
      Math.max(1, Math.min(7, leaning + random.whole(0, 3))),
      random.chance(0.4) ? random.pick(WORDS) : null,
      FIRST_DAY + Math.floor(n / 4) + serialOfTime(random.whole(8, 21), random.whole(0, 59), 0),
    ];
  }
}
