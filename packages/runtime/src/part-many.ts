/** Detail by distance, and many of one kind: merged, or the nearest alone. */
import { decideDetail, gather, runForms } from '@foreshore/core';
import type { Part } from './parts.ts';

export const many: Part = { name: 'many', functions: { decideDetail, gather, runForms } };
