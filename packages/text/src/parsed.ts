/** Messages in a form of their own, for whoever puts them together without reading them: what leaves the bench. */
import { type MessageFormatElement, parse, TYPE } from '@formatjs/icu-messageformat-parser';
import type { MessagePart } from './put-together.ts';

/** What the styles mean that a message names, as ICU has them. */
const NUMBERS: Record<string, Intl.NumberFormatOptions> = { integer: { maximumFractionDigits: 0 }, percent: { style: 'percent' } };
const DAY = { day: 'numeric', year: 'numeric' } as const;
const DATES: Record<string, Intl.DateTimeFormatOptions> = {
  short: { month: 'numeric', day: 'numeric', year: '2-digit' },
  medium: { month: 'short', ...DAY },
  long: { month: 'long', ...DAY },
  full: { weekday: 'long', month: 'long', ...DAY },
};
const CLOCK = { hour: 'numeric', minute: 'numeric' } as const;
const TIMES: Record<string, Intl.DateTimeFormatOptions> = {
  short: CLOCK,
  medium: { ...CLOCK, second: 'numeric' },
  long: { ...CLOCK, second: 'numeric', timeZoneName: 'short' },
  full: { ...CLOCK, second: 'numeric', timeZoneName: 'short' },
};

function cases(options: Record<string, { value: MessageFormatElement[] }>): Record<string, MessagePart[]> {
  return Object.fromEntries(Object.entries(options).map(([name, { value }]) => [name, value.map(part)]));
}

function part(element: MessageFormatElement): MessagePart {
  switch (element.type) {
    case TYPE.literal:
      return element.value;
    case TYPE.argument:
      return [0, element.value];
    case TYPE.number: {
      const { style } = element;
      const options = typeof style === 'string' ? NUMBERS[style] : style && 'parsedOptions' in style ? style.parsedOptions : undefined;
      return [1, element.value, { ...options } as Intl.NumberFormatOptions];
    }
    case TYPE.date:
    case TYPE.time: {
      const { style } = element;
      const named = element.type === TYPE.date ? DATES : TIMES;
      const options =
        typeof style === 'string'
          ? named[style]
          : style && 'parsedOptions' in style
            ? style.parsedOptions
            : element.type === TYPE.time
              ? TIMES.medium
              : undefined;
      return [2, element.value, { ...options } as Intl.DateTimeFormatOptions];
    }
    case TYPE.plural:
      return [3, element.value, element.offset, cases(element.options), element.pluralType ?? 'cardinal'];
    case TYPE.select:
      return [4, element.value, cases(element.options)];
    case TYPE.pound:
      return [5];
    case TYPE.tag:
      return '';
  }
}

/** The parts of a message that was read. */
export const partsOf = (elements: readonly MessageFormatElement[]): MessagePart[] => elements.map(part);

/** Null where the message cannot be read: it is shown as it stands. */
export function parsedMessage(message: string): MessagePart[] | null {
  try {
    // Tags mean nothing here: a text may hold a smaller-than sign.
    return partsOf(parse(message, { ignoreTag: true, requiresOtherClause: true }));
  } catch {
    return null;
  }
}
