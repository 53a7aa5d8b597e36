import * as fc from 'fast-check';
import {
  controlsOf,
  memberHeading,
  type Block,
  type ControlDetails,
  type FieldSettings,
  type StartingValue,
} from '../../forms';
import {
  KIND_IDS,
  KINDS,
  LIST_ORDERS,
  type Column,
  type ColumnSettings,
  type KindId,
  type ListSettings,
} from '../../kinds';
import { anyRule } from '../../rules/testing/anyRule';
import type { OutlinedForm } from '../write';

/*
 * Forms at random, with every part an outline can carry, and texts that are hard on it: quotes,
 * commas, colons, words of the outline itself.
 */

const text = fc
  .oneof(
    fc.string({ minLength: 1, maxLength: 12, unit: 'grapheme' }),
    fc.constantFrom(
      'required',
      'note',
      "Don't know",
      'A, "B"',
      'a: b',
      '// x',
      '(',
      'x\ny',
      'C\\n',
      '= 1',
      "'q",
      "𐀀'-",
      "e\u0301'",
    ),
  )
  .filter((each) => each.trim() !== '');
const words = text.map((each) => each.replace(/\s+/g, ' ').trim());
const formula = fc.constantFrom(
  "'Weight' > 3",
  `IF('A, b'="x";1;2)`,
  'SUM(1;2)',
  "'Don''t'&\"a, b\"",
);
const count = (least: number, most: number): fc.Arbitrary<number> =>
  fc.integer({ min: least, max: most });
const yes = fc.constant(true as const);

/** Absent properties are left out, as the reader leaves them. */
function some<T extends object>(parts: {
  [Name in keyof T]-?: fc.Arbitrary<NonNullable<T[Name]>>;
}): fc.Arbitrary<T> {
  return fc.record(parts, { requiredKeys: [] }) as fc.Arbitrary<T>;
}

const start: fc.Arbitrary<StartingValue> = fc
  .tuple(
    fc.oneof(
      fc.record({ kind: fc.constantFrom('text', 'beginning'), text }),
      fc.record({ kind: fc.constantFrom('today', 'now') }),
      fc.constantFrom({ kind: 'next' as const }, { kind: 'next' as const, pattern: 'RW-000' }),
      fc.record({ kind: fc.constant('formula' as const), formula }),
    ),
    some<{ suggestion: true; kept: true }>({ suggestion: yes, kept: yes }),
  )
  .map(([value, more]) => ({ ...value, ...more }));

const limits = fc
  .tuple(count(0, 40), count(40, 90))
  .chain(([from, to]) => fc.constantFrom({ from, to }, { from }, { to }));

const FORMATS = {
  decimals: count(0, 9),
  grouping: yes,
  percent: yes,
  digitGroups: fc.array(count(1, 9), { minLength: 1, maxLength: 4 }),
};
const choices = fc.uniqueArray(words, { minLength: 1, maxLength: 5 });

/** What feeds the choices of a column, tied to a column of the form. */
const listTo = (columnId: string): fc.Arbitrary<ListSettings> =>
  fc.record(
    {
      source: fc.constantFrom(
        "Stations!'Code'",
        "'Kit loans'!'Item, all'",
        'Choices!B4..',
        'SEQUENCE(31)',
        'SORT(A1:A9,1)',
        'prices',
      ),
      label: fc.constantFrom("'Name'", "'Name'&\", \"&'River'"),
      second: fc.constant("'Name'"),
      where: formula,
      narrowed: fc
        .uniqueArray(fc.constantFrom("'River'", "'Some, where'", "LEFT('Code',2)"), {
          minLength: 1,
        })
        .map((all) => all.map((by) => ({ by, columnId }))),
      fills: fc
        .uniqueArray(fc.constantFrom("'Depth'", "ROUND('Depth',1)"), { minLength: 1 })
        .map((all) => all.map((from) => ({ from, columnId }))),
      order: fc.constantFrom(...LIST_ORDERS),
      first: choices,
      exact: yes,
      recent: yes,
      adds: yes,
      strictness: fc.constantFrom('ask', 'note'),
    },
    { requiredKeys: ['source'] },
  );

function settingsOf(kind: KindId, columnId: string): fc.Arbitrary<ColumnSettings<string>> {
  const key = { key: yes };
  switch (kind) {
    case 'oneChoice':
      return some<ColumnSettings<string>>({
        ...key,
        choices,
        own: fc.constantFrom('', 'Other: '),
        list: listTo(columnId),
      } as never).map(fedOrTyped);
    case 'severalChoices':
      return some<ColumnSettings<string>>({
        choices,
        separator: fc.constantFrom('|', ', '),
        list: listTo(columnId),
      } as never).map(fedOrTyped);
    case 'number':
    case 'wholeNumber':
      return some<ColumnSettings<string>>({ ...FORMATS, unit: words } as never);
    case 'money':
      return some<ColumnSettings<string>>({ currency: fc.constantFrom('EUR', 'JPY') } as never);
    case 'phone':
      return some<ColumnSettings<string>>({ country: fc.constantFrom('GB', 'NO') } as never);
    case 'runningNumber':
      return some<ColumnSettings<string>>({
        pattern: fc.constantFrom('RW-000', '0', 'a "0"'),
      } as never);
    case 'date':
      return some<ColumnSettings<string>>({ datePattern: fc.constant('d mmm yyyy') } as never);
    case 'computed':
      return some<ColumnSettings<string>>({
        follows: yes,
        shownAs: fc.constantFrom('money', 'yesNo'),
      } as never);
    default:
      return some<ColumnSettings<string>>(key as never);
  }
}

/** Rules of a column that may be about itself. */
const rulesOf = (kind: KindId, id: string): fc.Arbitrary<ColumnSettings<string>> =>
  kind === 'file' || KINDS[kind].filledBy !== 'people'
    ? fc.constant({})
    : some<ColumnSettings<string>>({
        rules: fc.array(anyRule(kind, [{ id, kind }]), { minLength: 1, maxLength: 2 }),
      } as never);

/** Choices are typed or fed. */
function fedOrTyped({ choices: typed, list, ...rest }: ColumnSettings<string>) {
  // What joins a list is an answer of one's own.
  const own = list?.adds ? { own: '' } : {};
  return { ...own, ...rest, ...(list ? { list } : typed && { choices: typed }) };
}

const LIMITED: readonly KindId[] = ['text', 'wholeNumber', 'number', 'money', 'date', 'email'];

const DETAILS: {
  [Name in keyof ControlDetails]-?: fc.Arbitrary<NonNullable<ControlDetails[Name]>>;
} = {
  lines: count(2, 9),
  step: fc.constantFrom(0.5, 1, 10),
  from: count(0, 2),
  to: count(3, 9),
  figures: yes,
  ends: fc.tuple(text, text),
  inRow: yes,
  pictures: fc
    .dictionary(words, fc.constantFrom('abcdefghij0123456789', 'f_2'), { minKeys: 1 })
    .map((pairs) => ({ ...pairs })),
  follows: yes,
  accepts: fc.constantFrom('images', 'documents'),
  most: count(1, 20),
  suggests: yes,
};

interface Placed {
  readonly block: Block;
  readonly columns: readonly Column<string>[];
  readonly formula?: string;
}

/** A field of this kind, with every part its control takes. */
const anyField = (id: string, heading: string): fc.Arbitrary<Placed> =>
  fc.constantFrom(...KIND_IDS).chain((kind) =>
    fc.constantFrom(...controlsOf({ kind })).chain((control) => {
      const usual = controlsOf({ kind })[0] === control;
      const details = Object.fromEntries(
        control.takes.map((each) => [each, DETAILS[each]]),
      ) as typeof DETAILS;
      const isStepped = control.id === 'steps' || control.id === 'scale';
      const field = some<FieldSettings>({
        label: words.filter((each) => each !== heading),
        hint: text,
        required: yes,
        requiredWhen: formula,
        says: text,
        readOnly: yes,
        start,
        width: count(1, 12),
        beside: yes,
        ...(LIMITED.includes(kind) && !isStepped && { limits }),
      } as never);
      const shown = some<{ shownWhen: string; remark: string }>({
        shownWhen: formula,
        remark: text,
      });
      return fc
        .tuple(
          field,
          shown,
          some<ControlDetails>(details),
          settingsOf(kind, `c-${id}`),
          formula,
          rulesOf(kind, `c-${id}`),
          rulesOf(kind, `c-${id}`),
        )
        .map(([settings, conditions, made, columnSettings, computed, rules, own]): Placed => ({
          block: {
            is: 'field',
            id,
            columnId: `c-${id}`,
            ...settings,
            ...conditions,
            ...own,
            ...(!usual && { control: control.id }),
            ...(Object.keys(made).length > 0 && { details: made }),
          },
          columns: [{ id: `c-${id}`, heading, kind, settings: { ...columnSettings, ...rules } }],
          ...(kind === 'computed' && { formula: computed }),
        }));
    }),
  );

const anyGroup = (id: string, label: string): fc.Arbitrary<Placed> =>
  fc
    .tuple(
      fc.constantFrom('statements' as const, 'repeated' as const, 'boxes' as const),
      fc.uniqueArray(words, { minLength: 1, maxLength: 4 }),
      choices,
      fc.boolean(),
      some<FieldSettings>({ hint: text, required: yes, width: count(1, 12) } as never),
      fc.boolean(),
    )
    .map(([as, names, offered, isCalled, settings, different]): Placed => {
      const kind = { statements: 'oneChoice', repeated: 'number', boxes: 'yesNo' }[as] as KindId;
      const columns = names.map((name, n): Column<string> => {
        const heading = isCalled ? `${id} ${n}` : `${memberHeading(label, as, name)} ${id}`;
        const settings = as === 'statements' ? { choices: offered } : {};
        return { id: `c-${id}-${n}`, heading, kind, settings };
      });
      const members = columns.map((column, n) => ({
        id: `${id}-${n}`,
        columnId: column.id,
        ...(names[n] !== column.heading && { label: names[n] ?? '' }),
      }));
      const more = { ...settings, ...(different && as === 'repeated' && { different }) };
      return { block: { is: 'group', as, id, label, members, ...more }, columns };
    });

const anyPlain = (id: string): fc.Arbitrary<Placed> =>
  fc
    .tuple(
      fc.oneof(
        fc.record({ is: fc.constant('heading'), text }),
        fc.record({ is: fc.constant('note'), text }),
        fc.record({ is: fc.constant('divider') }),
        fc.record({ is: fc.constant('page'), title: fc.oneof(text, fc.constant('')) }),
        fc.record({
          is: fc.constant('message'),
          tone: fc.constantFrom('note', 'good', 'caution'),
          formula,
        }),
        fc.record(
          {
            is: fc.constant('picture'),
            fileId: fc.constant('abcdefghij0123456789'),
            alt: fc.oneof(text, fc.constant('')),
            size: fc.constantFrom('small', 'middling', 'large', 'full'),
            place: fc.constantFrom('start', 'middle', 'end'),
          },
          { requiredKeys: ['is', 'fileId', 'alt'] },
        ),
      ),
      some<{ shownWhen: string; remark: string }>({ shownWhen: formula, remark: text }),
    )
    .map(([block, more]) => ({ block: { id, ...block, ...more }, columns: [] }));

/** A form at random, whose columns are in no sheet yet. */
export const anyForm: fc.Arbitrary<OutlinedForm> = fc
  .tuple(
    fc.uniqueArray(words, {
      maxLength: 8,
      selector: (each) => each.toLowerCase().normalize('NFKD'),
    }),
    fc.oneof(words, fc.constant('')),
  )
  .chain(([headings, name]) => {
    const placed = headings.map((heading, n) =>
      fc.oneof(
        { weight: 4, arbitrary: anyField(`f${n}`, `${heading} ${n}`) },
        { weight: 1, arbitrary: anyGroup(`g${n}`, `${heading} ${n}`) },
        { weight: 2, arbitrary: anyPlain(`p${n}`) },
      ),
    );
    const settings = fc.record(
      {
        look: some({
          accent: fc.constantFrom('brass', 'slate', 'pine', 'madder'),
          density: fc.constantFrom('dense', 'roomy'),
          width: fc.constantFrom('narrow', 'wide'),
          labels: fc.constant('beside' as const),
        }).filter((each) => Object.keys(each).length > 0),
        entering: fc.record({
          enter: fc.constant('submits'),
          early: fc.constant('heldBack'),
          opensOn: fc.constant('last'),
          lands: fc.constant('top'),
        }),
        after: fc.record({
          message: text,
          keep: fc.constant('all'),
          then: fc.constantFrom('record', 'close'),
        }),
        remark: text,
      },
      { requiredKeys: [] },
    );
    return fc.tuple(fc.tuple(...placed), settings).map(([all, more]) => ({
      name,
      definition: { blocks: all.map(({ block }) => block), ...more },
      columns: all.flatMap(({ columns: [first, ...others], formula }) =>
        first && formula !== undefined
          ? [{ ...first, settings: { ...first.settings, formula } }, ...others]
          : [...(first ? [first] : []), ...others],
      ),
    }));
  });
