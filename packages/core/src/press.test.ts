/** Pressing keys: at once, held, several times, whatever the steps of time; and what an action is sent at. */
import { type Document, makeDocument, makePrompt, type Press } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { keyDown, keyUp, type Pressing, pressOn, pressShare, promptFor, targetOf } from './press.ts';
import { fixedText as text } from './sample.ts';
import { levelOf } from './sample-level.ts';
import { makeSolver, type Solver, solve } from './solve.ts';
import type { Pose } from './spaces/pose.ts';

const NEAR: Pose = { position: [0, 1.65, -3], rotation: [0, 0, 0, 1] };
const FAR: Pose = { position: [0, 1.65, 20], rotation: [0, 0, 0, 1] };
function scene(press: Partial<Press> = {}): Document {
  const d = makeDocument('Low Water');
  d.actions = { turn: { name: 'Turn', order: 'a0', reactions: [] } };
  d.anchors.wheel = { kind: 'node', name: 'Wheel', order: 'a0', node: 'Wheel', offset: [0, 0, 0], zone: { kind: 'sphere', radiusM: 0.3 } };
  const { made } = makePrompt({}, 'wheel', 'Turn', 'turn');
  const turn = made.turn as NonNullable<typeof made.turn>;
  d.elements = { ...made, turn: { ...turn, press: { ...(turn.press as Press), ...press } } as typeof turn };
  return d;
}
function solved(d: Document, head = NEAR): Solver {
  const level = levelOf([{ name: 'Wheel', least: [-0.1, 1.5, -5.1], greatest: [0.1, 1.7, -4.9] }]);
  const solver = makeSolver(arrange(compile(d, level), d.viewers.desk as never, text));
  solve(solver, { timeS: 0, head, depthOrder: false });
  return solver;
}
const any = () => true;

describe('the prompt that has a key', () => {
  it('is the one that is shown and whose action the key is for', () => {
    const solver = solved(scene());
    expect(promptFor(solver, (action) => action === 'turn')).toBe(solver.c.ids.indexOf('turn'));
    expect(promptFor(solver, (action) => action === 'open')).toBe(-1);
    expect(promptFor(solved(scene(), FAR), any)).toBe(-1);
  });
  it('sends its action at the node its anchor is on', () => {
    const solver = solved(scene());
    expect(targetOf(solver, promptFor(solver, any))).toBe('Wheel');
    // An anchor on no node is itself the target.
    const d = scene();
    d.anchors.wheel = { kind: 'surface', name: 'Wheel', order: 'a0', node: null, position: [0, 1.6, -5], normal: [0, 1, 0] };
    const other = solved(d);
    expect(targetOf(other, other.c.ids.indexOf('turn'))).toBe('wheel');
  });
});

describe('a press', () => {
  it('at once is sent when the key goes down', () => {
    const solver = solved(scene({ how: 'press' }));
    expect(keyDown(solver, 0, 1, null)).toEqual({ now: null, sent: true });
  });

  it('that is held is sent once its time is over, never before, at any steps of time (property)', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0.2, max: 3, noNaN: true }),
        fc.array(fc.double({ min: 0.001, max: 0.2, noNaN: true }), { minLength: 200, maxLength: 200 }),
        (holdS, steps) => {
          const solver = solved(scene({ how: 'hold', holdS }));
          const row = promptFor(solver, any);
          let { now: going } = keyDown(solver, row, 5, null);
          let timeS = 5;
          let share = 0;
          for (const step of steps) {
            timeS += step;
            const pressed = pressOn(solver, going as Pressing, timeS);
            expect(pressed.sent).toBe(timeS - 5 >= holdS - 1e-9);
            going = pressed.now;
            expect(going === null).toBe(pressed.sent);
            if (pressed.sent) return;
            // The ring fills with the time, and is never full before it is over.
            const next = pressShare(going as Pressing, timeS);
            expect(next).toBeGreaterThan(share);
            expect(next).toBeLessThan(1);
            share = next;
          }
        },
      ),
      { numRuns: 40 },
    );
  });
  it('that is held is given up when the key goes up, or the prompt is gone', () => {
    const solver = solved(scene({ how: 'hold', holdS: 1 }));
    const going = keyDown(solver, promptFor(solver, any), 0, null).now as Pressing;
    expect(keyUp(going)).toBeNull();
    expect(pressOn(solved(scene({ how: 'hold', holdS: 1 }), FAR), going, 2)).toEqual({ now: null, sent: false });
    const { turn: _, ...others } = scene().elements;
    expect(pressOn(solved({ ...scene(), elements: {} as typeof others }), going, 2)).toEqual({ now: null, sent: false });
  });

  it('that is repeated is sent at the last of its times, if they come within its time (property)', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 2, max: 6 }),
        fc.array(fc.double({ min: 0.05, max: 0.9, noNaN: true }), { minLength: 12, maxLength: 12 }),
        (times, pauses) => {
          const holdS = 2;
          const solver = solved(scene({ how: 'repeat', holdS, times }));
          const row = promptFor(solver, any);
          let going: Pressing | null = null;
          let timeS = 0;
          // The rule said plainly: presses since the first that is not forgotten.
          let since: number[] = [];
          for (const pause of pauses) {
            timeS += pause;
            if (since.length && timeS - (since[0] as number) > holdS) since = [];
            since.push(timeS);
            const pressed = keyDown(solver, row, timeS, going);
            expect(pressed.sent).toBe(since.length >= times);
            if (pressed.sent) since = [];
            going = pressed.now;
            if (going) {
              expect(pressShare(going, timeS)).toBeCloseTo(since.length / times, 9);
              expect(keyUp(going)).toBe(going);
            }
          }
        },
      ),
      { numRuns: 60 },
    );
  });
  it('that is repeated too slowly is forgotten', () => {
    const solver = solved(scene({ how: 'repeat', holdS: 2, times: 3 }));
    const going = keyDown(solver, promptFor(solver, any), 0, null).now as Pressing;
    expect(pressOn(solver, going, 1.9)).toEqual({ now: going, sent: false });
    expect(pressOn(solver, going, 2.1)).toEqual({ now: null, sent: false });
  });
});
