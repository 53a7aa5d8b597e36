import type { GroupBlock } from './definition';

/** Headings are names: a label longer than this is a sentence, and a shorter name is proposed. */
const LONGEST_PROPOSED = 32;
/** Less than this is no name. */
const LEAST_PROPOSED = 3;
/** A name ends where a sentence parts: its first question mark, comma, dash or the like. */
const END_OF_NAME = /[?!:;,.–—](?:\s|$)/u;

/**
 * The heading that is proposed for a column whose field has this label: the label itself where it
 * is short; of a longer one what stands before its first part ends, without what is in brackets,
 * and no more whole words than fit.
 */
export function proposedHeading(label: string): string {
  const letters = [...label];
  if (letters.length <= LONGEST_PROPOSED) return label;
  const bare = label
    .replace(/\([^()]*\)/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  const end = END_OF_NAME.exec(bare)?.index ?? bare.length;
  const name = bare.slice(0, end).trim();
  const whole = [...name].length >= LEAST_PROPOSED ? name : label.trim();
  const short = firstWords(whole);
  return short === '' ? letters.slice(0, LONGEST_PROPOSED).join('') : short;
}

/** As many whole words as fit; of a first word that is too long, its beginning. */
function firstWords(text: string): string {
  const letters = [...text];
  if (letters.length <= LONGEST_PROPOSED) return text;
  const fitting = letters.slice(0, LONGEST_PROPOSED + 1).join('');
  const space = fitting.search(/\s\S*$/u);
  return (space > 0 ? fitting.slice(0, space) : letters.slice(0, LONGEST_PROPOSED).join('')).trim();
}

/** What a column of a group is called in the sheet, unless it is said otherwise. */
export const memberHeading = (group: string, as: GroupBlock['as'], label: string): string =>
  as === 'boxes' ? `${group} ${label}` : label;
