export * from './cell';
export * from './iso';
export * from './locale';
export * from './problem';
export * from './readDate';
export * from './readNumber';
export * from './readTime';
export * from './serial';
