import { foldText } from '../kinds';
import { editsBetween } from './variants';

/** A heading of a sheet of choices, and the field whose choices its column is likely to be. */
export interface Pair {
  /** The place of the heading among those given. */
  readonly heading: number;
  /** The place of the label among those given. */
  readonly label: number;
}

/** Edits that a name may be away, by its length. */
const near = (length: number): number => (length < 4 ? 0 : Math.floor(length / 4));
const words = (text: string): string[] => foldText(text).match(/[\p{L}\p{N}]+/gu) ?? [];

/** How unlike two names are; the least is the best, and 4 is too much. */
function unlike(heading: string, label: string): number {
  const [a, b] = [words(heading), words(label)];
  const [one, other] = [a.join(' '), b.join(' ')];
  if (one === '' || other === '') return 4;
  if (one === other) return 0;
  const most = near(Math.min(one.length, other.length));
  const far = editsBetween(one, other, most);
  if (far <= most) return 1 + far / (most + 1);
  // `Weather today` goes with `Weather`.
  const [few, many] = a.length < b.length ? [a, b] : [b, a];
  const isPart = few.every((word) => many.includes(word));
  return isPart ? 2 + (1 - few.length / many.length) : 4;
}

/** Pairs headings with labels by their names, near spellings included; each goes into one pair. */
export function pairsOf(headings: readonly string[], labels: readonly string[]): Pair[] {
  const likely = headings
    .flatMap((heading, at) =>
      labels.map((label, to) => ({ heading: at, label: to, by: unlike(heading, label) })),
    )
    .filter(({ by }) => by < 4)
    .sort((a, b) => a.by - b.by);
  const [headed, labelled] = [new Set<number>(), new Set<number>()];
  const pairs: Pair[] = [];
  for (const { heading, label } of likely) {
    if (headed.has(heading) || labelled.has(label)) continue;
    headed.add(heading);
    labelled.add(label);
    pairs.push({ heading, label });
  }
  return pairs.sort((a, b) => a.heading - b.heading);
}
