export * from './contract.ts';
export * from './convention.ts';
export * from './diagnose.ts';
export * from './files.ts';
export * from './pack.ts';
export * from './proof.ts';
export * from './sheet.ts';
export * from './some.ts';
