import { FORM_SENTENCES } from '../forms';
import { KIND_SENTENCES } from '../kinds';
import { LIST_SENTENCES } from '../lists';
import { RECORD_SENTENCES } from '../records';
import { RULE_SENTENCES } from '../rules';
import { READING_SENTENCES, type Problem, type Sentences } from '../values';

/** The sentences of all problems. Each stands where its problem is found. */
const SENTENCES: Sentences = {
  ...READING_SENTENCES,
  ...KIND_SENTENCES,
  ...LIST_SENTENCES,
  ...RULE_SENTENCES,
  ...RECORD_SENTENCES,
  ...FORM_SENTENCES,
};

/** What is wrong with a value, and what to do. */
export function sayProblem(problem: Problem): string {
  const say = SENTENCES[problem.code] as (facts: Problem) => string;
  return say(problem);
}
