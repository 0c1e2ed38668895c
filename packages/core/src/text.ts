import type { FeedValue, Label } from '@foreshore/document/types';

/** What text is shaped from; two equal requests give one block. */
export interface TextRequest extends Pick<Label, 'text'>, Pick<Label['paint'], 'weight' | 'align' | 'lineHeight' | 'wrapEm'> {
  /** Of the paragraph; what runs the other way inside of it is turned by the Unicode bidirectional algorithm. */
  direction?: 'ltr' | 'rtl';
  /** No more lines than these: the last ends in an ellipsis, within `wrapEm`. */
  cutAfter?: number;
  /** A family of the project's own fonts; what it lacks is drawn by those that ship. */
  font?: string;
}

export const PATH_MOVE = 0;
export const PATH_LINE = 1;
export const PATH_QUADRATIC = 2;
export const PATH_CUBIC = 3;
export const PATH_CLOSE = 4;

/** The outline of one letter in its font's units, y up: one object wherever it stands. */
export interface Letter {
  readonly unitsPerEm: number;
  /** As in a block. */
  readonly ops: Uint8Array;
  readonly coords: Float64Array;
}

/** Shaped lines of text as outlines. All lengths are in em, the origin is the top left of the block, y down. */
export interface TextBlock {
  readonly widthEm: number;
  readonly heightEm: number;
  /** Height of a capital letter. */
  readonly capHeightEm: number;
  readonly lines: readonly { readonly text: string; readonly xEm: number; readonly baselineEm: number; readonly widthEm: number }[];
  /** PATH_ commands, with their coordinates in turn in `coords`. */
  readonly ops: Uint8Array;
  readonly coords: Float64Array;
  /** The letters that the outlines are of, and where each one's origin stands, x and y in turn; where they are known. */
  readonly letters?: { readonly of: readonly Letter[]; readonly at: Float64Array };
  /** What was cut off ends in an ellipsis. */
  readonly cut: boolean;
  /** Where the host's own canvas shaped it, and it has no outlines: the font as CSS names it, at 1 px. */
  readonly font?: string;
  /** Characters the font has no glyph for. */
  readonly missing: readonly string[];
}

/** A message with its values put in. */
export interface Formatted {
  text: string;
  /** What is wrong with the message, and the character it is wrong at; the text is then the message as it stands. */
  fault: { message: string; at: number } | null;
}

export interface TextShaper {
  /** Counts the fonts that were added: texts shaped before are shaped anew. */
  readonly fonts?: number;
  addFont?(family: string, weight: TextRequest['weight'], bytes: Uint8Array): void;
  /** Adds another weight of the font that ships; later files stand in for what the first lacks. */
  addWeight?(weight: TextRequest['weight'], files: readonly Uint8Array[]): void;
  shape(request: TextRequest): TextBlock;
  /**
   * The least height of capitals in what a page shows, pixels of the page; infinite where it shows no text. Undefined where nobody
   * has measured it: a page draws itself.
   * @param page the hash of its bytes.
   */
  pageCapPx?(page: string): number | undefined;
  /** The arguments of a message in ICU syntax, by name; none where it cannot be read. */
  argumentsOf(message: string): readonly string[];
  /** @param values by the name of the argument; one that is missing is shown as its name in braces. */
  format(message: string, language: string, values: Readonly<Record<string, FeedValue | undefined>>): Formatted;
}

const RIGHT_TO_LEFT = new Set(['Adlm', 'Arab', 'Hebr', 'Mand', 'Mend', 'Nkoo', 'Rohg', 'Samr', 'Syrc', 'Thaa']);

const directions = new Map<string, 'ltr' | 'rtl'>();

/** The way a language is written, by the script that it is mostly written in. */
export function directionOf(language: string): 'ltr' | 'rtl' {
  let direction = directions.get(language);
  if (!direction) directions.set(language, (direction = scriptRuns(language)));
  return direction;
}
function scriptRuns(language: string): 'ltr' | 'rtl' {
  try {
    return RIGHT_TO_LEFT.has(new Intl.Locale(language).maximize().script ?? '') ? 'rtl' : 'ltr';
  } catch {
    return 'ltr';
  }
}

/** What there is in a language, or in that language without its region. */
export const translationIn = (translations: Readonly<Record<string, string>> | undefined, language: string): string | undefined =>
  translations?.[language] ?? translations?.[language.split('-')[0] as string];

/** A label's message for a language, and the language it then is in: its translation, that of the language without its region, or what was written. */
export function messageFor(
  { text, translations }: Pick<Label, 'text' | 'translations'>,
  language: string,
  written: string,
): { message: string; language: string } {
  const near = translationIn(translations, language);
  return near === undefined ? { message: text, language: written } : { message: near, language };
}
