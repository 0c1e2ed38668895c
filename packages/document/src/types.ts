/** The document's types alone, for those who must not bring its schema along. */
export type * from './schema.ts';
