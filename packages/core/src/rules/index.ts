export { type BrokenRecords, brokenIn } from './broken';
export { brokenRules, columnsRead, fitsKind, type RuleGround } from './check';
export { graphemeCount } from './graphemes';
export { readPicture } from './picture';
export { sayCondition, sayRule, type RuleWords } from './say';
export { type BrokenRule, ruleDoubts, RULE_SENTENCES, ruledColumns } from './verdicts';
