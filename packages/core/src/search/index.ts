export { readCondition, type ConditionReading, type Test } from './condition';
export { positionsOf, type ViewOrder } from './view';
