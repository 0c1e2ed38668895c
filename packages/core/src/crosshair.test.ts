/** A crosshair opens as its feed says: by pixels, or to where a cone about the view's axis meets the picture. */
import { type Crosshair, type Document, findFaults, makeCrosshair, makeDocument, withoutPicture } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { closedGapPx, crosshairGap } from './draw-crosshair.ts';
import { drawList } from './draw-list.ts';
import { explain } from './explain/explain.ts';
import { measureReadable } from './readable.ts';
import { fixedText } from './sample.ts';
import { levelOf } from './sample-level.ts';
import { makeSolver, solve } from './solve.ts';
import { projectionOf } from './spaces/lens.ts';
import { projectPoint } from './spaces/project.ts';

const HEAD = { position: [0, 1.6, 0] as [number, number, number], rotation: [0, 0, 0, 1] as [number, number, number, number] };
const withCrosshair = (part: Partial<Crosshair> = {}): Document => {
  const made = makeDocument('Low Water');
  made.feeds.breath = { name: 'Breath', order: 'a0', kind: 'number', unit: '%', initial: 0 };
  made.elements.aim = { ...makeCrosshair('Aim', 'breath', 'a0'), ...part };
  return made;
};
const solved = (d: Document) => {
  const a = arrange(compile(d, null), d.viewers.desk as never, fixedText);
  const solver = makeSolver(a);
  return {
    a,
    at: (timeS: number, breath: unknown) => {
      const values = a.compiled.feedIds.map((id) => (id === 'breath' ? breath : undefined)) as never;
      solve(solver, { timeS, head: HEAD, depthOrder: false, values });
      return drawList(solver).items;
    },
    shareNow: () => solver.f.gaugeShare[0] as number,
  };
};

describe('the opening of a crosshair', () => {
  it('by angle lies where a cone about the axis meets the picture, whatever the lens (property)', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 20, max: 120, noNaN: true }),
        fc.double({ min: 0.1, max: 40, noNaN: true }),
        fc.double({ min: 0.01, max: 1, noNaN: true }),
        fc.double({ min: 0.5, max: 300, noNaN: true }),
        fc.double({ min: 0, max: 2 * Math.PI, noNaN: true }),
        (fovDeg, deg, share, farM, turn) => {
          const lens = { kind: 'perspective', fovDeg, fovAxis: 'vertical', hold: 'vertical', designAspect: null, nearM: 0.01 } as const;
          const projection = projectionOf(lens, 1920, 1080);
          // A point of the cone's rim, by its half angle from the axis.
          const half = (deg * share * Math.PI) / 360;
          const side = farM * Math.tan(half);
          const rim = projectPoint(projection, HEAD, [side * Math.cos(turn), 1.6 + side * Math.sin(turn), -farM]);
          const crosshair = { ...makeCrosshair('Aim', 'breath', 'a0'), opening: { by: 'angle' as const, deg } };
          const gap = crosshairGap(crosshair, share, projection, 1);
          expect(Math.abs(Math.hypot(rim.x - 960, rim.y - 540) - gap)).toBeLessThan(1);
        },
      ),
    );
  });
  it('by pixels grows from its closed gap with the value', () => {
    const { at } = solved(withCrosshair({ recoverS: 0, paint: { colour: '#FBF8F0', outline: null, opacity: 1 }, dotPx: 0 }));
    // A desk of 1920 x 1080 px takes one pixel for a design pixel. Closed: 44/2 - 14 = 8 px; half open: 8 + 20.
    const up = (items: ReturnType<typeof at>) => items.find((item) => item.kind === 'line');
    expect(up(at(0, 0))).toMatchObject({ x1: 960, y1: 540 - 8, y2: 540 - 22 });
    expect(up(at(1, 50))).toMatchObject({ x1: 960, y1: 540 - 28, y2: 540 - 42 });
    expect(up(at(2, 400))).toMatchObject({ y1: 540 - 48 });
  });
  it('opens at once and closes with its time constant, alike at every rate of frames', () => {
    const ends = [30, 60, 144].map((hz) => {
      const { at, shareNow } = solved(withCrosshair({ recoverS: 0.25 }));
      at(0, 0);
      at(1, 100);
      expect(shareNow()).toBe(1);
      // The value has dropped within one step of 1/90 s, whatever follows.
      at(1 + 1 / 90, 0);
      const from = shareNow();
      for (let k = 1; k <= hz / 2; k++) at(1 + 1 / 90 + k / hz, 0);
      expect(shareNow()).toBeCloseTo(from * Math.exp(-0.5 / 0.25), 9);
      return shareNow();
    });
    expect(ends[1]).toBeCloseTo(ends[0] as number, 9);
    expect(ends[2]).toBeCloseTo(ends[0] as number, 9);
  });
  it('is struck through where its feed gives no number, and closed without a feed', () => {
    const strikes = (source: string | null, breath: unknown) => {
      const items = solved(withCrosshair({ source, form: 'ring', dotPx: 0, paint: { colour: '#FBF8F0', outline: null, opacity: 1 } })).at(
        0,
        breath,
      );
      return items.filter(({ kind }) => kind === 'line').length;
    };
    expect(strikes('breath', Number.NaN)).toBe(1);
    expect(strikes('breath', 3)).toBe(0);
    expect(strikes(null, 3)).toBe(0);
    expect(closedGapPx({ ...makeCrosshair('Aim', null, 'a0'), form: 'ring' })).toBe((44 - 3) / 2);
  });
});

it('a crosshair that never opens, or has arms longer than itself, is refused where it is wrong', () => {
  const pointers = (part: Partial<Crosshair>) => findFaults(withCrosshair(part)).map(({ pointer }) => pointer);
  expect(pointers({})).toEqual([]);
  expect(pointers({ full: 0 })).toEqual(['/elements/aim/full']);
  expect(pointers({ armPx: 30 })).toEqual(['/elements/aim/armPx']);
  expect(pointers({ source: 'none' })).toEqual(['/elements/aim/source']);
});

describe('the contrast of a crosshair', () => {
  /** A level that is light to the left of straight ahead, and dark to the right; by a count of the rays that were asked for. */
  const halves = () => {
    const level = levelOf([]);
    const asked: number[] = [];
    level.colourAt = (_origin, direction, out) => {
      asked.push(direction[0] as number);
      const v = (direction[0] as number) < 0 ? 255 : 0;
      out[0] = v;
      out[1] = v;
      out[2] = v;
      return out;
    };
    return { level, asked };
  };
  const found = (part: Partial<Crosshair>) => {
    const { level, asked } = halves();
    const document = withCrosshair({ recoverS: 0, ...part });
    const solver = makeSolver(arrange(compile(document, level), document.viewers.desk as never, fixedText));
    solve(solver, { timeS: 0, head: HEAD, depthOrder: false, stands: true, values: [0] as never });
    const row = solver.c.ids.indexOf('aim');
    return { read: measureReadable(solver, row), link: explain(solver, row).find(({ step }) => step === 'readable'), asked };
  };
  const paint = (colour: string, outline: string | null): Crosshair['paint'] => ({
    colour,
    outline: outline === null ? null : { colour: outline, widthPx: 1.5 },
    opacity: 1,
  });

  it('is that at its strokes with what is behind each, or with its outline: by hand', () => {
    // White over white to the left: 1:1. Its outline, black, gives 21:1 everywhere.
    const bare = found({ paint: paint('#FFFFFF', null) });
    expect(bare.read.contrast).toBeCloseTo(1, 6);
    expect(bare.read.faults).toEqual([{ kind: 'contrast', value: expect.closeTo(1, 6), bound: 3 }]);
    expect(bare.link?.state).toBe('short');
    expect(found({ paint: paint('#FFFFFF', '#000000') }).link).toMatchObject({
      state: 'yes',
      facts: [{ kind: 'strokes', contrast: expect.closeTo(21, 6) }],
    });
    // A grey of luminance 0.2159: 3.95:1 on white, 5.32:1 on black. The worst tenth is on white.
    expect(found({ paint: paint('#808080', null) }).read.contrast).toBeCloseTo(1.05 / 0.2659, 2);
    // Four arms of three points, and a dot; asked for by the reading and by the chain.
    expect(bare.asked).toHaveLength(2 * 13);
    expect(found({ form: 'ring', dotPx: 0, paint: paint('#FFFFFF', null) }).asked).toHaveLength(2 * 12);
  });
});

describe('the size of a crosshair', () => {
  it('is a share of the shorter side of the picture, at every viewer, with all its parts', () => {
    const d = withCrosshair({ screenShare: 0.1, sizePx: 40, armPx: 10, thickPx: 2, dotPx: 0 });
    for (const viewer of ['desk', 'phone', 'ultrawide']) {
      const solver = makeSolver(arrange(compile(d, null), d.viewers[viewer] as never, fixedText));
      solve(solver, { timeS: 0, head: HEAD, depthOrder: false, values: [0] });
      const { widthPx, heightPx, centreX, centreY } = solver.a.projection;
      const size = Math.min(widthPx, heightPx) / 10;
      const lines = drawList(solver).items.filter((item) => item.kind === 'line' && item.colour === '#FBF8F0');
      expect(lines.length).toBe(4);
      for (const line of lines) {
        if (line.kind !== 'line') continue;
        // From a quarter of its size to its half, 2 of 40 px wide.
        expect(Math.hypot(line.x1 - centreX, line.y1 - centreY)).toBeCloseTo(size / 4, 6);
        expect(Math.hypot(line.x2 - centreX, line.y2 - centreY)).toBeCloseTo(size / 2, 6);
        expect(line.widthPx).toBeCloseTo(size / 20, 6);
      }
    }
  });
});

describe('a crosshair of own pictures', () => {
  const file = (name: string, widthPx: number, heightPx: number) => ({
    name,
    order: 'a0',
    hash: name.padEnd(64, '0'),
    type: 'image/png' as const,
    widthPx,
    heightPx,
  });
  const own = (part: Partial<Crosshair> = {}): Document => {
    const d = withCrosshair({
      form: 'pictures',
      pictures: { arm: 'spike', middle: 'star' },
      arms: 4,
      sizePx: 60,
      armPx: 20,
      dotPx: 8,
      opening: { by: 'screen', px: 30 },
      ...part,
    });
    d.pictures = { spike: file('a', 10, 40), star: file('b', 16, 16) };
    return d;
  };
  it('has one at each arm, turned about the middle and moved out as it opens, and one in the middle', () => {
    const d = own();
    expect(findFaults(d)).toEqual([]);
    const items = solved(d).at(0, 100);
    const boxes: number[][] = [];
    let matrix = [1, 0, 0, 1, 0, 0] as readonly number[];
    for (const item of items) {
      if (item.kind === 'push') matrix = item.matrix;
      else if (item.kind === 'pop') matrix = [1, 0, 0, 1, 0, 0];
      else if (item.kind === 'picture') {
        const [a, b, c, e, tx, ty] = matrix as [number, number, number, number, number, number];
        const at = (x: number, y: number) => [a * x + c * y + tx, b * x + e * y + ty].map((v) => Math.round(v * 1000) / 1000 + 0);
        // Its foot and its tip, in the middle of its sides.
        boxes.push([...at(item.x + item.width / 2, item.y + item.height), ...at(item.x + item.width / 2, item.y), item.width]);
      }
    }
    // Closed its arms begin 10 px from the middle, open 30 px farther; the desk's pixels are the design's. 20 px long, a quarter as wide.
    expect(boxes).toEqual([
      [960, 500, 960, 480, 5],
      [1000, 540, 1020, 540, 5],
      [960, 580, 960, 600, 5],
      [920, 540, 900, 540, 5],
      [960, 544, 960, 536, 8],
    ]);
    expect(items.filter(({ kind }) => kind === 'line' || kind === 'plate')).toEqual([]);
  });
  it('without any is struck out, not absent; what is removed leaves the other; nothing of it is measured', () => {
    const gone = withoutPicture(own(), 'spike');
    expect(gone.elements.aim).toMatchObject({ pictures: { arm: null, middle: 'star' } });
    expect(findFaults(gone)).toEqual([]);
    expect(
      solved(gone)
        .at(0, 0)
        .filter(({ kind }) => kind === 'picture').length,
    ).toBe(1);
    const none = withoutPicture(gone, 'star');
    expect(
      solved(none)
        .at(0, 0)
        .filter(({ kind }) => kind === 'line').length,
    ).toBeGreaterThan(0);
    const solver = makeSolver(arrange(compile(own(), null), own().viewers.desk as never, fixedText));
    solve(solver, { timeS: 0, head: HEAD, depthOrder: false, values: [0] });
    expect(explain(solver, 0).find(({ step }) => step === 'readable')?.facts).toEqual([{ kind: 'nothingToRead' }]);
    const named = findFaults({ ...own(), pictures: {} });
    expect(named.map(({ pointer }) => pointer)).toEqual(['/elements/aim/pictures/arm', '/elements/aim/pictures/middle']);
  });
});
