import { standsAlone, typedValue, type Column, type Condition } from '../kinds';
import { columnsRead } from './check';
import { sayCondition, type RuleWords } from './say';

/**
 * What a column takes by its rules, told before anyone types: `0–14`. Rules that only ask,
 * that are about other records or columns, or that say much, are left to be told afterwards.
 */
export function ruleHint(column: Column, { locale }: Pick<RuleWords, 'locale'>): string {
  const words = { column, locale, headingOf: () => '' };
  return (column.settings.rules ?? [])
    .filter((rule) => rule.strictness === undefined && !standsAlone(rule.must))
    .filter((rule) => !rule.when && columnsRead(rule).length === 0)
    .map(({ must }) => inFewWords(must, words))
    .filter((said) => said.length <= LONGEST)
    .join(', ');
}

const LONGEST = 40;

function inFewWords(must: Condition, words: RuleWords): string {
  if (must.is === 'between' && !must.not) {
    const { from, to } = must;
    const [least, most] = [from, to].map((end) =>
      end === undefined ? '' : typedValue(end, words.column, words.locale),
    );
    if (least && most) return `${least} – ${most}`;
  }
  return sayCondition(must, words).replace(/^(not )?be /, '$1');
}
