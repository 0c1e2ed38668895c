/** Measure lines. */
import { runSpans } from '@foreshore/core';
import type { Part } from './parts.ts';

export const measure: Part = { name: 'measure', functions: { runSpans } };
