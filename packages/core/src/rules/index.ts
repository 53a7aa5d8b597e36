export { type BrokenRecords, BrokenTally } from './brokenTally';
export { brokenRules, columnsRead, fitsKind, type RuleGround } from './check';
export { type Contradiction, contradictionsIn, nothingPasses } from './contradictions';
export { type Examples, examplesOf } from './examples';
export { graphemeCount } from './graphemes';
export { ruleHint } from './hint';
export { readPicture } from './picture';
export { type ReadPattern, readPattern } from './patterns';
export {
  readOutlinedRule,
  readRule,
  RULE_WORDS,
  type RuleGrammar,
  type RuleReading,
  type RuleWord,
} from './read';
export {
  sayCondition,
  sayMust,
  sayOutlinedRule,
  sayRule,
  type RuleNotation,
  type RuleWords,
} from './say';
export { unreadPart, type UnreadPart } from './unread';
export { type BrokenRule, ruleDoubts, RULE_SENTENCES, ruledColumns, weightiest } from './verdicts';
export { suggestIn, type Suggestion } from './suggest';
