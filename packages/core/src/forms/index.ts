export * from './definition';
export * from './filling';
export * from './landing';
export { fieldSpan, fillRows, PAGE_PARTS } from './width';
