/** From which way something happened. */
import { moveDirections } from '@foreshore/core';
import type { Part } from './parts.ts';

export const directions: Part = { name: 'directions', functions: { moveDirections } };
