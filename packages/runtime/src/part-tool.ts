/** Crosshairs whose tool is away from the eye. */
import { findTool } from '@foreshore/core';
import type { Part } from './parts.ts';

export const tool: Part = { name: 'tool', functions: { findTool } };
