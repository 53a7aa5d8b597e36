import type { Block, PictureSize, Tone } from '../forms';
import { readFileId, readFormula } from './attributes';
import {
  formulaPiece,
  plainOrQuoted,
  quoted,
  splitAt,
  trimmed,
  unquoted,
  type Piece,
} from './pieces';
import { OutlineError } from './problem';

/** The words lines begin with that are no fields. A label that is one of them stands in quotes. */
export const BLOCK_WORDS = [
  'form',
  'look',
  'entering',
  'after',
  'heading',
  'section',
  'note',
  'divider',
  'page',
  'picture',
  'message',
  'message note',
  'message good',
  'message caution',
] as const;
export type BlockWord = (typeof BLOCK_WORDS)[number];

const TONES: Readonly<Record<string, Tone>> = {
  message: 'note',
  'message note': 'note',
  'message good': 'good',
  'message caution': 'caution',
};
const SIZES: readonly PictureSize[] = ['small', 'middling', 'large', 'full'];

type PlainBlock = Exclude<Block, { is: 'field' | 'group' }>;

const isPlainText = (text: string): boolean => !/[,(){}]/.test(text);
const words = (text: string): string => plainOrQuoted(text, isPlainText);

/** What of a line is its condition, and the pieces before it. */
function partCondition(pieces: readonly Piece[]): { own: Piece[]; shownWhen?: string } {
  const at = pieces.findIndex(({ text }) => /^\s*(?:shown|only|show) (?:when|if)\b/i.test(text));
  const condition = at < 0 ? undefined : pieces[at];
  if (!condition) return { own: [...pieces] };
  const { text, at: from } = trimmed(condition);
  const behind = text.replace(/^\w+ \w+/, '');
  const rest = trimmed({ text: behind, at: from + text.length - behind.length });
  return {
    own: pieces.filter((each) => each !== condition),
    shownWhen: readFormula(rest, 'shown when'),
  };
}

/** Reads what stands behind a block's word. */
export function readPlainBlock(word: BlockWord, rest: Piece, id: string): PlainBlock {
  const { own, shownWhen } = partCondition(splitAt(rest, ','));
  const base = { id, ...(shownWhen !== undefined && { shownWhen }) };
  // A comma in a text that is not in quotes belongs to the text.
  const text = unquoted(own.map((each) => each.text).join(','));
  switch (word) {
    case 'heading':
    case 'section':
      return { ...base, is: 'heading', text };
    case 'page':
      return { ...base, is: 'page', title: text };
    case 'note':
      return { ...base, is: 'note', text };
    case 'divider':
      return { ...base, is: 'divider' };
    case 'picture':
      return { ...base, ...readPicture(own, rest) };
    default: {
      const formula = readFormula(trimmed({ text, at: rest.at }), word);
      return { ...base, is: 'message', tone: TONES[word] ?? 'note', formula };
    }
  }
}

function readPicture(
  pieces: readonly Piece[],
  line: Piece,
): Omit<Extract<PlainBlock, { is: 'picture' }>, 'id' | 'shownWhen'> {
  const [alt, ...rest] = pieces;
  let fileId = '';
  let size: PictureSize | undefined;
  let place: 'start' | 'middle' | 'end' | undefined;
  for (const piece of rest) {
    const { text, at } = trimmed(piece);
    const [, file] = /^file\s+(\S+)$/.exec(text) ?? [];
    const found = SIZES.find((each) => each === text);
    if (file !== undefined) fileId = readFileId({ text: file, at });
    else if (found) size = found;
    else if (/^at the (?:start|middle|end)$/.test(text)) {
      place = text.slice('at the '.length) as 'start' | 'middle' | 'end';
    } else {
      const problem = { code: 'unknownWord', text, near: null } as const;
      throw new OutlineError(problem, at, Math.max(1, text.length));
    }
  }
  if (fileId === '') {
    const problem = { code: 'standsAlone', text: 'picture' } as const;
    throw new OutlineError(problem, line.at, Math.max(1, line.text.length));
  }
  return {
    is: 'picture',
    fileId,
    alt: unquoted(alt?.text ?? ''),
    ...(size && { size }),
    ...(place && { place }),
  };
}

export function writePlainBlock(block: PlainBlock): string {
  const when = block.shownWhen === undefined ? '' : `shown when ${formulaPiece(block.shownWhen)}`;
  const tail = when === '' ? '' : `, ${when}`;
  switch (block.is) {
    case 'heading':
      return `heading: ${words(block.text)}${tail}`;
    case 'page':
      return `page: ${words(block.title)}${tail}`;
    case 'note':
      return `note: ${words(block.text)}${tail}`;
    case 'divider':
      return when === '' ? 'divider' : `divider: ${when}`;
    case 'picture': {
      const { alt, fileId, size, place } = block;
      const parts = [quoted(alt), `file ${fileId}`, size, place && `at the ${place}`];
      return `picture: ${parts.filter((each) => each !== undefined).join(', ')}${tail}`;
    }
    case 'message':
      return `message ${block.tone}: ${formulaPiece(block.formula)}${tail}`;
  }
}
