/** The picture of a moment: the level's colours where rays see them, what is painted, and a frame about what is meant. */
import { arrange, compile, type Level, makeSolver, type Pose, screenRay, solve, type Vec3 } from '@foreshore/core';
import { type Document, makeDocument, makeLabel, makeText, onGlass } from '@foreshore/document';
import { shippedShaper } from '@foreshore/text/node';
import { describe, expect, it } from 'vitest';
import { levelOf } from '../../core/src/sample-level.ts';
import { bitmap, momentSvg, rowsShown } from './moment.ts';

const POSE: Pose = { position: [0, 1.6, 0], rotation: [0, 0, 0, 1] };
function yard(): Document {
  const d = makeDocument('Yard');
  d.anchors.lamp = { kind: 'surface', name: 'Lamp', order: 'a0', node: null, position: [1, 1.6, -8], normal: [0, 1, 0] };
  d.elements.lamp = makeLabel('lamp', 'Lamp mast', 'a0');
  d.elements.post = makeText(onGlass([1, 0.9], [60, 0]), 'Post 14', 'a1');
  return d;
}
/** Red in the left half of the world, blue in the right. */
const halves: Level = {
  ...levelOf([]),
  colourAt: (_, direction, out) => Object.assign(out, direction[0] < 0 ? [200, 10, 20] : [5, 30, 240]),
};

function picture(d: Document, element: string, level: Level | null = halves) {
  const solver = makeSolver(arrange(compile(d, level), d.viewers.desk as never, shippedShaper()));
  solve(solver, { timeS: 0, head: POSE, depthOrder: true });
  return { solver, svg: momentSvg(solver, POSE, rowsShown(solver, element)) };
}
/** Colours of a BMP of 24 bits, read by its header. */
function read(address: string): { width: number; height: number; at: (x: number, y: number) => number[] } {
  const bytes = Uint8Array.from(atob(address.replace(/^data:image\/bmp;base64,/, '')), (c) => c.charCodeAt(0));
  const view = new DataView(bytes.buffer);
  expect(String.fromCharCode(bytes[0] as number, bytes[1] as number)).toBe('BM');
  expect(view.getUint32(2, true)).toBe(bytes.length);
  const [first, width, lines] = [view.getUint32(10, true), view.getInt32(18, true), view.getInt32(22, true)];
  const stride = Math.ceil((width * 3) / 4) * 4;
  return {
    width,
    height: Math.abs(lines),
    at: (x, y) => {
      const line = lines < 0 ? y : lines - 1 - y;
      const [b, g, r] = bytes.subarray(first + line * stride + x * 3);
      return [r as number, g as number, b as number];
    },
  };
}
const backdropOf = (svg: string) => read(/href="(data:image\/bmp[^"]*)"/.exec(svg)?.[1] ?? '');
/** The box of the frame, by its path. */
const frameOf = (svg: string): number[][] => {
  const [, d = ''] = /<path d="M([^"]*)Z" fill="none" stroke="#C8321F"/.exec(svg) ?? [];
  return d.split('L').map((point) => point.split(' ').map(Number));
};

describe('a bitmap', () => {
  it.each([
    [1, 1],
    [3, 2],
    [4, 5],
    [7, 3],
  ])('of %i by %i has its colours where they were', (columns, lines) => {
    const colours = Uint8Array.from({ length: columns * lines * 3 }, (_, k) => (k * 37) % 256);
    const { width, height, at } = read(bitmap(columns, lines, colours));
    expect([width, height]).toEqual([columns, lines]);
    for (let y = 0; y < lines; y++)
      for (let x = 0; x < columns; x++) expect(at(x, y)).toEqual([...colours.subarray((y * columns + x) * 3, (y * columns + x) * 3 + 3)]);
  });
});

describe('a picture of a moment', () => {
  it('has the level as rays see it', () => {
    const { solver, svg } = picture(yard(), 'lamp');
    const { width, height, at } = backdropOf(svg);
    const { projection } = solver.a;
    expect(height / width).toBeCloseTo(projection.heightPx / projection.widthPx, 1);
    for (const [x, y] of [
      [0, 0],
      [width - 1, height - 1],
      [(width >> 1) - 2, 3],
      [(width >> 1) + 1, height >> 1],
    ] as const) {
      const ray = screenRay(projection, POSE, ((x + 0.5) / width) * projection.widthPx, ((y + 0.5) / height) * projection.heightPx);
      expect(at(x, y)).toEqual(halves.colourAt(ray.origin, ray.direction, [0, 0, 0] as Vec3));
    }
  });

  it('has what is painted, and a frame about what is meant: the label stands where it is projected to', () => {
    const { solver, svg } = picture(yard(), 'lamp');
    for (const id of ['lamp', 'post']) expect(svg.includes(`<g id="${id}">`)).toBe(true);
    const { focalX, centreX, widthPx } = solver.a.projection;
    const points = frameOf(svg);
    const [left, right] = [Math.min(...points.map(([x]) => x as number)), Math.max(...points.map(([x]) => x as number))];
    // The anchor is 1 m to the right, 8 m ahead; the label stands centred over it.
    expect((left + right) / 2).toBeCloseTo(centreX + (focalX * 1) / 8, 0);
    expect(right - left).toBeLessThan(widthPx / 6);
  });

  it('is well-formed whatever a text holds', () => {
    const d = yard();
    d.elements.lamp = { ...makeLabel('lamp', 'A \ud800 B \u0001 <&>', 'a0') };
    const { svg } = picture(d, 'lamp');
    expect(() => encodeURIComponent(svg)).not.toThrow();
    expect(svg.includes('\u0001')).toBe(false);
  });

  it('marks what goes over the edge along the edge, and nothing that is not shown', () => {
    const { solver, svg } = picture(yard(), 'post');
    const { widthPx, heightPx } = solver.a.projection;
    for (const [x, y] of frameOf(svg)) {
      expect(x).toBeGreaterThanOrEqual(0);
      expect(x).toBeLessThanOrEqual(widthPx);
      expect(y).toBeLessThanOrEqual(heightPx);
    }
    expect(Math.max(...frameOf(svg).map(([x]) => x as number))).toBeGreaterThan(widthPx - 20);
    expect(picture(yard(), 'nobody').svg.includes('#C8321F')).toBe(false);
    // Without a level there is a plain ground.
    expect(backdropOf(picture(yard(), 'lamp', null).svg).at(0, 0)).toEqual([176, 196, 204]);
  });
});
