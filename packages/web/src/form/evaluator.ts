import { TextEvaluator } from '@varn/core';

/** The evaluator with all functions of the formula language: loaded where a form has formulas. */
export const makeEvaluator = (
  ...made: ConstructorParameters<typeof TextEvaluator>
): TextEvaluator => new TextEvaluator(...made);
