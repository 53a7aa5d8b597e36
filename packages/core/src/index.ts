export * from './address';
export * from './forms';
export * from './intake';
export * from './kinds';
export * from './sheet';
export * from './values';
export * from './words';
