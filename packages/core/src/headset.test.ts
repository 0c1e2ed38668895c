/** Two eyes and split screens: against matrices of another library, by hand, and against each eye as a screen of its own. */
import {
  type Document,
  type Element,
  type Lens,
  type Mount,
  makeCrosshair,
  makeDocument,
  makeGroup,
  makeLabel,
  makeText,
  type Viewer,
} from '@foreshore/document';
import fc from 'fast-check';
import * as glMatrix from 'gl-matrix';
import { mat4, type quat, vec4 } from 'gl-matrix';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { HUD_PANEL } from './compiled.ts';
import { drawList } from './draw-list.ts';
import { explain } from './explain/explain.ts';
import { eyesOf } from './eyes.ts';
import { placeOf } from './frame.ts';
import { measureReadable } from './readable.ts';
import { fixedText as text } from './sample.ts';
import { type Box, levelOf } from './sample-level.ts';
import { panelDistanceM, screenBox, screenOutline } from './screen-box.ts';
import { makeSolver, type Solver, solve } from './solve.ts';
import type { Pose } from './spaces/pose.ts';
import { degreesBetween, pixelsPerDegree } from './spaces/screen.ts';
import { partBox, partCount, sightOf } from './spaces/sight.ts';
import { Verdict } from './steps/names.ts';

glMatrix.glMatrix.setMatrixArrayType(Array as never);

type Headset = Extract<Viewer, { kind: 'headset' }>;
type OffAxis = Extract<Lens, { kind: 'offAxis' }>;
const LENS: OffAxis = { kind: 'offAxis', leftDeg: -52, rightDeg: 44, upDeg: 46, downDeg: -50, nearM: 0.1 };
const SAFE = { left: 0, top: 0, right: 0, bottom: 0 };
const headset = (edit: Partial<Headset> = {}): Headset => ({
  kind: 'headset',
  name: 'Headset',
  order: 'a0',
  widthPx: 2000,
  heightPx: 2100,
  lens: LENS,
  safeArea: SAFE,
  eyeDistanceM: 0.064,
  ...edit,
});
const HEAD: Pose = { position: [0, 0, 0], rotation: [0, 0, 0, 1] };
const panelMount = (edit: Partial<Extract<Mount, { kind: 'standing' }>> = {}): Mount => ({
  kind: 'standing',
  anchor: 'wall',
  sizeM: [1, 0.5],
  pxPerM: 1000,
  readM: 4,
  sides: 'both',
  facing: 'fixed',
  turnDeg: 0,
  tiltDeg: 0,
  liftM: 0,
  ...edit,
});
const place: Element['place'] = { ownPoint: [0.5, 0.5], offsetPx: [0, 0], stay: 'free', leader: null };
const panel = (mount: Mount): Element => {
  const group = makeGroup({ mount, place }, 'Panel', 'free', 'a0');
  return { ...group, paint: { plate: { colour: '#15233B', radiusPx: 0, border: null }, opacity: 1 } };
};
/** A wall's middle somewhere, and what stands there. */
const documentOf = (elements: Record<string, Element>, at: [number, number, number] = [0, 0, -4]): Document => ({
  ...makeDocument('Low Water'),
  anchors: { wall: { kind: 'surface', name: 'Wall', order: 'a0', node: null, position: at, normal: [0, 0, 1] } },
  elements,
});
const solverOf = (document: Document, viewer: Viewer, head = HEAD, boxes: Box[] = [], part = 0): Solver => {
  const compiled = compile(document, boxes.length ? levelOf(boxes) : null);
  const solver = makeSolver(arrange(compiled, viewer, text, undefined, undefined, undefined, part));
  solve(solver, { timeS: 0, head, depthOrder: true, stands: true });
  return solver;
};
const rowOf = (solver: Solver, id: string) => solver.c.ids.indexOf(id);

/** A point through matrices made from the definitions: the eye beside the head, an off-axis frustum, the viewport. */
function throughMatrices(viewer: Headset, head: Pose, side: -1 | 1, point: readonly number[]): [number, number, number] {
  const tan = (deg: number) => Math.tan((deg * Math.PI) / 180);
  const { leftDeg, rightDeg, upDeg, downDeg } = viewer.lens as OffAxis;
  const [left, right] = side < 0 ? [leftDeg, rightDeg] : [-rightDeg, -leftDeg];
  const near = 0.1;
  const frustum = mat4.frustum(mat4.create(), tan(left) * near, tan(right) * near, tan(downDeg) * near, tan(upDeg) * near, near, 1000);
  const world = mat4.fromRotationTranslation(mat4.create(), head.rotation as unknown as quat, head.position);
  mat4.translate(world, world, [(side * viewer.eyeDistanceM) / 2, 0, 0]);
  const view = mat4.invert(mat4.create(), world) as mat4;
  const clip = vec4.transformMat4(vec4.create(), [...point, 1] as unknown as vec4, mat4.multiply(mat4.create(), frustum, view));
  const [x, y, , w] = clip as unknown as [number, number, number, number];
  return [((x / w + 1) / 2) * viewer.widthPx, ((1 - y / w) / 2) * viewer.heightPx, w];
}

const part = fc.double({ min: -1, max: 1, noNaN: true });
const rotation = fc
  .tuple(part, part, part, part)
  .filter((q) => Math.hypot(...q) > 0.05)
  .map((q) => q.map((v) => v / Math.hypot(...q)) as Pose['rotation']);
const degrees = (least: number, most: number) => fc.double({ min: least, max: most, noNaN: true });

describe('two eyes', () => {
  it('see anchors, and the corners of panels, where an off-axis stereo projection puts them (property)', () => {
    fc.assert(
      fc.property(
        fc.record({
          position: fc.tuple(degrees(-30, 30), degrees(-5, 5), degrees(-30, 30)),
          rotation,
          lens: fc.record({ leftDeg: degrees(-60, -30), rightDeg: degrees(25, 60), upDeg: degrees(30, 60), downDeg: degrees(-60, -30) }),
          eyeDistanceM: degrees(0.05, 0.08),
          ahead: fc.tuple(degrees(-0.4, 0.4), degrees(-0.4, 0.4), degrees(1, 30)),
        }),
        ({ position, rotation: turned, lens, eyeDistanceM, ahead: [u, v, far] }) => {
          const head: Pose = { position: position as Pose['position'], rotation: turned };
          const world = mat4.fromRotationTranslation(mat4.create(), turned as unknown as quat, head.position);
          const at = vec4.transformMat4(vec4.create(), [u * far, v * far, -far, 1], world) as unknown as [number, number, number];
          const viewer = headset({ lens: { ...LENS, ...lens }, eyeDistanceM });
          const label = { ...makeLabel('wall', 'words', 'a1') };
          const document = documentOf({ words: label, panel: panel(panelMount({ facing: 'full' })) }, [at[0], at[1], at[2]]);
          const solver = solverOf(document, viewer, head);
          ([-1, 1] as const).forEach((side, k) => {
            const eye = eyesOf(solver)[k] as Solver;
            const [x, y, depth] = throughMatrices(viewer, head, side, [at[0], at[1], at[2]]);
            const { point, depthM } = placeOf(eye.f, rowOf(solver, 'words'));
            expect(point[0]).toBeCloseTo(x, 6);
            expect(point[1]).toBeCloseTo(y, 6);
            expect(depthM).toBeCloseTo(depth, 9);
            const row = rowOf(solver, 'panel');
            const p = eye.f.panels;
            const corners = [0, 1, 2, 3].flatMap((corner) => {
              const [w, h] = [corner === 1 || corner === 2 ? 1 : 0, corner > 1 ? 0.5 : 0];
              const point3 = [0, 1, 2].map((axis) => (p[axis] as number) + w * (p[3 + axis] as number) + h * (p[6 + axis] as number));
              return throughMatrices(viewer, head, side, point3).slice(0, 2);
            });
            const outline = screenOutline(eye, row);
            expect(outline).toHaveLength(8);
            outline.forEach((value, at) => {
              expect(value).toBeCloseTo(corners[at] as number, 5);
            });
          });
        },
      ),
      { numRuns: 150 },
    );
  });

  it('meet at the depth of what floats: its box is as far apart in both as its anchor is, and as large', () => {
    const viewer = headset();
    const solver = solverOf(documentOf({ words: makeLabel('wall', 'words', 'a1') }, [0.3, 0.2, -2]), viewer);
    const [left, right] = eyesOf(solver) as [Solver, Solver];
    const [a, b] = [placeOf(left.f, 0), placeOf(right.f, 0)];
    // 64 mm at 2 m is a tangent of 0.032; the lenses are mirror images, whose axes lie apart by what is left of one and right of the other.
    const { focalX, centreX } = (solver.a.eyes[0] as { projection: { focalX: number; centreX: number } }).projection;
    expect(a.point[0] - b.point[0]).toBeCloseTo(focalX * 0.032 + 2 * centreX - 2000, 6);
    expect(a.rect[0] - b.rect[0]).toBeCloseTo(a.point[0] - b.point[0], 9);
    expect(a.rect.slice(1)).toEqual(b.rect.slice(1).map((v) => expect.closeTo(v, 9)));
    expect(a.emPx).toBeCloseTo(placeOf(solver.f, 0).emPx, 9);
    // By hand: 2100 px between tangents of tan 46° and −tan 50°; a degree on the axis.
    const focalY = 2100 / (Math.tan((46 * Math.PI) / 180) + Math.tan((50 * Math.PI) / 180));
    expect(pixelsPerDegree(viewer)).toBeCloseTo((focalY * Math.PI) / 180, 9);
  });

  it('have one decision: what only one of them sees is shown', () => {
    // 50° to the left at 3 m: within the left eye's 52°, beyond the right eye's 44°.
    const solver = solverOf(
      documentOf({ words: makeLabel('wall', 'words', 'a1') }, [-3 * Math.tan((50 * Math.PI) / 180), 0, -3]),
      headset(),
    );
    expect(solver.f.failed[0]).toBe(Verdict.Shown);
    const [left, right] = eyesOf(solver) as [Solver, Solver];
    expect(placeOf(left.f, 0).point[0]).toBeGreaterThan(0);
    expect(placeOf(right.f, 0).point[0]).toBeLessThan(0);
    // Behind the head it is shown by neither.
    const behind = solverOf(documentOf({ words: makeLabel('wall', 'words', 'a1') }, [0, 0, 3]), headset());
    expect(behind.f.failed[0]).toBe(Verdict.View);
    expect(eyesOf(behind).every((eye) => drawList(eye).items.length === 0)).toBe(true);
  });

  it('are judged by the worse one, as a screen at that eye would be (property)', () => {
    fc.assert(
      fc.property(degrees(-0.25, 0.25), degrees(-70, 70), degrees(0.6, 3), (aside, turnDeg, far) => {
        const words: Element = {
          ...makeText({ mount: { kind: 'inside', group: 'panel', pin: [0.5, 0.5], stretch: [false, false] }, place }, 'words', 'a1'),
          size: { rule: 'screen', emPx: 40, hideBelowPx: 0, leavePx: 0 },
        };
        const document = documentOf({ panel: panel(panelMount({ turnDeg })), words }, [aside * far, 0, -far]);
        const viewer = headset({ eyeDistanceM: 0.07 });
        const both = solverOf(document, viewer);
        const row = rowOf(both, 'words');
        if (both.f.failed[row] !== Verdict.Shown) return;
        const judged = measureReadable(both, row);
        const alone = ([-1, 1] as const).map((side, k) => {
          const { projection } = both.a.eyes[k] as { projection: Solver['a']['projection'] };
          // A screen of the same pixels in front of that eye, at as many of them as its lens has for a tangent of 1.
          const one = makeSolver(
            arrange(compile(document, null), { ...document.viewers.desk, widthPx: 2000, heightPx: 2100 } as never, text, projection),
          );
          solve(one, { timeS: 0, head: { ...HEAD, position: [side * 0.035, 0, 0] }, depthOrder: true, stands: true });
          return measureReadable(one, row).capPx;
        });
        expect(judged.capPx).toBeCloseTo(Math.min(...alone), 6);
        if (Math.abs((alone[0] as number) - (alone[1] as number)) > 1e-6)
          expect(judged.eye).toBe((alone[0] as number) < (alone[1] as number) ? 0 : 1);
      }),
      { numRuns: 60 },
    );
  });

  it('turn by angles that are those between the rays of pixels, square or not (property)', () => {
    fc.assert(
      fc.property(degrees(0, 2000), degrees(0, 2100), degrees(0, 2000), degrees(0, 2100), degrees(900, 3000), (x0, y0, x1, y1, widthPx) => {
        const { eyes } = sightOf(headset({ widthPx: Math.round(widthPx) }));
        const { projection, eye } = eyes[0] as (typeof eyes)[number];
        const ray = (x: number, y: number) => [
          (x - projection.centreX) / projection.focalX,
          (y - projection.centreY) / projection.focalY,
          1,
        ];
        const [p, q] = [ray(x0, y0), ray(x1, y1)];
        const dot = p.reduce((sum, v, k) => sum + v * (q[k] as number), 0);
        const expected = (Math.acos(Math.min(1, dot / (Math.hypot(...p) * Math.hypot(...q)))) * 180) / Math.PI;
        expect(degreesBetween(eye, x0, y0, x1, y1)).toBeCloseTo(expected, 4);
      }),
    );
  });
});

describe('depth for two eyes', () => {
  const wall = (far: number): Box => ({ name: 'Wall', least: [-20, -20, -far - 1], greatest: [20, 20, -far] });
  const faults = (solver: Solver, id: string) =>
    measureReadable(solver, rowOf(solver, id)).faults.filter(({ kind }) => ['tooNear', 'tooFar', 'vergence'].includes(kind));
  const hud = (): Element =>
    makeText({ mount: { kind: 'glass', within: 'safe', pin: [0.5, 0.5], stretch: [false, false] }, place }, 'words', 'a1');
  it('of the HUD differs from what is looked at by 1.46 degrees at 2 m before a wall at 10 m, and by little before one at 3 m', () => {
    // 2·atan(0.032/2) − 2·atan(0.032/10) = 1.8334° − 0.3667° = 1.4668°; to 3 m 0.6112°, which is allowed.
    const [far] = faults(solverOf(documentOf({ words: hud() }), headset(), HEAD, [wall(10)]), 'words');
    expect(far).toMatchObject({ kind: 'vergence', value: expect.closeTo(1.4668, 2), bound: 1, distanceM: expect.closeTo(2, 2) });
    expect(faults(solverOf(documentOf({ words: hud() }), headset(), HEAD, [wall(3)]), 'words')).toEqual([]);
  });
  it('is not told of a wall that the head goes through: nearer than their near point, 5 cm, eyes turn to nothing', () => {
    const before = (far: number) => faults(solverOf(documentOf({ words: hud() }), headset(), HEAD, [wall(far)]), 'words');
    // 2·atan(0.032/0.06) − 2·atan(0.032/2) = 56.14° − 1.83°.
    expect(before(0.06)).toMatchObject([{ kind: 'vergence', value: expect.closeTo(54.31, 1) }]);
    expect(before(0.04)).toEqual([]);
  });
  it('of what stands in the world is its own, unless a wall is in the way', () => {
    const words = { ...makeLabel('wall', 'words', 'a1') };
    const at = (far: number): [number, number, number] => [0, 0, -far];
    expect(faults(solverOf(documentOf({ words }, at(4)), headset(), HEAD, [wall(10)]), 'words')).toEqual([]);
    // Seen through a wall at 0.8 m: 2·atan(0.032/0.8) − 2·atan(0.032/4) = 4.581° − 0.917°.
    const [through] = faults(solverOf(documentOf({ words }, at(4)), headset(), HEAD, [wall(0.8)]), 'words');
    expect(through).toMatchObject({ kind: 'vergence', value: expect.closeTo(3.66, 1) });
    expect(faults(solverOf(documentOf({ words }, at(0.4)), headset()), 'words')).toMatchObject([{ kind: 'tooNear', bound: 0.5 }]);
    expect(faults(solverOf(documentOf({ words }, at(25)), headset()), 'words')).toMatchObject([{ kind: 'tooFar', value: 25, bound: 20 }]);
    // A screen asks nothing of the kind.
    expect(faults(solverOf(documentOf({ words }, at(25)), makeDocument('x').viewers.desk as Viewer), 'words')).toEqual([]);
  });
});

describe('the HUD in a headset', () => {
  const pinned = (pin: [number, number]): Element =>
    makeText(
      { mount: { kind: 'glass', within: 'screen', pin, stretch: [false, false] }, place: { ...place, ownPoint: pin } },
      'words',
      'a1',
    );
  it('is a panel before the head, as wide as the project says', () => {
    const document = documentOf({ words: pinned([0, 0]) });
    const solver = solverOf({ ...document, glass: { ...document.glass, headset: { distanceM: 3, wideDeg: 50, followS: 0 } } }, headset());
    const row = rowOf(solver, 'words');
    expect(solver.f.failed[row]).toBe(Verdict.Shown);
    // Its left edge is 25° to the left of the head, and as high as 1080 of 1920 px.
    const { focalX, focalY, centreX, centreY } = solver.a.projection;
    const half = Math.tan((25 * Math.PI) / 180);
    const [x, y] = screenBox(solver, row);
    expect(x).toBeCloseTo(centreX - focalX * half, 6);
    expect(y).toBeCloseTo(centreY - (focalY * half * 1080) / 1920, 6);
    const [left, right] = eyesOf(solver).map((eye) => screenBox(eye, row)[0] - (eye.a.projection.centreX as number)) as [number, number];
    expect((left - right) / focalX).toBeCloseTo(0.064 / 3, 9);
  });
  it('comes after the head where it is soft, and stays with it where it is rigid', () => {
    const document = documentOf({ words: pinned([0.5, 0.5]) });
    const turned: Pose = { position: [0, 0, 0], rotation: [0, Math.sin(0.1), 0, Math.cos(0.1)] };
    const aside = (followS: number): number => {
      const soft = { ...document, glass: { ...document.glass, headset: { distanceM: 2, wideDeg: 60, followS } } };
      const solver = makeSolver(arrange(compile(soft, null), headset(), text));
      solve(solver, { timeS: 0, head: HEAD, depthOrder: true });
      solve(solver, { timeS: 0.1, head: turned, depthOrder: true });
      const [x, , w] = screenBox(solver, rowOf(solver, 'words'));
      return x + w / 2 - solver.a.projection.centreX;
    };
    expect(aside(0)).toBeCloseTo(0, 6);
    // The head turned to the left: what lags is to its right.
    expect(aside(0.3)).toBeGreaterThan(100);
  });
  it('is still the HUD to whoever asks what carries an element', () => {
    const solver = solverOf(documentOf({ words: pinned([0, 1]) }), headset());
    expect(explain(solver, rowOf(solver, 'words'))[0]).toMatchObject({ step: 'attach', facts: [{ kind: 'onHud', pin: [0, 1] }] });
  });
  it('keeps its gates: a text about a place shows near it, and tells where its press goes', () => {
    const about: Element = {
      ...pinned([0.5, 0.9]),
      about: 'wall',
      range: { enterM: 5, leaveM: 1, from: 'eye', dwellS: 0, lingerS: 0, fades: false },
    } as never;
    const shown = (far: number) => {
      const solver = solverOf(documentOf({ words: about }, [0, 0, -far]), headset());
      return solver.f.failed[rowOf(solver, 'words')];
    };
    expect([shown(4), shown(8)]).toEqual([Verdict.Shown, Verdict.Range]);
  });
  it('leaves screens as they are, and adds its one row to headsets alone', () => {
    const compiled = compile(documentOf({ words: pinned([0, 0]) }), null);
    expect(arrange(compiled, makeDocument('x').viewers.desk as Viewer, text).compiled).toBe(compiled);
    const a = arrange(compiled, headset(), text);
    expect(a.given).toBe(compiled);
    expect(a.compiled.ids).toEqual([HUD_PANEL, 'words']);
    expect(arrange(compile(documentOf({}), null), headset(), text).compiled.ids).toEqual([]);
  });
});

describe('a split screen', () => {
  const split = (arrangement: 'columns' | 'rows' | 'grid', count: number): Viewer => ({
    ...(makeDocument('x').viewers.desk as Extract<Viewer, { kind: 'screen' }>),
    kind: 'split',
    arrangement,
    players: Array.from({ length: count }, () => ({ route: null })),
    safeArea: { left: 0.1, top: 0.1, right: 0.1, bottom: 0.1 },
  });
  it('is cut without gaps and overlaps, whatever its pixels (property)', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('columns', 'rows', 'grid'),
        fc.integer({ min: 2, max: 4 }),
        fc.integer({ min: 16, max: 300 }),
        fc.integer({ min: 16, max: 300 }),
        (arrangement, count, widthPx, heightPx) => {
          const viewer = { ...split(arrangement as 'grid', count), widthPx, heightPx };
          const seen = new Uint8Array(widthPx * heightPx);
          for (let k = 0; k < partCount(viewer); k++) {
            const { x, y, widthPx: w, heightPx: h } = partBox(viewer, k);
            for (let j = y; j < y + h; j++) for (let i = x; i < x + w; i++) (seen[j * widthPx + i] as number)++;
          }
          expect(Math.max(...seen)).toBe(1);
          // Three in a grid leave one of four free.
          if (!(arrangement === 'grid' && count === 3)) expect(Math.min(...seen)).toBe(1);
        },
      ),
      { numRuns: 40 },
    );
  });
  it('lays its HUD out in each part, inside of the edges of the whole alone, and angles are those of one player before all of it', () => {
    const words = makeText(
      { mount: { kind: 'glass', within: 'safe', pin: [0, 0], stretch: [false, false] }, place: { ...place, ownPoint: [0, 0] } },
      'words',
      'a1',
    );
    const viewer = split('columns', 2);
    const [left, right] = [0, 1].map((k) => solverOf(documentOf({ words }), viewer, HEAD, [], k)) as [Solver, Solver];
    expect([left.a.projection.widthPx, right.a.projection.widthPx]).toEqual([960, 960]);
    // A tenth of 1920 px at the outer edge, none at the middle.
    expect([screenBox(left, 0)[0], screenBox(right, 0)[0]]).toEqual([192, 0]);
    expect(left.a.fit).toBeCloseTo(960 / 1920, 9);
    const whole = sightOf(makeDocument('x').viewers.desk as Viewer).eye;
    expect(degreesBetween(right.a.eye, 10, 20, 50, 60)).toBeCloseTo(degreesBetween(whole, 970, 20, 1010, 60), 9);
  });
});

describe('what aims in the middle of the HUD of a headset', () => {
  const aims = (): Document => {
    const document = documentOf({ aim: { ...makeCrosshair('Aim', null, 'a0'), dotPx: 0 } });
    document.elements.hud = makeLabelOnHud();
    return document;
  };
  const makeLabelOnHud = (): Element => ({
    ...makeText({ mount: { kind: 'glass', within: 'screen', pin: [0.5, 0.1], stretch: [false, false] }, place }, 'Warm', 'a1'),
  });
  /** The middle and the width of the crosshair as each eye sees it. */
  const seen = (solver: Solver) =>
    eyesOf(solver).map((eye) => {
      const xs: number[] = [];
      const ys: number[] = [];
      for (const item of drawList(eye).items)
        if (item.kind === 'shape' && item.element === 'aim')
          for (let k = 0; k < item.coords.length; k += 2) {
            xs.push(item.coords[k] as number);
            ys.push(item.coords[k + 1] as number);
          }
      const [left, right, top, bottom] = [Math.min(...xs), Math.max(...xs), Math.min(...ys), Math.max(...ys)];
      return { x: (left + right) / 2, y: (top + bottom) / 2, wide: right - left };
    });
  const wall = (z: number): Box => ({ name: 'Wall', least: [-2, -2, z - 0.5], greatest: [2, 2, z] });
  it('is where each eye sees what is aimed at, near or far, and as large', () => {
    const viewer = headset();
    const sizes: number[] = [];
    for (const farM of [1, 3, 12]) {
      const solver = solverOf(aims(), viewer, HEAD, [wall(-farM)]);
      for (const [k, { x, y, wide }] of seen(solver).entries()) {
        const [atX, atY] = throughMatrices(viewer, HEAD, k === 0 ? -1 : 1, [0, 0, -farM]);
        expect(Math.hypot(x - atX, y - atY)).toBeLessThan(1.5);
        sizes.push(wide);
      }
      const row = rowOf(solver, 'aim');
      const facts = explain(solver, row).find(({ step }) => step === 'attach')?.facts;
      expect(facts).toEqual([
        { kind: 'onHud', pin: [0.5, 0.5] },
        { kind: 'atDepth', distanceM: expect.closeTo(farM - 0.02, 1) },
      ]);
      // What is read on the HUD stays at its distance.
      expect(panelDistanceM(solver, rowOf(solver, 'hud'))).toBeLessThan(2.1);
    }
    // The slant of an eye beside the middle is all that differs.
    expect(Math.max(...sizes) / Math.min(...sizes)).toBeLessThan(1.02);
  });
  it('is on a panel that stands before the level, not on one beside the middle; at nothing, it is far away', () => {
    const document = aims();
    document.elements.board = panel(panelMount());
    expect(panelDistanceM(solverOf(document, headset(), HEAD, [wall(-9)]), rowOf(solverOf(document, headset()), 'aim'))).toBeCloseTo(
      3.98,
      2,
    );
    document.anchors.wall = { kind: 'surface', name: 'Wall', order: 'a0', node: null, position: [0.9, 0, -4], normal: [0, 0, 1] };
    const beside = solverOf(document, headset(), HEAD, [wall(-9)]);
    expect(panelDistanceM(beside, rowOf(beside, 'aim'))).toBeCloseTo(8.98, 1);
    const nothing = solverOf(aims(), headset());
    expect(panelDistanceM(nothing, rowOf(nothing, 'aim'))).toBeCloseTo(60, 6);
  });
  it('comes nearer at once, and goes back softly', () => {
    const document = aims();
    const compiled = compile(document, levelOf([wall(-2)]));
    const solver = makeSolver(arrange(compiled, headset(), text));
    const away: Pose = { position: [0, 0, 0], rotation: [0, 1, 0, 0] };
    const at = (timeS: number, head: Pose) => {
      solve(solver, { timeS, head, depthOrder: true });
      return panelDistanceM(solver, rowOf(solver, 'aim'));
    };
    expect(at(0, away)).toBeCloseTo(60, 6);
    expect(at(0.1, HEAD)).toBeCloseTo(1.98, 2);
    // With the time constant of panels that trail, 0.25 s: what is left of the way after a quarter of a second is 1/e.
    expect(at(0.35, away)).toBeCloseTo(60 - (60 - 1.98) / Math.E, 1);
  });
  it('one that is off the middle stays on the HUD, and is along the view all the same', () => {
    const document = aims();
    document.elements.aim = { ...(document.elements.aim as Element), place: { ...place, offsetPx: [40, 0] } } as Element;
    const solver = solverOf(document, headset(), HEAD, [wall(-9)]);
    expect(panelDistanceM(solver, rowOf(solver, 'aim'))).toBeLessThan(2.01);
  });
  it('has its share of the screen of the HUD, which there is instead', () => {
    const wide = (screenShare: number) => {
      const document = aims();
      const { paint, ...aim } = makeCrosshair('Aim', null, 'a0');
      // Strokes end round, half of their width beyond.
      document.elements.aim = { ...aim, screenShare, dotPx: 0, thickPx: 0.5, paint: { ...paint, outline: null } };
      return seen(solverOf(document, headset(), HEAD, [wall(-3)]))[0]?.wide ?? 0;
    };
    const [small, large] = [wide(0.05), wide(0.1)];
    expect(large / small).toBeCloseTo(2, 1);
    // A tenth of 1080 of 1920 px, which are 60° wide, seen by an eye of so many pixels a degree.
    const deg = (2 * Math.atan((108 / 1920) * Math.tan(Math.PI / 6)) * 180) / Math.PI;
    const { focalX } = solverOf(aims(), headset()).a.projection;
    expect(large).toBeGreaterThan(0.97 * 2 * focalX * Math.tan((deg * Math.PI) / 360));
    expect(large).toBeLessThan(1.05 * 2 * focalX * Math.tan((deg * Math.PI) / 360));
  });
});
