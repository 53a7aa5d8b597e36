import {
  CONTROL_IDS,
  DETAIL_BOUNDS,
  isPlainId,
  isRule,
  KIND_IDS,
  LONGEST_NAME,
  MOST_BLOCKS,
  MOST_RULES,
  WIDTH_BOUNDS,
  type AfterSubmit,
  type Block,
  type Column,
  type ControlDetails,
  type Entering,
  type FieldSettings,
  type FormDefinition,
  type FormLook,
  type Limits,
  type Member,
} from '@varn/core';
import { ValidateBy } from 'class-validator';
import { settingsProblem } from './decorators';
import { LONGEST_CELL } from './limits';
import { isObject, list, number, one, parts, text, yes, type Shape, type Shapes } from './shape';

/** The longest text a form shows, and the longest formula it holds. */
const LONGEST_WORDS = 20_000;

const id: Shape = (value) =>
  typeof value === 'string' && isPlainId(value)
    ? null
    : ' must be an id of letters, figures and signs as in abc-1';
const formula = text(LONGEST_WORDS);

const start: Shape = (value) => {
  const more = { 'suggestion?': yes, 'kept?': yes };
  if (!isObject(value)) return ' must be an object';
  if (value['kind'] === 'formula') return parts({ kind: one('formula'), formula, ...more })(value);
  if (value['kind'] === 'today' || value['kind'] === 'now') {
    return parts({ kind: one('today', 'now'), ...more })(value);
  }
  if (value['kind'] === 'next') {
    return parts({ kind: one('next'), 'pattern?': text(LONGEST_NAME, 1), ...more })(value);
  }
  return parts({ kind: one('text', 'beginning'), text: text(LONGEST_CELL), ...more })(value);
};

const pictures: Shape = (value) =>
  isObject(value) && Object.values(value).every((each) => id(each) === null)
    ? null
    : ' must be an object of file ids by choice';

const details = parts({
  'lines?': number(...DETAIL_BOUNDS.lines),
  'step?': number(...DETAIL_BOUNDS.step),
  'from?': number(...DETAIL_BOUNDS.from),
  'to?': number(...DETAIL_BOUNDS.to),
  'figures?': yes,
  'ends?': list(text(LONGEST_NAME), 2),
  'inRow?': yes,
  'pictures?': pictures,
  'follows?': yes,
  'accepts?': one('images', 'documents'),
  'most?': number(...DETAIL_BOUNDS.most),
  'suggests?': yes,
} satisfies Shapes<ControlDetails>);

/** A rule of a field; that of doubles is decided among all records, by a column's rules. */
const ownRule: Shape = (value) =>
  isRule(value) && value.must.is !== 'unique' ? null : ' must be a rule of one answer';

const ANY = Number.MAX_VALUE;
const base = { id, 'shownWhen?': formula, 'remark?': text(LONGEST_WORDS) };

type BlockOf<Is extends Block['is']> = Extract<Block, { readonly is: Is }>;
const settings = {
  'label?': text(LONGEST_NAME * 10),
  'hint?': text(LONGEST_WORDS),
  'control?': one(...CONTROL_IDS),
  'details?': details,
  'required?': yes,
  'requiredWhen?': formula,
  'says?': text(LONGEST_WORDS),
  'readOnly?': yes,
  'start?': start,
  'limits?': parts({
    'from?': number(-ANY, ANY),
    'to?': number(-ANY, ANY),
  } satisfies Shapes<Limits>),
  'rules?': list(ownRule, MOST_RULES),
  'width?': number(...WIDTH_BOUNDS),
  'beside?': yes,
} satisfies Shapes<FieldSettings>;
const member = parts({
  id,
  columnId: id,
  'label?': text(LONGEST_NAME * 10),
} satisfies Shapes<Member>);

/** The parts of each block, by what it is. */
const BLOCKS = new Map<unknown, Shape>(
  Object.entries<Shape>({
    field: parts({ is: one('field'), columnId: id, ...base, ...settings } satisfies Shapes<
      BlockOf<'field'>
    >),
    group: parts({
      is: one('group'),
      as: one('statements', 'repeated', 'boxes'),
      'different?': yes,
      members: list(member, 1000),
      ...base,
      ...settings,
      label: text(LONGEST_NAME * 10),
    } satisfies Shapes<BlockOf<'group'>>),
    heading: parts({ is: one('heading'), text: text(LONGEST_WORDS), ...base } satisfies Shapes<
      BlockOf<'heading'>
    >),
    note: parts({ is: one('note'), text: text(LONGEST_WORDS), ...base } satisfies Shapes<
      BlockOf<'note'>
    >),
    divider: parts({ is: one('divider'), ...base } satisfies Shapes<BlockOf<'divider'>>),
    picture: parts({
      is: one('picture'),
      fileId: id,
      alt: text(LONGEST_WORDS),
      'size?': one('small', 'middling', 'large', 'full'),
      'place?': one('start', 'middle', 'end'),
      ...base,
    } satisfies Shapes<BlockOf<'picture'>>),
    message: parts({
      is: one('message'),
      tone: one('note', 'good', 'caution'),
      formula,
      ...base,
    } satisfies Shapes<BlockOf<'message'>>),
    page: parts({ is: one('page'), title: text(LONGEST_WORDS), ...base } satisfies Shapes<
      BlockOf<'page'>
    >),
  } satisfies Record<Block['is'], Shape>),
);

const block: Shape = (value) => {
  const shape = isObject(value) ? BLOCKS.get(value['is']) : undefined;
  return shape ? shape(value) : '.is must be a kind of block';
};

const keep: Shape = (value) => (value === 'all' ? null : list(id, MOST_BLOCKS)(value));

const definition = parts({
  blocks: list(block, MOST_BLOCKS),
  'look?': parts({
    'accent?': one('brass', 'slate', 'pine', 'madder'),
    'density?': one('dense', 'roomy'),
    'width?': one('narrow', 'wide'),
    'labels?': one('beside'),
    'rows?': one('single'),
  } satisfies Shapes<FormLook>),
  'entering?': parts({
    'enter?': one('submits'),
    'early?': one('heldBack'),
    'opensOn?': one('last'),
    'lands?': one('top'),
  } satisfies Shapes<Entering>),
  'after?': parts({
    'message?': text(LONGEST_WORDS),
    'keep?': keep,
    'then?': one('record', 'close'),
  } satisfies Shapes<AfterSubmit>),
  'remark?': text(LONGEST_WORDS),
} satisfies Shapes<FormDefinition>);

const columns = list(
  parts({
    id,
    heading: text(LONGEST_NAME),
    kind: one(...KIND_IDS),
    settings: (value) => {
      const { formula: written = '', ...others } = isObject(value) ? value : { others: value };
      const wrong = formula(written);
      if (wrong !== null) return `.formula${wrong}`;
      const problem = settingsProblem(isObject(value) ? others : value);
      return problem === null ? null : ` ${problem}`;
    },
  } satisfies Shapes<Column>),
  1000,
);

function isShaped(name: string, shape: Shape): PropertyDecorator {
  return ValidateBy({
    name,
    validator: {
      validate: (value: unknown) => shape(value) === null,
      defaultMessage: (args) => `$property${shape(args?.value) ?? ' is wrong'}`,
    },
  });
}

/** A form's definition, of the known parts, each of its type and within its limits. */
export const IsDefinition = (): PropertyDecorator => isShaped('isDefinition', definition);

/** Columns that are to come with a form, or to change with it. */
export const ArePlannedColumns = (): PropertyDecorator => isShaped('arePlannedColumns', columns);
