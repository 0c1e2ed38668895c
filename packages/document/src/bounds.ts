/**
 * What any JSON that is brought must keep to before anything else looks at it: no depth or size that would exhaust whoever walks
 * through it, no key that JavaScript takes for something of its own. Walks without recursion, once over every value.
 */
import { toPointer } from './json-pointer.ts';

/** Levels of objects and lists inside of one another. Conditions take two a group, so some twenty-five groups deep. */
export const MOST_DEPTH = 64;
/** Values of all kinds, objects and lists among them. */
export const MOST_VALUES = 1_000_000;
/** A direction shows so many at once at most. */
export const MOST_DIRECTIONS = 16;
const FORBIDDEN = new Set(['__proto__', 'constructor', 'prototype']);

/** Whether a name would be taken for something of the language. */
export const isForbiddenKey = (key: string): boolean => FORBIDDEN.has(key);

/** How many values lie in something that keeps to the bounds. */
export function valuesIn(value: object): number {
  let count = 0;
  for (const inner of Object.values(value)) count += typeof inner === 'object' && inner !== null ? 1 + valuesIn(inner) : 1;
  return count;
}

/** The first thing that breaks a bound, with its place as a JSON Pointer, or null. */
export function boundsFault(input: unknown, mostValues = MOST_VALUES): { pointer: string; message: string } | null {
  interface Step {
    value: object;
    keys: string[];
    at: number;
  }
  const keysOf = (value: object): string[] => Object.keys(value);
  const path: Step[] = [];
  const here = (): string => toPointer(path.map(({ keys, at }) => keys[at - 1] as string));
  const enter = (value: unknown): void => {
    if (typeof value === 'object' && value !== null) path.push({ value, keys: keysOf(value), at: 0 });
  };
  let seen = 0;
  enter(input);
  for (let top = path.at(-1); top; top = path.at(-1)) {
    if (top.at >= top.keys.length) {
      path.pop();
      continue;
    }
    const key = top.keys[top.at++] as string;
    if (!Array.isArray(top.value) && FORBIDDEN.has(key)) return { pointer: here(), message: 'is not a name that can be used' };
    if (++seen > mostValues) return { pointer: '', message: `has more than ${mostValues} values` };
    if (path.length >= MOST_DEPTH) {
      const value = (top.value as Record<string, unknown>)[key];
      if (typeof value === 'object' && value !== null) return { pointer: here(), message: `lies more than ${MOST_DEPTH} levels deep` };
      continue;
    }
    enter((top.value as Record<string, unknown>)[key]);
  }
  return null;
}
