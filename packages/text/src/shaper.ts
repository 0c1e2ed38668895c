/**
 * Text to outlines: HarfBuzz shapes it, the font's own outlines are laid on lines, and the same outlines are measured
 * and painted everywhere. Lengths come out in em; only additions, products and quotients are used, so that every
 * engine gives the same bits.
 */
import {
  type Formatted,
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
import * as hb from 'harfbuzzjs';
import LineBreaker from 'linebreak';
import { argumentsOf, format } from './messages.ts';
import { unwrapWoff } from './woff.ts';

const MOST_KEPT = 5000;

interface Face {
  font: hb.Font;
  unitsPerEm: number;
  outlines: Map<number, { ops: number[]; coords: number[] }>;
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

/** Font files for each weight; later files stand in for what the first lacks. */
export type FontFiles = Record<TextRequest['weight'], readonly Uint8Array[]>;

function openFace(file: Uint8Array): Face {
  const bytes = unwrapWoff(file);
  const font = new hb.Font(new hb.Face(new hb.Blob(bytes)));
  const head = tableOf(bytes, 'head');
  const unitsPerEm = new DataView(bytes.buffer, bytes.byteOffset + head).getUint16(18);
  font.setScale(unitsPerEm, unitsPerEm);
  return { font, unitsPerEm, outlines: new Map() };
}

function tableOf(sfnt: Uint8Array, tag: string): number {
  const view = new DataView(sfnt.buffer, sfnt.byteOffset, sfnt.byteLength);
  for (let i = 0; i < view.getUint16(4); i++) {
    const row = 12 + i * 16;
    if (String.fromCharCode(...sfnt.subarray(row, row + 4)) === tag) return view.getUint32(row + 8);
  }
  throw new RangeError(`The font file has no "${tag}" table.`);
}

const isMark = (character: string): boolean => /^\p{M}$/u.test(character);

class HarfBuzzShaper implements TextShaper {
  private readonly faces: Record<TextRequest['weight'], Face[]>;
  private readonly cache = new Map<string, TextBlock>();
  private readonly draw = new hb.DrawFuncs();
  private drawing: { ops: number[]; coords: number[] } = { ops: [], coords: [] };

  constructor(files: FontFiles) {
    this.faces = { 400: files[400].map(openFace), 700: files[700].map(openFace) };
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
    const key = JSON.stringify([request.text, request.weight, request.align, request.lineHeight, request.wrapEm]);
    let block = this.cache.get(key);
    if (!block) {
      block = this.layOut(request);
      // Texts with running values never end.
      if (this.cache.size >= MOST_KEPT) this.cache.clear();
      this.cache.set(key, block);
    }
    return block;
  }

  private layOut({ text, weight, align, lineHeight, wrapEm }: TextRequest): TextBlock {
    const faces = this.faces[weight];
    const first = faces[0];
    if (!first) throw new RangeError(`There is no font of weight ${weight}.`);
    const missing = new Set<string>();
    const lines = text.split(/\r\n|\r|\n/).flatMap((paragraph) => this.breakLines(paragraph, faces, wrapEm, missing));
    const widthEm = lines.reduce((most, line) => Math.max(most, line.widthEm), 0);
    const { ascender, descender } = first.font.hExtents();
    const [ascentEm, descentEm] = [ascender / first.unitsPerEm, -descender / first.unitsPerEm];
    const ops: number[] = [];
    const coords: number[] = [];
    const placed = lines.map((line, i) => {
      const spare = widthEm - line.widthEm;
      const xEm = align === 'start' ? 0 : align === 'end' ? spare : spare / 2;
      const baselineEm = i * lineHeight + (lineHeight - ascentEm - descentEm) / 2 + ascentEm;
      for (const glyph of line.glyphs) {
        const outline = this.outlineOf(glyph.face, glyph.id);
        for (const op of outline.ops) ops.push(op);
        for (let k = 0; k < outline.coords.length; k += 2)
          coords.push(
            xEm + glyph.x + (outline.coords[k] as number) / glyph.face.unitsPerEm,
            baselineEm - glyph.y - (outline.coords[k + 1] as number) / glyph.face.unitsPerEm,
          );
      }
      return { text: line.text, xEm, baselineEm, widthEm: line.widthEm };
    });
    const capHeight = first.font.getMetricPosition(hb.MetricsTag.CAP_HEIGHT) ?? first.unitsPerEm * 0.7;
    return {
      widthEm,
      heightEm: lines.length * lineHeight,
      capHeightEm: capHeight / first.unitsPerEm,
      lines: placed,
      ops: Uint8Array.from(ops),
      coords: Float64Array.from(coords),
      missing: [...missing],
    };
  }

  /** A paragraph as one line, or as many as keep within `wrapEm` by the Unicode line breaking rules; a word too long stands alone. */
  private breakLines(paragraph: string, faces: Face[], wrapEm: number | null, missing: Set<string>): Line[] {
    const whole = this.shapeLine(paragraph, faces, missing);
    if (wrapEm === null || whole.widthEm <= wrapEm) return [whole];
    const lines: Line[] = [];
    const breaker = new LineBreaker(paragraph);
    let start = 0;
    let last = 0;
    let fitting: Line | null = null;
    for (let chance = breaker.nextBreak(); chance; chance = breaker.nextBreak()) {
      const line = this.shapeLine(paragraph.slice(start, chance.position).trimEnd(), faces, missing);
      if (fitting && line.widthEm > wrapEm) {
        lines.push(fitting);
        start = last;
        fitting = this.shapeLine(paragraph.slice(start, chance.position).trimEnd(), faces, missing);
      } else fitting = line;
      last = chance.position;
    }
    if (fitting) lines.push(fitting);
    return lines;
  }

  private shapeLine(text: string, faces: Face[], missing: Set<string>): Line {
    const glyphs: Glyph[] = [];
    let x = 0;
    for (const run of this.runsOf(text, faces, missing)) {
      const buffer = new hb.Buffer();
      buffer.addText(run.text);
      buffer.guessSegmentProperties();
      hb.shape(run.face.font, buffer);
      const positions = buffer.getGlyphPositions();
      buffer.getGlyphInfos().forEach((info, i) => {
        const p = positions[i];
        if (!p) return;
        const em = run.face.unitsPerEm;
        glyphs.push({ face: run.face, id: info.codepoint, x: x + p.xOffset / em, y: p.yOffset / em });
        x += p.xAdvance / em;
      });
    }
    return { text, glyphs, widthEm: x };
  }

  /** Stretches of text that one font can draw; marks stay with what they stand on. */
  private runsOf(text: string, faces: Face[], missing: Set<string>): { face: Face; text: string }[] {
    const runs: { face: Face; text: string }[] = [];
    for (const character of text) {
      const previous = runs.at(-1);
      if (previous && isMark(character)) {
        previous.text += character;
        continue;
      }
      const able = faces.find((face) => face.font.nominalGlyph(character.codePointAt(0) ?? 0) !== undefined);
      if (!able) missing.add(character);
      const face = able ?? (faces[0] as Face);
      if (previous?.face === face) previous.text += character;
      else runs.push({ face, text: character });
    }
    return runs;
  }

  private outlineOf(face: Face, glyph: number): { ops: number[]; coords: number[] } {
    let outline = face.outlines.get(glyph);
    if (!outline) {
      outline = this.drawing = { ops: [], coords: [] };
      face.font.drawGlyph(glyph, this.draw);
      face.outlines.set(glyph, outline);
    }
    return outline;
  }
}

/** @throws RangeError where a font file cannot be read. */
export const makeShaper = (files: FontFiles): TextShaper => new HarfBuzzShaper(files);
