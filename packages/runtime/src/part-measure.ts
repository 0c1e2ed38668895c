/** Measure lines, and lengths on the screen. */
import { runSpans, takeScreenLengths } from '@foreshore/core';
import type { Part } from './parts.ts';

export const measure: Part = { name: 'measure', functions: { runSpans, takeScreenLengths } };
