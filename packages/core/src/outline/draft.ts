import { ATTRIBUTE_WORDS, attributeOf } from './attributes';
import { refuseOutOfBounds } from './bounds';
import type { LineDraft } from './line';
import { cut, splitAt, trimmed, unquoted, type Piece } from './pieces';
import { kindMeant, wordMeant } from './meant';
import { nearest, nearestPhrase, readPhrase } from './phrases';
import { readSource } from './lists';
import { OutlineError } from './problem';
import { readChoices, readStretch, readTail } from './tails';

/** Before a kind, as people write what is otherwise said behind it: `5 times number`. */
const OFTEN = /^(\d{1,6})\s*(?:times|[×x])\s+/i;

/** What a line says of its field, and what of it could not be read. */
export interface DraftReading {
  /** Absent where its kind could not be read. */
  readonly draft: Readonly<LineDraft> | null;
  /** Where its kind stands in the line, from 0. */
  readonly kindAt: number;
  readonly failures: readonly OutlineError[];
}

/** Readings that are kept: more lines than a form can have. */
const MOST_KEPT = 4000;
const kept = new Map<string, DraftReading>();

/**
 * Reads what stands behind a label: the kind and all that is said behind it. What is read depends
 * on the text alone, so a line that did not change is not read again.
 */
export function readDraft(rest: Piece): DraftReading {
  const key = `${rest.at} ${rest.text}`;
  let reading = kept.get(key);
  if (!reading) {
    reading = new DraftReader().read(rest);
    if (kept.size >= MOST_KEPT) kept.clear();
    kept.set(key, reading);
  }
  return reading;
}

interface Begun {
  readonly line: LineDraft;
  readonly behind: Piece;
  readonly listsChoices: boolean;
}

class DraftReader {
  private readonly failures: OutlineError[] = [];

  /** What can't be read is told and left out. */
  read(rest: Piece): DraftReading {
    const pieces = splitAt(rest, ',');
    const first = trimmed(pieces[0] ?? rest);
    const often = OFTEN.exec(first.text);
    const draft = this.begin(often ? cut(first, often[0].length) : first);
    const { failures } = this;
    if (!draft) return { draft: null, kindAt: first.at, failures };
    if (often) Object.assign(draft.line, { shape: 'repeated', times: Number(often[1]) });
    const { behind } = draft;
    let next = 1;
    const isTyped = !behind.text.startsWith('(') && readSource(behind) === null;
    if (draft.listsChoices && behind.text !== '' && isTyped) {
      // A list without brackets goes on to the first word that says something else.
      const choices = [unquoted(behind.text)];
      for (; next < pieces.length; next += 1) {
        const piece = pieces[next];
        if (!piece || attributeOf(piece)) break;
        choices.push(unquoted(piece.text));
      }
      draft.line.settings.choices = choices.flatMap((each) => readChoices({ text: each, at: 0 }));
    } else if (attributeOf(behind) && !readPhrase(behind.text)) {
      // Said without its comma, it is understood where it stands for itself.
      this.failures.push(commaWanted(behind));
    } else this.attempt(() => readTail(behind, draft.line));
    this.attempt(() => refuseOutOfBounds(behind, draft.line));
    for (const piece of pieces.slice(next)) {
      if (piece.text.trim() !== '') this.attempt(() => readAttribute(piece, draft.line));
    }
    return { draft: draft.line, kindAt: first.at, failures };
  }

  private begin(first: Piece): Begun | null {
    const make = (
      begun: Pick<LineDraft, 'kind' | 'control' | 'shape'>,
      length: number,
      listsChoices: boolean,
    ): Begun => ({
      line: { ...begun, settings: {}, details: {}, field: {} },
      behind: trimmed(cut(first, length)),
      listsChoices,
    });
    if (first.text === '') return make({ kind: 'text', control: undefined }, 0, false);
    const statements = /^statements of\b/i.exec(first.text);
    if (statements) {
      const begun = { kind: 'oneChoice', control: undefined, shape: 'statements' } as const;
      return make(begun, statements[0].length, true);
    }
    if (/^ticks$/i.test(first.text)) {
      return make({ kind: 'yesNo', control: undefined, shape: 'boxes' }, first.text.length, false);
    }
    const found = readPhrase(first.text);
    if (!found) {
      const text = first.text.length > 60 ? `${first.text.slice(0, 59)}…` : first.text;
      const problem = {
        code: 'unknownKind',
        text,
        near: kindMeant(first.text) ?? nearestPhrase(first.text),
      } as const;
      this.failures.push(new OutlineError(problem, first.at, first.text.length));
      return null;
    }
    const { kind, control, words } = found.phrase;
    return make({ kind, control }, first.text.length - found.rest.length, words.endsWith(' of'));
  }

  private attempt(read: () => void): void {
    try {
      read();
    } catch (error) {
      if (!(error instanceof OutlineError)) throw error;
      this.failures.push(error);
    }
  }
}

function readAttribute(piece: Piece, draft: LineDraft): void {
  const found = attributeOf(piece);
  if (found) {
    found.attribute.read(found.rest, draft);
    refuseOutOfBounds(piece, draft);
    return;
  }
  const limits = readStretch(piece, draft.kind);
  if (!limits) throw unknownWord(trimmed(piece), ATTRIBUTE_WORDS);
  draft.field.limits = limits;
}

const commaWanted = ({ text, at }: Piece): OutlineError =>
  new OutlineError({ code: 'commaWanted', text }, at, Math.max(1, text.length));

/** A word that says nothing here, with the one that may be meant. */
export function unknownWord({ text, at }: Piece, words: readonly string[]): OutlineError {
  const shown = text.length > 60 ? `${text.slice(0, 59)}…` : text;
  const near = wordMeant(text) ?? nearest(text, words);
  return new OutlineError({ code: 'unknownWord', text: shown, near }, at, Math.max(1, text.length));
}
