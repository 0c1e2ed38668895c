/**
 * Messages with their values put in, from their parsed form; numbers and plurals follow the language. The bench and what leaves it
 * both say their texts with this. Needs no reader of messages.
 */
import type { FeedValue } from '@foreshore/document/types';

/**
 * A parsed message is texts, and what is put in between them: `[0, name]` a value as it is, `[1, name, options]` a number,
 * `[2, name, options]` a date, `[3, name, offset, cases, type]` a plural, `[4, name, cases]` a choice, `[5]` the number of the plural
 * around it.
 */
export type MessagePart =
  | string
  | [0, string]
  | [1, string, Intl.NumberFormatOptions]
  | [2, string, Intl.DateTimeFormatOptions]
  | [3, string, number, Record<string, MessagePart[]>, Intl.PluralRuleType]
  | [4, string, Record<string, MessagePart[]>]
  | [5];

type Given = Readonly<Record<string, FeedValue | undefined>>;

const formats = new WeakMap<object, Map<string, Intl.NumberFormat | Intl.DateTimeFormat>>();
function formatOf<F extends Intl.NumberFormat | Intl.DateTimeFormat>(part: object, language: string, make: () => F): F {
  let of = formats.get(part);
  if (!of) formats.set(part, (of = new Map()));
  let format = of.get(language) as F | undefined;
  if (!format) of.set(language, (format = make()));
  return format;
}
const plain = new Map<string, Intl.NumberFormat>();
const rules = new Map<string, Intl.PluralRules>();

/** A value as a text: the lines of a list; how many of an event have happened; the name in braces where there is none. */
function said(values: Given, name: string): string {
  const value = values[name];
  if (value === undefined) return `{${name}}`;
  if (Array.isArray(value)) return value.join('\n');
  return String(typeof value === 'object' ? value.number : value);
}
/** A value as a number; not a number where it is none. */
function counted(values: Given, name: string): number {
  const value = values[name];
  return Number(typeof value === 'object' && !Array.isArray(value) ? value.number : value);
}

/**
 * A value that is not there, or is counted and is no number, is shown as its name in braces, so that nobody takes the text for finished.
 * @param around the number of the plural around these parts. @throws RangeError, TypeError where the language's formats refuse options.
 */
export function putTogether(parts: readonly MessagePart[], language: string, values: Given, around: number | null = null): string {
  let text = '';
  for (const part of parts) {
    if (typeof part === 'string') text += part;
    else if (part[0] === 5) {
      let format = plain.get(language);
      if (!format) plain.set(language, (format = new Intl.NumberFormat(language)));
      if (around !== null) text += format.format(around);
    } else if (part[0] === 0) text += said(values, part[1]);
    else if (part[0] === 4) text += putTogether(caseOf(part[2], said(values, part[1])), language, values);
    else {
      const number = counted(values, part[1]);
      if (Number.isNaN(number)) text += `{${part[1]}}`;
      else if (part[0] === 1)
        text += formatOf(part, language, () => new Intl.NumberFormat(language, part[2])).format(number * (scaleOf(part[2]) ?? 1));
      else if (part[0] === 2) text += formatOf(part, language, () => new Intl.DateTimeFormat(language, part[2])).format(number);
      else {
        const [, , offset, cases, type] = part;
        const key = `${language} ${type}`;
        let rule = rules.get(key);
        if (!rule) rules.set(key, (rule = new Intl.PluralRules(language, { type })));
        const exact = `=${number}`;
        const chosen = Object.hasOwn(cases, exact) ? (cases[exact] as MessagePart[]) : caseOf(cases, rule.select(number - offset));
        text += putTogether(chosen, language, values, number - offset);
      }
    }
  }
  return text;
}
const caseOf = (cases: Readonly<Record<string, MessagePart[]>>, name: string): readonly MessagePart[] =>
  (Object.hasOwn(cases, name) ? cases[name] : cases.other) ?? [];
/** Skeletons may say a scale, which no option of the language's own formats does. */
const scaleOf = (options: Intl.NumberFormatOptions & { scale?: number }): number | undefined => options.scale;

/** The names of the values in a message, each once. */
export function namesIn(parts: readonly MessagePart[], into: Set<string> = new Set()): Set<string> {
  for (const part of parts) {
    if (typeof part === 'string' || part[0] === 5) continue;
    into.add(part[1]);
    const cases = part[0] === 3 ? part[3] : part[0] === 4 ? part[2] : {};
    for (const inside of Object.values(cases)) namesIn(inside, into);
  }
  return into;
}
