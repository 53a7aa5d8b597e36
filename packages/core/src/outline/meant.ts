/** Ways to say a kind that are common elsewhere, each with how it is said here. */
const KINDS_MEANT: readonly (readonly [said: RegExp, here: string])[] = [
  [/^(?:date ?time|date and time|timestamp)$/i, 'moment'],
  [/^(?:currency|amount|price)$/i, 'money'],
  [/^(\d{1,2}) stars?$/i, 'steps 1..$1'],
  [/^(?:stars?|rating)$/i, 'steps 1..5'],
  [/^(?:string|short text|one line)$/i, 'text'],
  [/^(?:paragraph|long text|text ?area)$/i, 'lines'],
  [/^(?:boolean|bool|yes or no|check ?box|true\/false)$/i, 'yes/no'],
  [/^(?:integer|int)$/i, 'whole number'],
  [/^(?:drop-?down|select|choice|pick list)\b.*$/i, 'one of (…)'],
  [/^(?:check ?boxes|multi-?select|multiple choice)\b.*$/i, 'several of (…)'],
];

/** The same of what is said behind a kind. */
const WORDS_MEANT: readonly (readonly [said: RegExp, here: string])[] = [
  [/^(?:from )?(\d+) (?:to|-|–) (\d+) (?:characters|letters|signs)$/i, '$1..$2'],
  [/^min(?:imum)?(?: length| value)?[ :=]*(-?[\d.]+)(?: (?:characters|letters|signs))?$/i, '$1..'],
  [/^max(?:imum)?(?: length| value)?[ :=]*(-?[\d.]+)(?: (?:characters|letters|signs))?$/i, '..$1'],
  [/^default(?: value)?[ :=]+(.+)$/i, 'starts "$1"'],
  [/^(?:unique|no duplicates)$/i, 'key'],
  [/^(per \p{L}+)$/iu, 'unit "$1"'],
  [/^(?:help|description|help text)[ :=]+(.+)$/i, 'hint "$1"'],
];

function meantBy(
  text: string,
  ways: readonly (readonly [said: RegExp, here: string])[],
): string | null {
  const said = text.trim();
  const way = ways.find(([each]) => each.test(said));
  return way ? said.replace(way[0], way[1]) : null;
}

/** The kind that is meant by a word of another trade; `null` where none is known. */
export const kindMeant = (text: string): string | null => meantBy(text, KINDS_MEANT);

/** What is meant by words behind a kind that say nothing here; `null` where that is not known. */
export const wordMeant = (text: string): string | null => meantBy(text, WORDS_MEANT);
