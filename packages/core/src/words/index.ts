export { sayCount, sayCountOf } from './counts';
export { sayErrorValue, sayFormulaProblem } from './formulas';
export { sayProblem } from './problems';
