/**
 * Text to outlines: HarfBuzz shapes it, the font's own outlines are laid on lines, and the same outlines are measured
 * and painted everywhere. Lengths come out in em; only additions, products and quotients are used, so that every
 * engine gives the same bits.
 */
import {
  type Formatted,
  type Letter,
  PATH_CLOSE,
  PATH_CUBIC,
  PATH_LINE,
  PATH_MOVE,
  PATH_QUADRATIC,
  type TextBlock,
  type TextRequest,
  type TextShaper,
} from '@foreshore/core';
import type { FeedValue } from '@foreshore/document';
import bidiFactory from 'bidi-js';
import * as hb from 'harfbuzzjs';
import LineBreaker from 'linebreak';
import { argumentsOf, format } from './messages.ts';
import { tableOf } from './sfnt.ts';
import { unwrapWoff } from './woff.ts';

const MOST_KEPT = 5000;
/** Strokes of the outlines of one text: more would take longer to paint than a frame lasts. What is beyond is cut off. */
const MOST_OPS = 120_000;
const ELLIPSIS = '\u2026';
/** Levels by the Unicode bidirectional algorithm (UAX 9); shaping and ordering of runs are done here. */
const bidi = bidiFactory();
const graphemes = new Intl.Segmenter(undefined, { granularity: 'grapheme' });

interface Metrics {
  ascentEm: number;
  descentEm: number;
  capHeightEm: number;
}

/** A font file, opened when the first letter is asked of it: most projects never need most of those that ship. */
class Face {
  private readonly file: Uint8Array;
  private opened: hb.Font | null = null;
  private em = 0;
  private known: Metrics | null = null;
  private readonly characters = new Map<number, boolean>();
  readonly outlines = new Map<number, Letter>();

  constructor(file: Uint8Array) {
    this.file = file;
  }

  get font(): hb.Font {
    return (this.opened ??= this.open());
  }
  get unitsPerEm(): number {
    this.opened ??= this.open();
    return this.em;
  }

  get metrics(): Metrics {
    return (this.known ??= this.measured());
  }

  private measured(): Metrics {
    const { ascender, descender } = this.font.hExtents();
    const capHeight = this.font.getMetricPosition(hb.MetricsTag.CAP_HEIGHT) ?? this.unitsPerEm * 0.7;
    return { ascentEm: ascender / this.unitsPerEm, descentEm: -descender / this.unitsPerEm, capHeightEm: capHeight / this.unitsPerEm };
  }

  /** Whether there is a glyph for a character of its own. */
  has(codePoint: number): boolean {
    let known = this.characters.get(codePoint);
    if (known === undefined) this.characters.set(codePoint, (known = this.font.nominalGlyph(codePoint) !== undefined));
    return known;
  }

  private open(): hb.Font {
    const bytes = unwrapWoff(this.file);
    const font = new hb.Font(new hb.Face(new hb.Blob(bytes)));
    const head = tableOf(bytes, 'head');
    this.em = new DataView(bytes.buffer, bytes.byteOffset + head).getUint16(18);
    font.setScale(this.em, this.em);
    return font;
  }
}

interface Glyph {
  face: Face;
  id: number;
  x: number;
  y: number;
}

interface Line {
  text: string;
  glyphs: Glyph[];
  widthEm: number;
}

type Direction = 'ltr' | 'rtl';

interface Run {
  face: Face;
  text: string;
  level: number;
}

interface Letters {
  of: Letter[];
  at: Float64Array;
}

type Path = Pick<TextBlock, 'ops' | 'coords'>;

/** The outlines of letters where they stand, one after the other. */
function pathOf({ of, at }: Letters): Path {
  const ops = new Uint8Array(of.reduce((count, letter) => count + letter.ops.length, 0));
  const coords = new Float64Array(of.reduce((count, letter) => count + letter.coords.length, 0));
  let [op, to] = [0, 0];
  of.forEach((letter, n) => {
    const [x, y] = [at[2 * n] as number, at[2 * n + 1] as number];
    ops.set(letter.ops, op);
    op += letter.ops.length;
    for (let k = 0; k < letter.coords.length; k += 2) {
      coords[to++] = x + (letter.coords[k] as number) / letter.unitsPerEm;
      coords[to++] = y - (letter.coords[k + 1] as number) / letter.unitsPerEm;
    }
  });
  return { ops, coords };
}

/** Letters and marks that run to the left, and signs that say so: without any of them, all of a paragraph from the left has level 0. */
const RUNS_LEFT = /[\u0590-\u08FF\u200F\u202A-\u202E\u2066-\u2069\uFB1D-\uFDFF\uFE70-\uFEFF\uD802-\uD803\uD83A-\uD83B]/;
const levelsOf = (text: string, direction: Direction): Uint8Array =>
  direction === 'ltr' && !RUNS_LEFT.test(text) ? new Uint8Array(text.length) : bidi.getEmbeddingLevels(text, direction).levels;

/** Rule L2 of UAX 9: from the highest level down, every stretch of runs at that level or above is turned round. */
function inVisualOrder(runs: readonly Run[]): Run[] {
  const out = [...runs];
  const highest = runs.reduce((most, { level }) => Math.max(most, level), 0);
  for (let level = highest; level > 0; level--)
    for (let from = 0; from < out.length; from++) {
      let to = from;
      while (to < out.length && (out[to] as Run).level >= level) to++;
      if (to - from > 1) out.splice(from, to - from, ...out.slice(from, to).reverse());
      from = to;
    }
  return out;
}

/** Font files for each weight; later files stand in for what the first lacks. */
export type FontFiles = Readonly<Record<number, readonly Uint8Array[]>>;

/**
 * Weights in the order in which they stand in for one that is wanted (CSS Fonts Module Level 4, font style matching): for
 * 400 to 500 first those up to 500, then lighter, then bolder ones; lighter letters fall back to lighter first, bolder to bolder.
 */
export function weightsBy(wanted: number, weights: readonly number[]): number[] {
  const lighter = weights.filter((w) => w < wanted).sort((a, b) => b - a);
  const bolder = weights.filter((w) => w > wanted).sort((a, b) => a - b);
  const middle = wanted >= 400 && wanted <= 500 ? bolder.filter((w) => w <= 500) : [];
  const after = wanted > 500 ? [...bolder, ...lighter] : [...lighter, ...bolder.filter((w) => !middle.includes(w))];
  return [...weights.filter((w) => w === wanted), ...middle, ...after];
}

function firstWith(faces: readonly Face[], code: number): Face | undefined {
  for (const face of faces) if (face.has(code)) return face;
  return undefined;
}

/** None of the characters before it is a mark. */
const FIRST_MARK = 0x300;
const isMark = (character: string): boolean => /^\p{M}$/u.test(character);

class HarfBuzzShaper implements TextShaper {
  /** Fonts that ship, by weight. */
  private readonly shipped = new Map<number, Face[]>();
  private readonly cache = new Map<string, TextBlock>();
  private readonly chains = new Map<string, Face[]>();
  private readonly buffer = new hb.Buffer();
  private readonly draw = new hb.DrawFuncs();
  private drawing: { ops: number[]; coords: number[] } = { ops: [], coords: [] };
  /** Fonts of the project, by family, then by weight. */
  private readonly own = new Map<string, Map<number, Face>>();
  fonts = 0;

  /** Another weight of the font that ships. */
  addWeight(weight: number, files: readonly Uint8Array[]): void {
    if (this.shipped.has(weight)) return;
    this.shipped.set(
      weight,
      files.map((file) => new Face(file)),
    );
    this.forget();
    this.fonts++;
  }

  addFont(family: string, weight: number, bytes: Uint8Array): void {
    const faces = this.own.get(family) ?? new Map<number, Face>();
    const face = new Face(bytes);
    // What is no font is told of here, not when its first letter is wanted.
    void face.font;
    this.own.set(family, faces.set(weight, face));
    this.forget();
    this.fonts++;
  }

  private forget(): void {
    this.cache.clear();
    this.chains.clear();
  }

  /** Fonts in the order in which they are asked for a letter: the family's nearest weight and its others, then those that ship. */
  private chain(weight: number, family: string | undefined): Face[] {
    const key = `${weight} ${family ?? ''}`;
    let chain = this.chains.get(key);
    if (!chain) this.chains.set(key, (chain = this.chained(weight, family)));
    return chain;
  }

  private chained(weight: number, family: string | undefined): Face[] {
    const own = family === undefined ? undefined : this.own.get(family);
    const nearest = weightsBy(weight, [...this.shipped.keys()]).flatMap((w) => this.shipped.get(w) ?? []);
    return [...(own ? weightsBy(weight, [...own.keys()]).map((w) => own.get(w) as Face) : []), ...nearest];
  }

  constructor(files: FontFiles) {
    for (const [weight, of] of Object.entries(files))
      this.shipped.set(
        Number(weight),
        of.map((file) => new Face(file)),
      );
    const put = (op: number, ...coords: number[]) => {
      this.drawing.ops.push(op);
      this.drawing.coords.push(...coords);
    };
    this.draw.setMoveToFunc((x, y) => put(PATH_MOVE, x, y));
    this.draw.setLineToFunc((x, y) => put(PATH_LINE, x, y));
    this.draw.setQuadraticToFunc((cx, cy, x, y) => put(PATH_QUADRATIC, cx, cy, x, y));
    this.draw.setCubicToFunc((c1x, c1y, c2x, c2y, x, y) => put(PATH_CUBIC, c1x, c1y, c2x, c2y, x, y));
    this.draw.setClosePathFunc(() => put(PATH_CLOSE));
  }

  argumentsOf(message: string): readonly string[] {
    return argumentsOf(message);
  }
  format(message: string, language: string, values: Readonly<Record<string, FeedValue | undefined>>): Formatted {
    return format(message, language, values);
  }

  shape(request: TextRequest): TextBlock {
    const { text, weight, align, lineHeight, wrapEm, direction = 'ltr', cutAfter = null, font = null } = request;
    const key = JSON.stringify([text, weight, align, lineHeight, wrapEm, direction, cutAfter, font]);
    let block = this.cache.get(key);
    if (!block) {
      block = this.layOut(request);
      // Texts with running values never end.
      if (this.cache.size >= MOST_KEPT) this.cache.clear();
      this.cache.set(key, block);
    }
    return block;
  }

  private layOut({ text, weight, align, lineHeight, wrapEm, direction = 'ltr', cutAfter, font }: TextRequest): TextBlock {
    const faces = this.chain(weight, font);
    const first = faces[0];
    if (!first) throw new RangeError(`There is no font of weight ${weight}.`);
    const missing = new Set<string>();
    const whole = text.split(/\r\n|\r|\n/).flatMap((paragraph) => this.breakLines(paragraph, faces, wrapEm, missing, direction));
    const { lines, cut } = this.cutLines(whole, faces, wrapEm, cutAfter ?? null, direction);
    const widthEm = lines.reduce((most, line) => Math.max(most, line.widthEm), 0);
    const { ascentEm, descentEm, capHeightEm } = first.metrics;
    const letters: Letters = { of: [], at: new Float64Array(2 * lines.reduce((count, { glyphs }) => count + glyphs.length, 0)) };
    let [strokes, tooMuch] = [0, false];
    const placed = lines.map((line, i) => {
      const spare = widthEm - line.widthEm;
      const toLeft = direction === 'ltr' ? 'start' : 'end';
      const xEm = align === 'centre' ? spare / 2 : align === toLeft ? 0 : spare;
      const baselineEm = i * lineHeight + (lineHeight - ascentEm - descentEm) / 2 + ascentEm;
      for (const glyph of line.glyphs) {
        const outline = this.outlineOf(glyph.face, glyph.id);
        // The rest of a line from where it would be too much is left out; a shorter line may follow.
        if (strokes + outline.ops.length > MOST_OPS) {
          tooMuch = true;
          break;
        }
        strokes += outline.ops.length;
        letters.at[2 * letters.of.length] = xEm + glyph.x;
        letters.at[2 * letters.of.length + 1] = baselineEm - glyph.y;
        letters.of.push(outline);
      }
      return { text: line.text, xEm, baselineEm, widthEm: line.widthEm };
    });
    let path: Path | null = null;
    return {
      widthEm,
      heightEm: lines.length * lineHeight,
      capHeightEm,
      lines: placed,
      // Most texts are painted letter by letter: these are many times as long, and wait until they are asked for.
      get ops() {
        return (path ??= pathOf(letters)).ops;
      },
      get coords() {
        return (path ??= pathOf(letters)).coords;
      },
      letters,
      cut: cut || tooMuch,
      missing: [...missing],
    };
  }

  /** A paragraph as one line, or as many as keep within `wrapEm` by the Unicode line breaking rules; a word too long stands alone. */
  private breakLines(paragraph: string, faces: Face[], wrapEm: number | null, missing: Set<string>, direction: Direction): Line[] {
    // What is mixed is ordered line by line, with the levels of the whole paragraph.
    const levels = levelsOf(paragraph, direction);
    const part = (from: number, to: number): Line => {
      const text = paragraph.slice(from, to).trimEnd();
      return this.shapeLine(text, levels.subarray(from, from + text.length), faces, missing);
    };
    const whole = this.shapeLine(paragraph, levels, faces, missing);
    if (wrapEm === null || whole.widthEm <= wrapEm) return [whole];
    const lines: Line[] = [];
    const breaker = new LineBreaker(paragraph);
    let start = 0;
    let last = 0;
    let fitting: Line | null = null;
    for (let chance = breaker.nextBreak(); chance; chance = breaker.nextBreak()) {
      const line = part(start, chance.position);
      if (fitting && line.widthEm > wrapEm) {
        lines.push(fitting);
        start = last;
        fitting = part(start, chance.position);
      } else fitting = line;
      last = chance.position;
    }
    if (fitting) lines.push(fitting);
    return lines;
  }

  /** No more than so many lines, none wider than `wrapEm`: what is cut off ends in an ellipsis. */
  private cutLines(
    lines: Line[],
    faces: Face[],
    wrapEm: number | null,
    cutAfter: number | null,
    direction: Direction,
  ): { lines: Line[]; cut: boolean } {
    if (cutAfter === null) return { lines, cut: false };
    let cut = false;
    const kept = lines.slice(0, cutAfter).map((line, i) => {
      const last = i === cutAfter - 1 && lines.length > cutAfter;
      if (!last && (wrapEm === null || line.widthEm <= wrapEm)) return line;
      cut = true;
      const letters = [...graphemes.segment(line.text)].map(({ segment }) => segment);
      const withFirst = (count: number): Line => {
        const text = letters.slice(0, count).join('').trimEnd() + ELLIPSIS;
        return this.shapeLine(text, levelsOf(text, direction), faces, new Set());
      };
      if (wrapEm === null) return withFirst(letters.length);
      // The most that fit, found by halves: a long text is not shaped once for each of its letters.
      let [fits, tooMany] = [0, letters.length + 1];
      while (tooMany - fits > 1) {
        const middle = (fits + tooMany) >> 1;
        if (withFirst(middle).widthEm <= wrapEm) fits = middle;
        else tooMany = middle;
      }
      return withFirst(fits);
    });
    return { lines: kept, cut };
  }

  /** @param levels the bidirectional level of each UTF-16 unit of the text. */
  private shapeLine(text: string, levels: Uint8Array, faces: Face[], missing: Set<string>): Line {
    const glyphs: Glyph[] = [];
    let x = 0;
    for (const run of inVisualOrder(this.runsOf(text, levels, faces, missing))) {
      const { buffer } = this;
      buffer.reset();
      buffer.addText(run.text);
      buffer.guessSegmentProperties();
      buffer.setDirection(run.level % 2 ? hb.Direction.RTL : hb.Direction.LTR);
      hb.shape(run.face.font, buffer);
      const positions = buffer.getGlyphPositions();
      const em = run.face.unitsPerEm;
      buffer.getGlyphInfos().forEach((info, i) => {
        const p = positions[i];
        if (!p) return;
        glyphs.push({ face: run.face, id: info.codepoint, x: x + p.xOffset / em, y: p.yOffset / em });
        x += p.xAdvance / em;
      });
    }
    return { text, glyphs, widthEm: x };
  }

  /** Stretches of text that one font can draw and that run one way; marks stay with what they stand on. */
  private runsOf(text: string, levels: Uint8Array, faces: Face[], missing: Set<string>): Run[] {
    const runs: Run[] = [];
    let at = 0;
    for (const character of text) {
      const level = levels[at] ?? 0;
      at += character.length;
      const previous = runs.at(-1);
      const code = character.codePointAt(0) ?? 0;
      if (previous && code >= FIRST_MARK && isMark(character)) {
        previous.text += character;
        continue;
      }
      // Spaces stay in the font of what is before them: a word and its space are shaped together.
      const able = previous && character === ' ' && previous.face.has(code) ? previous.face : firstWith(faces, code);
      if (!able) missing.add(character);
      const face = able ?? (faces[0] as Face);
      if (previous?.face === face && previous.level === level) previous.text += character;
      else runs.push({ face, text: character, level });
    }
    return runs;
  }

  private outlineOf(face: Face, glyph: number): Letter {
    let outline = face.outlines.get(glyph);
    if (!outline) {
      this.drawing = { ops: [], coords: [] };
      face.font.drawGlyph(glyph, this.draw);
      outline = { unitsPerEm: face.unitsPerEm, ops: Uint8Array.from(this.drawing.ops), coords: Float64Array.from(this.drawing.coords) };
      face.outlines.set(glyph, outline);
    }
    return outline;
  }
}

/** @throws RangeError where a font file cannot be read. */
export const makeShaper = (files: FontFiles): TextShaper => new HarfBuzzShaper(files);
