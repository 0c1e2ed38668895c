export * from './backup.ts';
export * from './files.ts';
export * from './folder.ts';
export * from './prepared.ts';
