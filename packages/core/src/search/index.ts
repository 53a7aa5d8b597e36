export { readCondition, type ConditionReading, type Test } from './condition';
export { positionsIn, type ViewOrder } from './view';
