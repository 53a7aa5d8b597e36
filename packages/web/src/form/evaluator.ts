/** The evaluator with all functions of the formula language: loaded where a form has formulas. */
export { TextEvaluator, TextFormulas } from '@varn/core';
