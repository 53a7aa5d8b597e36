import 'reflect-metadata';

export * from './decorators';
export * from './definition';
export * from './files';
export * from './forms';
export * from './grid';
export * from './limits';
export * from './look';
export * from './paths';
export * from './people';
export * from './roles';
export { shapeOf } from './shape';
export * from './sheets';
export * from './uploads';
