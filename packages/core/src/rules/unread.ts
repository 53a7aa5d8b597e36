import { isGroup, type Condition, type Rule } from '../kinds';
import { readPattern } from './patterns';
import { readPicture } from './picture';

/** A pattern or a picture that can't be read. */
export interface UnreadPart {
  readonly part: 'pattern' | 'picture';
  readonly text: string;
  /** What the engine says of it, in English. */
  readonly why: string;
}

/** The first part of a rule that can't be read. */
export function unreadPart({ must, when }: Rule): UnreadPart | null {
  const holds = when && typeof when.holds !== 'string' ? [when.holds] : [];
  for (const condition of [must, ...holds]) {
    const found = unreadIn(condition);
    if (found) return found;
  }
  return null;
}

function unreadIn(condition: Condition): UnreadPart | null {
  if (isGroup(condition)) {
    for (const each of condition.of) {
      const found = unreadIn(each);
      if (found) return found;
    }
    return null;
  }
  if (condition.is === 'picture' && !readPicture(condition.picture)) {
    const why = 'a quote or a bracket is left open';
    return { part: 'picture', text: condition.picture, why };
  }
  if (condition.is !== 'matches') return null;
  const read = readPattern(condition.pattern);
  return read.ok ? null : { part: 'pattern', text: condition.pattern, why: read.why };
}
