/** Labels that keep apart. */
import { keepApart } from '@foreshore/core';
import type { Part } from './parts.ts';

export const apart: Part = { name: 'apart', functions: { keepApart } };
