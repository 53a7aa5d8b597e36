import { type Column } from '../kinds';
import { readDraft } from './draft';
import { closeGroup, listedMembers, readMember, settingsOf } from './groups';
import { isQuoted, splitAt, trimmed, unquoted, type Piece } from './pieces';
import { phraseOf } from './phrases';
import { BLOCK_WORDS, readPlainBlock, type BlockWord } from './plainBlocks';
import { OutlineError } from './problem';
import type { Reading } from './reading';
import { readAfter, readEntering, readLook } from './settings';

const MOST_REPEATED = 100;

/** One kind of line: whether a line is of it, and what it does to the form. */
interface LineKind {
  readonly is: (text: string) => boolean;
  readonly read: (text: string, reading: Reading) => void;
}

const COMMENT = /^\s*\/\/ ?(.*)$/s;
/** What a line of a sign alone begins with: a label that begins so stands in quotes. */
const SIGNED = /^(#+|>|(?:-{3,}|={3,})(?=\s*$))\s*(.*)$/;

const comment: LineKind = {
  is: (text) => COMMENT.test(text),
  read: (text, reading) => {
    closeGroup(reading);
    reading.remarks.push(COMMENT.exec(text)?.[1] ?? '');
  },
};

/** A line under a group is one of its members, under a note one more line of it. */
const indented: LineKind = {
  is: (text) => /^\s/.test(text),
  read: (text, reading) => {
    const piece = trimmed({ text: text.trimEnd(), at: 0 });
    const { blocks, group } = reading;
    const last = blocks.at(-1);
    if (group) readMember(piece, group, reading.number);
    else if (last?.is === 'note') {
      const more = last.text === '' ? piece.text : `${last.text}\n${piece.text}`;
      blocks[blocks.length - 1] = { ...last, text: more };
    } else {
      const problem = { code: 'standsAlone', text: piece.text } as const;
      throw new OutlineError(problem, piece.at, piece.text.length);
    }
  },
};

/** `# Heading`, `> note`, `---`. */
const signed: LineKind = {
  is: (text) => SIGNED.test(text),
  read: (whole, reading) => {
    closeGroup(reading);
    const text = whole.trimEnd();
    const [, sign = '', rest = ''] = SIGNED.exec(text) ?? [];
    const word = sign.startsWith('#') ? 'heading' : sign === '>' ? 'note' : 'divider';
    addPlain(word, { text: rest, at: text.length - rest.length }, reading);
  },
};

/** The word a line begins with. No word is quoted, so that the first colon ends it. */
const wordOf = (text: string): BlockWord | undefined => {
  const end = text.indexOf(':');
  const label = (end < 0 ? text : text.slice(0, end)).trim();
  return BLOCK_WORDS.find((each) => each === label);
};

/** `form: …`, `look: …`, and parts of a page by their word. */
const worded: LineKind = {
  is: (text) => wordOf(text.trimEnd()) !== undefined,
  read: (whole, reading) => {
    closeGroup(reading);
    const text = whole.trimEnd();
    const word = wordOf(text);
    const behind = trimmed(partLabel(text).rest ?? { text: '', at: text.length });
    switch (word) {
      case undefined:
        break;
      case 'form':
        reading.name = unquoted(behind.text);
        break;
      case 'look':
        reading.settings = { ...reading.settings, look: readLook(behind) };
        break;
      case 'entering':
        reading.settings = { ...reading.settings, entering: readEntering(behind) };
        break;
      case 'after':
        reading.settings = { ...reading.settings, after: readAfter(behind) };
        break;
      default:
        addPlain(word, behind, reading);
    }
  },
};

/** `Label: kind, …`, or a label alone that names a column. */
const field: LineKind = {
  is: () => true,
  read: (whole, reading) => {
    closeGroup(reading);
    const text = whole.trimEnd();
    const { label, rest } = partLabel(text);
    const known = reading.columns.called(unquoted(label));
    readField(label, rest ?? phraseFor(known) ?? { text: '', at: text.length }, reading);
  },
};

/** The kinds of lines; a line is of the first that it fits. */
export const LINE_KINDS: readonly LineKind[] = [comment, indented, signed, worded, field];

/** A label alone that names a column is about that column, whatever it holds. */
const phraseFor = (known: Column | undefined): Piece | null =>
  known ? { text: phraseOf(known, undefined), at: 0 } : null;

function addPlain(word: BlockWord, rest: Piece, reading: Reading): void {
  if (!reading.hasRoom()) return;
  const remark = reading.takeRemark();
  const made = readPlainBlock(word, rest, '');
  const known = reading.likeBefore((each) => each.is === made.is);
  reading.blocks.push({ ...made, id: reading.idFor(known), ...remark });
}

function readField(labelText: string, rest: Piece, reading: Reading): void {
  const label = unquoted(labelText);
  if (label === '') throw new OutlineError({ code: 'labelMissing' }, 0, 1);
  if (!reading.hasRoom()) return;
  const remark = reading.takeRemark();
  const { draft, kindAt, failures } = readDraft(rest);
  for (const failure of failures) reading.fail(failure);
  if (!draft) return;
  const { times = 0 } = draft;
  if (times > MOST_REPEATED || !Number.isInteger(times)) {
    const problem = { code: 'notSoOften', text: String(times), most: MOST_REPEATED } as const;
    throw new OutlineError(problem, kindAt, 1);
  }
  const line = reading.number;
  if (draft.shape) {
    const members = listedMembers(label, draft, line);
    reading.group = { label, draft, line, remark: remark.remark, kindAt, members };
    return;
  }
  const { columns } = reading;
  const column = columns.columnFor(columns.headingFor(draft.heading, label), draft, kindAt);
  if (!reading.place(column, labelText.length)) return;
  reading.blocks.push({
    is: 'field',
    id: reading.idFor(reading.fieldBefore(column.id)),
    columnId: column.id,
    ...(label !== column.heading && { label }),
    ...settingsOf(draft),
    ...remark,
  });
}

/** The label a line begins with, and what stands behind its colon. */
function partLabel(text: string): { label: string; rest: Piece | null } {
  const whole = { text, at: 0 };
  const [first] = splitAt(whole, ':');
  const end = first && first.text.length < text.length ? first.text.length : text.indexOf(':');
  if (end < 0 || isQuoted(text)) return { label: text, rest: null };
  return { label: text.slice(0, end), rest: { text: text.slice(end + 1), at: end + 1 } };
}
