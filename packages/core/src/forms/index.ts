export * from './definition';
export * from './filling';
export * from './landing';
export { fieldSpan, type Span } from './width';
