export { sayWrite } from './changes';
export { sayShapeChange } from './shapes';
export { sayFormCheck } from './formChecks';
export { sayBlockDifference, sayFormDifference } from './formDifferences';
export { sayErrorValue, sayFormulaProblem, sayOpenWhileBlank } from './formulas';
export { sayOutlineProblem } from './outlines';
export { sayProblem } from './problems';
