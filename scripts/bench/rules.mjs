import { createRequire } from 'node:module';
import { milliseconds, ratio } from './server.mjs';
import { sized } from './size.mjs';

const require = createRequire(import.meta.url);
const core = require('@varn/core');
require('@varn/core/patterns');

const ROWS = sized(100_000, 500);
const STORED = sized(1_000_000, 2000);
const since = (from) => performance.now() - from;
const ground = { locale: core.localeFacts('en-GB'), now: 46_000 };

const NUMBERS = [
  { is: 'between', from: 0, to: 14 },
  { is: 'multiple', of: 0.1 },
  { is: 'whole', not: true },
  { is: 'between', from: 20, not: true },
  {
    is: 'any',
    of: [
      { is: 'between', to: 9 },
      { is: 'between', from: 10 },
    ],
  },
];
const TEXTS = [
  { is: 'length', from: 2, to: 40 },
  { is: 'begins', text: 'RW-' },
  { is: 'contains', text: '7', not: true },
  { is: 'madeOf', of: ['capitals', 'figures'], also: '-' },
  { is: 'picture', picture: "'RW-'9(6)" },
];
const ruled = (kind, tests) => {
  return { id: kind, heading: kind, kind, settings: { rules: tests.map((must) => ({ must })) } };
};

/** Values of two columns held against five rules each; and only looked at, which is the baseline. */
function checking() {
  const number = ruled('number', NUMBERS);
  const text = ruled('text', TEXTS);
  const numbers = Array.from({ length: ROWS }, (_, n) => (n % 151) / 10);
  const texts = Array.from({ length: ROWS }, (_, n) => `RW-${String(n).padStart(6, '0')}`);
  const run = () => {
    let broken = 0;
    for (let n = 0; n < ROWS; n += 1) {
      broken += core.brokenRules(numbers[n], number, ground).length;
      broken += core.brokenRules(texts[n], text, ground).length;
    }
    return broken;
  };
  run();
  const began = performance.now();
  run();
  const ours = since(began);
  const from = performance.now();
  let seen = 0;
  for (let n = 0; n < ROWS; n += 1) {
    if (numbers[n] >= 0 && numbers[n] <= 14) seen += 1;
    if (/^RW-\d{6}$/.test(texts[n])) seen += 1;
  }
  const bare = since(from);
  if (seen === 0) throw new Error('nothing was looked at');
  return { perSecond: (ROWS * 10 * 1000) / ours, ours, bare };
}

/** Stored values that break rules, counted; the longest step that others wait for. */
function counting() {
  const model = new core.SheetModel();
  for (let n = 0; n < STORED; n += 1) {
    const cells = { number: (n % 1510) / 100 };
    model.add({ id: `r${n}`, orderKey: n + 1, revision: 1, cells });
  }
  const column = ruled('number', NUMBERS);
  let longest = 0;
  const tally = new core.BrokenTally(model, column, ground);
  const began = performance.now();
  const steps = tally.refresh();
  for (let step = { done: false }; !step.done;) {
    const from = performance.now();
    step = steps.next();
    longest = Math.max(longest, since(from));
  }
  const { records } = tally.told(100);
  const all = since(began);
  const from = performance.now();
  model.update({ ...model.at(STORED >> 1), cells: { number: 99 } });
  for (const step of tally.refresh()) void step;
  const after = tally.told(100).records;
  if (after < records) throw new Error('an edit that breaks rules was not counted');
  return { all, longest, edit: since(from) };
}

/** Harmless patterns on the linear engine, and on the one of the language. */
function matching() {
  const texts = Array.from({ length: ROWS }, (_, n) => `RW-${String(n).padStart(6, '0')}`);
  const patterns = ['RW-[0-9]{6}', '[A-Z]{2}-\\d+', '(RW|AB|ME)-0*[1-9][0-9]*'];
  const columns = patterns.map((pattern) => ruled('text', [{ is: 'matches', pattern }]));
  const builtIn = patterns.map((pattern) => new RegExp(`^(?:${pattern})$`));
  const timed = (isMatch) => {
    const began = performance.now();
    let count = 0;
    for (const text of texts) {
      for (let n = 0; n < patterns.length; n += 1) if (isMatch(text, n)) count += 1;
    }
    return { took: since(began), count };
  };
  const linear = (text, n) => core.brokenRules(text, columns[n], ground).length === 0;
  timed(linear);
  const ours = timed(linear);
  const bare = timed((text, n) => builtIn[n].test(text));
  if (ours.count !== bare.count) throw new Error('the two engines found different matches');
  return { perSecond: (ROWS * patterns.length * 1000) / ours.took, times: [ours.took, bare.took] };
}

/** A key typed into a form of fifty fields, each with a rule of its own. */
function typing() {
  const columns = Array.from({ length: 50 }, (_, n) => {
    const must = n % 2 ? { is: 'between', from: 0, to: 99 } : { is: 'length', to: 20 };
    return { ...ruled(n % 2 ? 'number' : 'text', [must]), id: `c${n}` };
  });
  const definition = { blocks: columns.map(({ id }) => ({ is: 'field', id, columnId: id })) };
  const form = core.prepareForm(definition, new Map(columns.map((each) => [each.id, each])));
  const keys = 500;
  const run = () => {
    const began = performance.now();
    for (let n = 0; n < keys; n += 1) {
      const answers = Object.fromEntries(columns.map(({ id }, at) => [id, String((n + at) % 120)]));
      core.fill(form, { answers }, ground, null);
    }
    return since(began) / keys;
  };
  run();
  return run();
}

export function measure() {
  const checked = checking();
  const counted = counting();
  const matched = matching();
  return [
    {
      what: `checks of ${ROWS} rows by 10 rules`,
      value: `${Math.round(checked.perSecond).toLocaleString('en')}/s`,
      target: '≥ 1,000,000/s',
    },
    { what: '  ÷ two checks written out', value: ratio(checked.ours, checked.bare) },
    {
      what: `which of ${STORED} stored values break 5 rules`,
      value: milliseconds(counted.all),
      target: '< 300 ms',
    },
    {
      what: '  the longest step others wait for',
      value: milliseconds(counted.longest),
      target: '≤ 20 ms',
    },
    {
      what: '  after one edit',
      value: milliseconds(counted.edit),
      target: '≤ 1 ms',
    },
    {
      what: 'patterns on the linear engine',
      value: `${Math.round(matched.perSecond).toLocaleString('en')}/s`,
    },
    { what: '  ÷ the engine of the language', value: ratio(...matched.times) },
    { what: 'a key on a form with 50 rules', value: milliseconds(typing()), target: '≤ 1 ms' },
  ];
}
