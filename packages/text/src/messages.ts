/** Messages in ICU syntax: which values they name, and what they say with them. Numbers and plurals follow the language. */
import type { Formatted } from '@foreshore/core';
import type { FeedValue } from '@foreshore/document';
import { type MessageFormatElement, parse, TYPE } from '@formatjs/icu-messageformat-parser';
import { partsOf } from './parsed.ts';
import { type MessagePart, putTogether } from './put-together.ts';

interface Parsed {
  parts: MessagePart[] | null;
  fault: Formatted['fault'];
  names: readonly string[];
  /** What it says with a number as its only value, by language: several viewers go through the same numbers one after another. */
  said: Map<string, Map<number, Formatted>>;
}

const MOST_KEPT = 5000;
/** Of all messages together. */
const MOST_SAID = 100_000;
let saidCount = 0;
const parsed = new Map<string, Parsed>();

function keep<V>(map: Map<string, V>, key: string, make: () => V): V {
  let value = map.get(key);
  if (value === undefined) {
    if (map.size >= MOST_KEPT) map.clear();
    map.set(key, (value = make()));
  }
  return value;
}

const WORDS: Record<string, string> = {
  EXPECT_ARGUMENT_CLOSING_BRACE: 'a closing brace is missing',
  EMPTY_ARGUMENT: 'braces stand empty; name a value in them',
  MALFORMED_ARGUMENT: 'what stands in the braces is not the name of a value',
  EXPECT_ARGUMENT_TYPE: 'after the comma the kind of the value is missing, such as number',
  INVALID_ARGUMENT_TYPE: 'this kind of value is not known; there are number, date, time, plural, select, selectordinal',
  MISSING_OTHER_CLAUSE: 'the case "other" is missing',
  UNMATCHED_CLOSING_TAG: 'this closing tag has no opening one',
  UNCLOSED_TAG: 'this tag is not closed',
  INVALID_TAG: 'this is not a tag',
};

const sentence = (message: string): string => WORDS[message] ?? message.toLowerCase().replace(/_/g, ' ');

function namesIn(elements: readonly MessageFormatElement[], into: Set<string>): Set<string> {
  for (const element of elements) {
    if (element.type === TYPE.literal || element.type === TYPE.pound) continue;
    if (element.type === TYPE.tag) namesIn(element.children, into);
    else {
      into.add(element.value);
      if (element.type === TYPE.select || element.type === TYPE.plural)
        for (const option of Object.values(element.options)) namesIn(option.value, into);
    }
  }
  return into;
}

const read = (message: string): Parsed =>
  keep(parsed, message, () => {
    try {
      // Tags mean nothing here: a text may hold a smaller-than sign.
      const elements = parse(message, { ignoreTag: true, requiresOtherClause: true });
      return { parts: partsOf(elements), fault: null, names: [...namesIn(elements, new Set())], said: new Map() };
    } catch (error) {
      const { message: what, location } = error as Error & { location?: { start: { offset: number } } };
      return { parts: null, fault: { message: sentence(what), at: location?.start.offset ?? 0 }, names: [], said: new Map() };
    }
  });

export const argumentsOf = (message: string): readonly string[] => read(message).names;

/** A number that a message puts in: which value, how many decimals (null: as many as it comes with, up to three), and where it stands. */
export interface NumberInText {
  name: string;
  decimals: number | null;
  from: number;
  to: number;
}

/** A stem of a number skeleton that says how many decimals, as ICU writes it: `.00`, `.##`, `precision-integer`. */
const isPrecision = (stem: string): boolean => /^\.[0#*]*$/.test(stem) || stem.startsWith('precision-');
/** What of a skeleton says anything else. */
const otherStems = (tokens: readonly { stem: string; options: readonly string[] }[]): string[] =>
  tokens.filter(({ stem }) => !isPrecision(stem)).map(({ stem, options }) => [stem, ...options].join('/'));

function decimalsOf(tokens: readonly { stem: string }[]): number | null {
  const stem = tokens.find((token) => isPrecision(token.stem))?.stem;
  if (stem === undefined) return null;
  return stem.startsWith('.') ? stem.length - 1 : 0;
}

function numbersAmong(elements: readonly MessageFormatElement[], into: (NumberInText & { others: string[] })[]): void {
  for (const element of elements) {
    if (element.type === TYPE.select || element.type === TYPE.plural)
      for (const option of Object.values(element.options)) numbersAmong(option.value, into);
    const { location } = element;
    if ((element.type !== TYPE.number && element.type !== TYPE.argument) || !location) continue;
    const style = element.type === TYPE.number ? element.style : null;
    // A style by its name, such as percent, has its own decimals.
    if (typeof style === 'string') continue;
    const tokens = style?.tokens ?? [];
    const at = { from: location.start.offset, to: location.end.offset };
    into.push({ name: element.value, decimals: decimalsOf(tokens), ...at, others: otherStems(tokens) });
  }
}

function located(message: string): (NumberInText & { others: string[] })[] {
  const found: (NumberInText & { others: string[] })[] = [];
  try {
    numbersAmong(parse(message, { ignoreTag: true, captureLocation: true }), found);
  } catch {
    // A faulty message is told where it is edited; there are no numbers in it.
  }
  return found;
}

/** The numbers in a message, in the order in which they stand there; also plain arguments, which are numbers where their feed is. */
export const numbersIn = (message: string): NumberInText[] => located(message).map(({ others: _, ...number }) => number);

/** The message with another count of decimals at one of its numbers; null: as the value comes. @param index into `numbersIn`. */
export function withDecimals(message: string, index: number, decimals: number | null): string {
  const number = located(message)[index];
  if (!number) return message;
  const precision = decimals === null ? [] : [decimals === 0 ? 'precision-integer' : `.${'0'.repeat(decimals)}`];
  const skeleton = [...precision, ...number.others].join(' ');
  const made = skeleton ? `{${number.name}, number, ::${skeleton}}` : `{${number.name}, number}`;
  return message.slice(0, number.from) + made + message.slice(number.to);
}

/** What is wrong with a message, or null. */
export const messageFault = (message: string): Formatted['fault'] => read(message).fault;

export function format(message: string, language: string, values: Readonly<Record<string, FeedValue | undefined>>): Formatted {
  const { parts, fault, names, said } = read(message);
  if (!parts) return { text: message, fault };
  const value = names.length === 1 ? values[names[0] as string] : undefined;
  // In a map zero is the same with and without a sign, in a text it is not.
  if (typeof value !== 'number' || Object.is(value, -0)) return formatted(message, parts, language, values);
  let byValue = said.get(language);
  if (!byValue) said.set(language, (byValue = new Map()));
  let known = byValue.get(value);
  if (!known) {
    if (++saidCount > MOST_SAID) {
      parsed.clear();
      saidCount = 0;
    }
    byValue.set(value, (known = formatted(message, parts, language, values)));
  }
  return known;
}

function formatted(
  message: string,
  parts: readonly MessagePart[],
  language: string,
  values: Readonly<Record<string, FeedValue | undefined>>,
): Formatted {
  try {
    return { text: putTogether(parts, language, values), fault: null };
  } catch (error) {
    return { text: message, fault: { message: (error as Error).message.split('\n')[0] ?? 'cannot be put together', at: 0 } };
  }
}
