/** Crosshairs whose tool is away from the eye, and whose size is a share of the screen. */
import { findTool, sizeByShare } from '@foreshore/core';
import type { Part } from './parts.ts';

export const tool: Part = { name: 'tool', functions: { findTool, sizeByShare } };
