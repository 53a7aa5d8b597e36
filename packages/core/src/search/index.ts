export { readCondition } from './condition';
export { positionsIn, type ViewOrder } from './view';
