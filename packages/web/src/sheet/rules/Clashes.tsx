import { contradictionsIn, sayRule, type Rule, type RuleWords } from '@varn/core';
import { useMemo } from 'react';
import { Notice } from '../../ui/Notice';

interface ClashesProps {
  readonly rules: readonly Rule[];
  readonly words: RuleWords;
  readonly now: number;
  /** Tells of clashes with this rule alone. */
  readonly of?: number;
}

/** Rules that no value can pass, each pair with two values that show why. */
export function Clashes({ rules, words, now, of }: ClashesProps) {
  const { column, locale } = words;
  const found = useMemo(
    () => contradictionsIn(rules, column, { locale, now }, of),
    [rules, column, locale, now, of],
  );
  return found.map(({ rules: places, shown }) => {
    const [one, other] = places.map((at) => {
      const rule = rules[at];
      return rule ? sayRule({ must: rule.must }, words).replace(/; otherwise refuse\.$/, '') : '';
    });
    const values = [
      shown[0] === null ? '' : ` ${shown[0]} passes the first only.`,
      shown[1] === null ? '' : ` ${shown[1]} passes the second only.`,
    ].join('');
    return (
      <Notice key={places.join()} tone="refuse">
        {other === undefined
          ? `No value of this column can pass: ${one ?? ''}.`
          : `No value can pass both: ${one ?? ''}, and ${other}.${values}`}
      </Notice>
    );
  });
}
