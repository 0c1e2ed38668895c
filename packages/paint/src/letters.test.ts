/** Covers are joined and coloured as by hand, pixel by pixel. */

import { shippedShaper } from '@foreshore/text/node';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Cover, colourCover, joinCover, Letters, type Rgba } from './letters.ts';
import { boundsOf, piecesOf } from './sprites.ts';

const empty = (width: number, height: number): Cover => ({ width, height, of: new Uint8Array(width * height) });

describe('joining what letters cover', () => {
  it('puts a letter where its origin is, and keeps what stood there', () => {
    const onto = empty(4, 3);
    const letter = { left: -1, top: -2, width: 2, height: 2, of: Uint8Array.of(10, 20, 30, 255) };
    joinCover(onto, letter, 2, 3);
    expect([...onto.of]).toEqual([0, 0, 0, 0, 0, 10, 20, 0, 0, 30, 255, 0]);
    // Half and half of a pixel are three quarters: 128 + 128 · 127/255 = 191.75.
    onto.of.fill(128);
    joinCover(onto, { left: 0, top: 0, width: 1, height: 1, of: Uint8Array.of(128) }, 0, 0);
    expect(onto.of[0]).toBe(192);
  });

  it('leaves out what lies beyond, on every side', () => {
    const letter = { left: 0, top: 0, width: 3, height: 3, of: new Uint8Array(9).fill(255) };
    for (const [x, y, covered] of [
      [-2, -2, [0]],
      [1, 1, [3]],
      [-1, 1, [2]],
      [-5, 0, []],
      [0, 7, []],
    ] as const) {
      const onto = empty(2, 2);
      joinCover(onto, letter, x, y);
      const places = [...onto.of].flatMap((v, k) => (v ? [k] : []));
      expect(places.filter((k) => (covered as readonly number[]).includes(k))).toEqual([...covered]);
      if (covered.length === 0) expect(places).toEqual([]);
    }
  });

  it('covers no pixel less than before, and none more than whole', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ minLength: 12, maxLength: 12 }),
        fc.uint8Array({ minLength: 6, maxLength: 6 }),
        fc.integer(),
        (a, b, seed) => {
          const onto = { width: 4, height: 3, of: Uint8Array.from(a) };
          joinCover(onto, { left: 0, top: 0, width: 3, height: 2, of: b }, seed % 4, (seed >> 3) % 3);
          for (let k = 0; k < 12; k++) expect(onto.of[k]).toBeGreaterThanOrEqual(a[k] as number);
        },
      ),
      { seed: 1 },
    );
  });
});

describe('finding letters one by one', () => {
  it('is done for sizes that several texts have, not for those of one', () => {
    const letters = new Letters(() => {});
    for (let k = 0; k < 20; k++) expect(letters.isWorth(10 + k / 7, 0)).toBe(false);
    const worth = Array.from({ length: 8 }, () => letters.isWorth(14, 2));
    expect(worth).toEqual([false, false, false, false, true, true, true, true]);
    // An outline of another width is another size.
    expect(letters.isWorth(14, 1)).toBe(false);
  });
});

describe('colouring', () => {
  const pixel = (fill: number, colour: Rgba, under: number | null, underColour: Rgba): number[] => {
    const pixels = new Uint8ClampedArray(4).fill(99);
    const one = (cover: number): Cover => ({ width: 1, height: 1, of: Uint8Array.of(cover) });
    colourCover(pixels, 1, one(fill), colour, under === null ? null : one(under), underColour);
    return [...pixels];
  };
  const [white, black]: Rgba[] = [
    [255, 255, 255, 255],
    [0, 0, 0, 255],
  ] as const;

  it('is the letter alone where it covers all, its outline alone where it covers nothing, and nothing where neither does', () => {
    expect(pixel(255, white as Rgba, 255, black as Rgba)).toEqual([255, 255, 255, 255]);
    expect(pixel(0, white as Rgba, 255, black as Rgba)).toEqual([0, 0, 0, 255]);
    expect(pixel(0, white as Rgba, 0, black as Rgba)[3]).toBe(0);
    expect(pixel(0, white as Rgba, null, black as Rgba)[3]).toBe(0);
    expect(pixel(64, [10, 20, 30, 255], null, black as Rgba)).toEqual([10, 20, 30, 64]);
  });

  it('lays one over the other', () => {
    // 102 of 255 of white over all of black: 40 % white, whole.
    expect(pixel(102, white as Rgba, 255, black as Rgba)).toEqual([102, 102, 102, 255]);
    // A half of a colour that is half let through is a quarter: 255/2 · 128/255 …
    expect(pixel(128, [200, 0, 0, 128], null, black as Rgba)).toEqual([200, 0, 0, 64]);
    // 40 % of white over 50 % of black that shows through the 60 %: alpha 0.4 + 0.5 · 0.6 = 0.7, white 0.4 / 0.7.
    const [r, , , a] = pixel(102, white as Rgba, 128, black as Rgba) as [number, number, number, number];
    expect(a).toBeCloseTo(0.4 * 255 + 128 * 0.6, -0.5);
    expect(r).toBeCloseTo((255 * 102) / (102 + 128 * 0.6), -0.5);
  });

  it('keeps to its rows', () => {
    const pixels = new Uint8ClampedArray(4 * 6).fill(7);
    colourCover(pixels, 3, { width: 2, height: 2, of: new Uint8Array(4).fill(255) }, [1, 2, 3, 255], null, [0, 0, 0, 0]);
    expect([...pixels].filter((_, k) => Math.floor(k / 4) % 3 === 2)).toEqual(Array(8).fill(7));
  });
});

describe('the bounds of a text', () => {
  it('are those of its outlines to the bit, found letter by letter or point by point', () => {
    const text = shippedShaper();
    for (const said of ['Low water 06:12', 'gÅjÇ/|_', '\u05d2\u05d0\u05d5\u05ea', '   ', '']) {
      const block = text.shape({ text: said, weight: 400, align: 'centre', lineHeight: 1.2, wrapEm: null });
      const { widthEm, heightEm, capHeightEm, lines, ops, coords, cut, missing } = block;
      const plain = { widthEm, heightEm, capHeightEm, lines, ops, coords, cut, missing };
      expect(boundsOf(block)).toEqual(boundsOf(plain));
      expect(Number.isFinite(boundsOf(block)[0])).toBe(coords.length > 0);
    }
  });
});

describe('a picture of a text laid on a panel in pieces', () => {
  it('is nowhere farther than a third of a pixel from where the panel has it, by the map itself', () => {
    const turn = fc.double({ min: -1, max: 1, noNaN: true });
    let [inPieces, outlined] = [0, 0];
    fc.assert(
      fc.property(
        turn,
        turn,
        fc.double({ min: 1.5, max: 30, noNaN: true }),
        fc.double({ min: 0.01, max: 0.12, noNaN: true }),
        (yaw, pitch, far, em) => {
          // A plane turned about both axes, seen by a lens of 600 px: x = 600 X / Z, and Z grows along it.
          const [xx, xz, yx, yy, yz] = [
            ...[Math.cos(yaw), Math.sin(yaw)],
            ...[-Math.sin(yaw) * Math.sin(pitch), Math.cos(pitch), Math.cos(yaw) * Math.sin(pitch)],
          ] as [number, number, number, number, number];
          const map = Float64Array.of(600 * xx * em, 600 * yx * em, 0, 0, 600 * yy * em, 0, xz * em, yz * em, far);
          const bounds = [0, 0, 12, 3] as const;
          const pieces = piecesOf(map, bounds);
          if (!pieces) {
            outlined++;
            return;
          }
          if (pieces[0] * pieces[1] > 1) inPieces++;
          const seen = (x: number, y: number): [number, number] => {
            const w = (map[6] as number) * x + (map[7] as number) * y + (map[8] as number);
            return [((map[0] as number) * x + (map[1] as number) * y) / w, ((map[3] as number) * x + (map[4] as number) * y) / w];
          };
          for (let i = 0; i < pieces[0]; i++)
            for (let j = 0; j < pieces[1]; j++) {
              const [halfX, halfY] = [6 / pieces[0], 1.5 / pieces[1]];
              const [mx, my] = [halfX * (2 * i + 1), halfY * (2 * j + 1)];
              const tiny = 1e-4;
              const [middle, right, down] = [seen(mx, my), seen(mx + tiny, my), seen(mx, my + tiny)];
              for (const [ax, ay] of [
                [-1, -1],
                [1, -1],
                [-1, 1],
                [1, 1],
                [0, 1],
                [1, 0],
              ] as const) {
                const [tx, ty] = [ax * halfX, ay * halfY];
                const at = seen(mx + tx, my + ty);
                const off = [0, 1].map((k) => {
                  const [m, r, d] = [middle[k], right[k], down[k]] as [number, number, number];
                  return (at[k] as number) - m - ((r - m) * tx + (d - m) * ty) / tiny;
                });
                expect(Math.hypot(...off)).toBeLessThan(0.36);
              }
            }
        },
      ),
      { seed: 1, numRuns: 400 },
    );
    expect(inPieces).toBeGreaterThan(20);
    expect(outlined).toBeLessThan(200);
  });
});
