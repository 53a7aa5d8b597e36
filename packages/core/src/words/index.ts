export { sayCount, sayCountOf } from './counts';
export { sayProblem } from './problems';
