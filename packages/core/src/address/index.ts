export * from './a1';
