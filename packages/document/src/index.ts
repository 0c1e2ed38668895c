export * from './change.ts';
export * from './make.ts';
export * from './order.ts';
export * from './pointer.ts';
export * from './project-file.ts';
export * from './schema.ts';
export * from './validate.ts';
