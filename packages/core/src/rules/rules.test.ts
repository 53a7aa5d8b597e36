import * as fc from 'fast-check';
import { getCountries, getExampleNumber } from 'libphonenumber-js/min';
import examples from 'libphonenumber-js/examples.mobile.json';
import { isRule, type Column, type Condition, type KindId, type Rule, type When } from '../kinds';
import { judgeChange, typedCells } from '../records';
import { localeFacts, serialOfDate, type Cells, type CellValue } from '../values';
import { sayProblem } from '../words';
import {
  brokenRules,
  columnsRead,
  graphemeCount,
  readPattern,
  readPicture,
  ruleHint,
  sayCondition,
  sayRule,
} from '.';

const locale = localeFacts('en-GB');
const NOW = serialOfDate({ year: 2026, month: 3, day: 28 }) + 0.5;
const day = (year: number, month: number, date: number) => serialOfDate({ year, month, day: date });
const ruled = (kind: KindId, ...rules: Rule[]): Column => ({
  id: 'a',
  heading: 'A',
  kind,
  settings: { rules },
});
const passes = (kind: KindId, must: Condition, value: CellValue, cells: Cells = {}): boolean =>
  brokenRules(value, ruled(kind, { must }), { locale, now: NOW, cells }).length === 0;

describe('what a value is held against', () => {
  test.each<[KindId, Condition, passing: CellValue[], failing: CellValue[]]>([
    // A family of four is one sign, as are a letter with its accents and a flag (UAX #29).
    ['text', { is: 'length', from: 1, to: 1 }, ['a', '👨‍👩‍👧‍👦', 'é', '🇳🇴'], ['ab', '👨‍👩‍👧‍👦!']],
    ['text', { is: 'length', from: 2 }, ['ab', '१२'], ['a']],
    ['text', { is: 'contains', text: 'WEIR' }, ['Alder weir'], ['Alder']],
    ['text', { is: 'begins', text: 'rw-' }, ['RW-1'], ['1 RW-']],
    ['text', { is: 'ends', text: 'x', not: true }, ['xa'], ['ax', 'aX']],
    [
      'text',
      { is: 'madeOf', of: ['capitals', 'figures'], also: '-' },
      ['AB-01'],
      ['Ab-01', 'AB 01'],
    ],
    // Full-width figures are no figures.
    ['text', { is: 'madeOf', of: ['figures'] }, ['0042'], ['００４２', '½', '4 2']],
    ['text', { is: 'madeOf', of: ['letters', 'blanks'] }, ['Æsa Ødegård', 'Ŝ\u0323o'], ['A1']],
    [
      'text',
      { is: 'picture', picture: 'A999' },
      ['Q123', 'é001'],
      ['QQ12', 'Q12', 'Q1234', '1234'],
    ],
    ['text', { is: 'picture', picture: "'RW-'9(5)" }, ['RW-00042'], ['RW-0042', 'rw-00042']],
    ['text', { is: 'picture', picture: '99/99' }, ['12/34'], ['12-34']],
    ['text', { is: 'oneOf', values: ['Low', 'High'] }, ['low', 'High'], ['Medium']],
    // Numbers and days are compared as what they are, not as they are shown.
    ['money', { is: 'oneOf', values: ['9', '12.50'] }, [9, 12.5], [9.01, 125]],
    ['date', { is: 'oneOf', values: ['27/3/2026'] }, [day(2026, 3, 27)], [day(2026, 3, 28)]],
    // WHATWG HTML, valid e-mail address; RFC 5321 4.5.3.1 for the length before the sign.
    [
      'text',
      { is: 'mail' },
      ['a@b.example'],
      ['a@', 'a b@c.example', `${'a'.repeat(65)}@b.example`],
    ],
    ['text', { is: 'webAddress' }, ['https://a.example/b?c'], ['https://', 'a b']],
    ['number', { is: 'between', from: 0, to: 14 }, [0, 14, 7.3, 0.1 + 0.2], [-0.1, 14.1]],
    ['number', { is: 'between', from: 0.3 }, [0.1 + 0.2], [0.29]],
    ['number', { is: 'whole' }, [3, -2, 0], [3.5]],
    ['number', { is: 'multiple', of: 0.1 }, [0.3, 0.7, 4], [0.35]],
    ['date', { is: 'past' }, [day(2026, 3, 27)], [day(2026, 3, 28), day(2026, 3, 29)]],
    ['date', { is: 'future', not: true }, [day(2026, 3, 28)], [day(2026, 3, 29)]],
    ['date', { is: 'within', days: 7 }, [day(2026, 4, 4), day(2026, 3, 21)], [day(2026, 4, 5)]],
    // 27 March 2026 is a Friday (ISO 8601 week 13).
    ['date', { is: 'weekday' }, [day(2026, 3, 27)], [day(2026, 3, 28), day(2026, 3, 29)]],
    // What is of another type is told by its kind, not twice.
    ['number', { is: 'between', from: 0 }, ['seven', true], []],
    ['text', { is: 'length', from: 3 }, [null, { error: 'value' }], []],
    // The whole text is matched; the syntax is RE2’s, in which figures are 0 to 9.
    ['text', { is: 'matches', pattern: '\\d{3}|x+' }, ['123', 'xx'], ['1234', '123x', '１２３']],
    ['text', { is: 'matches', pattern: '(' }, [], ['(']],
  ])('%s %j', (kind, must, passing, failing) => {
    const kept = passing.filter((value) => !passes(kind, must, value));
    const let_ = failing.filter((value) => passes(kind, must, value));
    expect([kept, let_]).toEqual([[], []]);
  });

  test.each<[Condition & { is: 'compared' }, CellValue, CellValue, boolean]>([
    [{ is: 'compared', by: '>=', columnId: 'out' }, 5, 5, true],
    [{ is: 'compared', by: '>', columnId: 'out' }, 5, 5, false],
    [{ is: 'compared', by: '=', columnId: 'out' }, 0.1 + 0.2, 0.3, true],
    [{ is: 'compared', by: '<>', columnId: 'out' }, 'Ash', 'ash ', false],
    [{ is: 'compared', by: '<', columnId: 'out' }, 'A 2', 'A 10', true],
    [{ is: 'compared', by: '>=', columnId: 'out' }, 5, null, true],
  ])('%j', (must, value, other, passed) => {
    expect(passes('number', must, value, { out: other })).toBe(passed);
  });

  test('all and any, in one another, and their contraries', () => {
    const low: Condition = { is: 'between', to: 3 };
    const high: Condition = { is: 'between', from: 9 };
    const whole: Condition = { is: 'whole' };
    const numbers = fc.double({ min: -20, max: 20, noNaN: true });
    fc.assert(
      fc.property(numbers, (value) => {
        const [l, h, w] = [low, high, whole].map((each) => passes('number', each, value));
        const any: Condition = { is: 'any', of: [{ is: 'all', of: [low, whole] }, high] };
        expect(passes('number', any, value)).toBe((l && w) || h);
        expect(passes('number', { is: 'between', to: 3, not: true }, value)).toBe(!l);
      }),
    );
  });

  const contact: Column = { id: 'contact', heading: 'Contact', kind: 'yesNo', settings: {} };
  test.each<[When['holds'], CellValue, isAsked: boolean]>([
    ['answer', true, true],
    ['answer', null, false],
    ['blank', null, true],
    [{ is: 'oneOf', values: ['yes'] }, true, true],
    [{ is: 'oneOf', values: ['yes'] }, false, false],
    [{ is: 'oneOf', values: ['yes'], not: true }, null, false],
  ])('asked when the other is %j: %j', (holds, other, isAsked) => {
    const rule: Rule = { must: { is: 'length', to: 1 }, when: { columnId: 'contact', holds } };
    const columns = new Map([['contact', contact]]);
    const ground = { locale, now: NOW, cells: { contact: other } };
    const isBroken = (columns_: ReadonlyMap<string, Column>): boolean =>
      brokenRules('long', ruled('text', rule), { ...ground, columns: columns_ }).length > 0;
    expect(isBroken(columns)).toBe(isAsked);
    // Without the other column it is not asked.
    expect(isBroken(new Map())).toBe(false);
    expect(columnsRead(rule)).toEqual(['contact']);
  });

  test('a pattern made to hang others takes time in proportion to the text', () => {
    const value = `${'a'.repeat(200_000)}!`;
    expect(passes('text', { is: 'matches', pattern: '(a+)+' }, value)).toBe(false);
    expect(readPattern('(a{1000}){1000}').ok).toBe(false);
    expect(readPattern('(?=a)')).toMatchObject({ ok: false });
  });

  test('pictures that can’t be read', () => {
    expect(["'open", 'A(', '9(0)', '9(999)', ''].map(readPicture)).toEqual(Array(5).fill(null));
  });

  test('signs are counted as people see them, plain texts at once', () => {
    const unit = fc.constantFrom('a', ' ', 'é', '\u0301', '👍', '🏽', '\u200d', '\r', '\n');
    const segmenter = new Intl.Segmenter('en', { granularity: 'grapheme' });
    fc.assert(
      fc.property(fc.string({ unit, maxLength: 12 }), (text) => {
        expect(graphemeCount(text)).toBe([...segmenter.segment(text)].length);
      }),
    );
  });
});

describe('a phone of each country (example numbers of libphonenumber-js)', () => {
  test('passes, in its country’s writing and with its code; cut short it does not', () => {
    const wrong = getCountries().flatMap((country) => {
      const number = getExampleNumber(country, examples);
      if (!number) return [];
      const must: Condition = { is: 'phone', country };
      const short = number.number.slice(0, 5);
      return [
        ...[number.formatNational(), number.formatInternational()].filter(
          (text) => !passes('text', must, text),
        ),
        ...(passes('text', must, short) ? [`${country} ${short}`] : []),
      ];
    });
    expect(wrong).toEqual([]);
  });
});

test('what a field takes is told in few words, without what only asks or needs the rest', () => {
  const rules: Rule[] = [
    { must: { is: 'between', from: 0, to: 14 } },
    { must: { is: 'whole' } },
    { must: { is: 'between', to: 9 }, strictness: 'ask' },
    { must: { is: 'compared', by: '>', columnId: 'b' } },
    { must: { is: 'unique' } },
  ];
  expect(ruleHint(ruled('number', ...rules), { locale })).toBe('0 – 14, a whole number');
});

describe('a rule in words', () => {
  const words = { column: ruled('number'), locale, headingOf: () => 'Out' };
  test.each<[Condition, KindId, string]>([
    [{ is: 'between', from: 0, to: 14 }, 'number', 'be from 0 to 14'],
    [{ is: 'between', from: day(2026, 3, 1) }, 'date', 'be on or after 01/03/2026'],
    [{ is: 'length', from: 4, to: 4 }, 'text', 'have exactly 4 characters'],
    [{ is: 'contains', text: 'x', not: true }, 'text', 'not contain ‘x’'],
    [{ is: 'madeOf', of: ['letters', 'figures'] }, 'text', 'be made of letters and figures only'],
    [{ is: 'compared', by: '>=', columnId: 'out' }, 'date', 'be on or after Out'],
    [{ is: 'compared', by: '>=', columnId: 'out' }, 'money', 'be at least Out'],
    [
      {
        is: 'any',
        of: [
          { is: 'all', of: [{ is: 'whole' }, { is: 'between', to: 3 }] },
          { is: 'oneOf', values: ['9', '10'] },
        ],
      },
      'number',
      '(be a whole number and be at most 3) or be ‘9’ or ‘10’',
    ],
  ])('%j of a %s', (must, kind, says) => {
    expect(sayCondition(must, { ...words, column: ruled(kind) })).toBe(says);
  });

  test('with its strictness and message', () => {
    const rule = { must: { is: 'between', to: 9 }, strictness: 'ask', message: 'Rinse.' } as const;
    expect(sayRule(rule, words)).toBe('A must be at most 9; otherwise ask and say ‘Rinse.’');
  });
});

describe('a column’s rules hold where a record is judged', () => {
  const ph: Column = {
    id: 'ph',
    heading: 'pH',
    kind: 'number',
    settings: {
      rules: [
        { must: { is: 'between', from: 0, to: 14 } },
        { must: { is: 'between', to: 9 }, strictness: 'ask', message: '{value} is high. Rinse.' },
      ],
    },
  };
  const out: Column = { id: 'out', heading: 'Out', kind: 'date', settings: {} };
  const back: Column = {
    id: 'back',
    heading: 'Back',
    kind: 'date',
    settings: { rules: [{ must: { is: 'compared', by: '>=', columnId: 'out' } }] },
  };
  const code: Column = {
    id: 'code',
    heading: 'Code',
    kind: 'text',
    settings: { rules: [{ must: { is: 'length', from: 4, to: 4 }, always: true }] },
  };
  const columns = new Map([ph, out, back, code].map((column) => [column.id, column]));
  const judged = (typed: Record<string, string>, before: Cells | null, meant: string[] = []) => {
    const ground = { columns, context: { locale, now: NOW }, meant: new Set(meant), partly: true };
    const { cells, verdicts } = judgeChange(typedCells(typed), before, ground);
    const told = verdicts.map((each) => `${each.columnId}: ${sayProblem(each.problem)}`);
    return { cells, told };
  };
  const [first, second] = [day(2026, 3, 1), day(2026, 3, 2)];

  test.each<[string, Record<string, string>, Cells | null, string[], Cells, string[]]>([
    ['passes', { ph: '7' }, null, [], { ph: 7 }, []],
    [
      'refused',
      { ph: '15', out: '1/3/2026' },
      null,
      ['ph'],
      { out: first },
      ['ph: ‘15’ must be from 0 to 14.'],
    ],
    [
      'asked',
      { ph: '9.5', out: '1/3/2026' },
      null,
      [],
      { out: first },
      ['ph: 9.5 is high. Rinse.'],
    ],
    ['meant', { ph: '9.5' }, null, ['ph'], { ph: 9.5 }, []],
    // Stored before the rule: it stays until it is changed.
    ['held', { ph: '99', out: '1/3/2026' }, { ph: 99 }, [], { ph: 99, out: first }, []],
    // One that always holds: at any change of the record, told where that is.
    [
      'held, always',
      { out: '1/3/2026' },
      { code: 'old' },
      [],
      { code: 'old' },
      ['out: Code ‘old’ must always have exactly 4 characters.'],
    ],
    ['held, changed', { ph: '98' }, { ph: 99 }, [], { ph: 99 }, ['ph: ‘98’ must be from 0 to 14.']],
    [
      'beside',
      { back: '1/3/2026' },
      { out: second },
      [],
      { out: second },
      ['back: ‘01/03/2026’ must be on or after Out.'],
    ],
    // What it is compared with is changed: told where that was typed.
    [
      'read by',
      { out: '2/3/2026' },
      { out: first, back: first },
      [],
      { out: first, back: first },
      ['out: Back ‘01/03/2026’ must be on or after Out.'],
    ],
  ])('%s', (_what, typed, before, meant, cells, told) => {
    expect(judged(typed, before, meant)).toEqual({ cells, told });
  });
});

test('what is no rule is not taken, however it is made', () => {
  const no = [
    {},
    { must: { is: 'between' } },
    { must: { is: 'length', from: 'a' } },
    { must: { is: 'multiple', of: 0 } },
    { must: { is: 'contains', text: '' } },
    { must: { is: 'matches' } },
    { must: { is: 'all', of: [] } },
    { must: { is: 'whole' }, strictness: 'refuse' },
    { must: { is: 'whole', more: 1 } },
    { must: { is: 'unique' }, strictness: 'ask' },
    { must: { is: 'unique', not: true } },
    { must: { is: 'all', of: [{ is: 'unique' }] } },
    { must: { is: 'whole' }, when: { columnId: 'a', holds: 'full' } },
    { must: { is: 'whole' }, more: 1 },
    { must: [1, 2, 3, 4].reduce<object>((of) => ({ is: 'all', of: [of] }), { is: 'whole' }) },
  ];
  expect(no.filter(isRule)).toEqual([]);
  expect(isRule({ must: { is: 'between', from: 1, not: true }, message: 'x' })).toBe(true);
  fc.assert(
    fc.property(fc.anything(), (value) => {
      expect(isRule({ must: value, strictness: 'refuse' })).toBe(false);
    }),
  );
});
