/** The pointer: who has it, what acts, how it looks, what is done. */
import {
  barForm,
  type Document,
  type Element,
  insideOf,
  makeDocument,
  makeGauge,
  makeGroup,
  makeText,
  onGlass,
  type Pointer,
  type Reaction,
} from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { drawList, paintedRows } from './draw-list.ts';
import { placeOf } from './frame.ts';
import { actingRow, rowUnder } from './pointer.ts';
import { react } from './reactions.ts';
import { fixedText as text } from './sample.ts';
import { makeSolver, type Solver, solve } from './solve.ts';
import { Verdict } from './steps/names.ts';

const pointer = (edit: Partial<Pointer>): Pointer => ({ takes: 'acts', action: null, padPx: 0, pointed: {}, pressed: {}, ...edit });
const documentOf = (elements: Record<string, Element>): Document => ({ ...makeDocument('Low Water'), elements });
function solved(document: Document, inputs: { pointed?: string; pressed?: string } = {}): Solver {
  const solver = makeSolver(arrange(compile(document, null), document.viewers.desk as never, text));
  solve(solver, { timeS: 0, head: { position: [0, 0, 0], rotation: [0, 0, 0, 1] }, depthOrder: true, ...inputs });
  return solver;
}
const idUnder = (solver: Solver, x: number, y: number) => solver.c.ids[rowUnder(solver, x, y)] ?? null;

const button = () => ({
  button: {
    ...makeGroup(onGlass([0, 0], [100, 100]), 'Button', 'row', 'a0'),
    pointer: pointer({ padPx: 10, pointed: { plate: '#1B6E83', text: '#FFFFFF' }, pressed: { plate: '#12445A', opacity: 0.5 } }),
  },
  name: { ...makeText(insideOf('button'), 'Turn', 'a1'), pointer: pointer({ takes: 'passes' }) },
});

describe('the pointer', () => {
  it('belongs to the front-most element that does not let it pass, its area included; else to the world', () => {
    const solver = solved(documentOf(button()));
    const [x, y, w, h] = placeOf(solver.f, 0).rect;
    expect(idUnder(solver, x + w / 2, y + h / 2)).toBe('button');
    expect(idUnder(solver, x - 9, y - 9)).toBe('button');
    expect(idUnder(solver, x - 11, y)).toBe(null);
    // The text is in front but passes the pointer on; were it to block, it would have it, and the button act for it.
    const blocking = documentOf({ ...button(), name: makeText(insideOf('button'), 'Turn', 'a1') });
    const other = solved(blocking);
    expect(idUnder(other, x + w / 2, y + h / 2)).toBe('name');
    expect(other.c.ids[actingRow(other, rowUnder(other, x + w / 2, y + h / 2))]).toBe('button');
  });

  it('is found as trying all painted boxes from the front does (property)', () => {
    const leaf = fc.tuple(
      fc.integer({ min: 0, max: 1700 }),
      fc.integer({ min: 0, max: 900 }),
      fc.constantFrom('acts' as const, 'blocks' as const, 'passes' as const),
    );
    fc.assert(
      fc.property(
        fc.array(leaf, { minLength: 1, maxLength: 20 }),
        fc.integer({ min: 0, max: 1919 }),
        fc.integer({ min: 0, max: 1079 }),
        (leaves, x, y) => {
          const elements = Object.fromEntries(
            leaves.map(([left, top, takes], k) => [
              `g${k}`,
              { ...makeGauge(onGlass([0, 0], [left, top]), 'Bar', null, barForm(), `a${k}`), pointer: pointer({ takes }) } as Element,
            ]),
          );
          const solver = solved(documentOf(elements));
          const hit = [...paintedRows(solver)].filter((row) => {
            const [l, t, w, h] = placeOf(solver.f, row).rect;
            const inside = x >= l && x < l + w && y >= t && y < t + h;
            return inside && solver.f.failed[row] === Verdict.Shown && solver.c.elements[row]?.pointer?.takes !== 'passes';
          });
          expect(rowUnder(solver, x, y)).toBe(hit.at(-1) ?? -1);
        },
      ),
    );
  });

  it('changes the look of what it points at and of everything inside', () => {
    const colours = (inputs: { pointed?: string; pressed?: string }) => {
      const { items } = drawList(solved(documentOf(button()), inputs));
      const plate = items.find((item) => item.kind === 'plate');
      const words = items.find((item) => item.kind === 'text');
      return [plate?.kind === 'plate' && plate.colour, words?.kind === 'text' && words.colour, words?.kind === 'text' && words.opacity];
    };
    expect(colours({})).toEqual(['#15233BCC', '#FBF8F0', 1]);
    expect(colours({ pointed: 'button' })).toEqual(['#1B6E83', '#FFFFFF', 1]);
    expect(colours({ pointed: 'button', pressed: 'button' })).toEqual(['#12445A', '#FFFFFF', 0.5]);
  });
});

describe('an action', () => {
  const game = (actions: Record<string, Reaction[]>): Document => {
    const document = makeDocument('Low Water');
    document.feeds.samples = { name: 'Samples', order: 'a0', kind: 'number', unit: '', initial: 0 };
    document.phases.paused = { name: 'Paused', order: 'a1' };
    document.actions = Object.fromEntries(Object.entries(actions).map(([id, reactions]) => [id, { name: id, order: 'a0', reactions }]));
    return document;
  };

  it('sets, adds, changes the phase and sends others, in order, each seeing what was done before', () => {
    const document = game({
      pick: [
        { kind: 'set', when: [], feed: 'samples', value: 2 },
        { kind: 'add', when: [], feed: 'samples', by: 3 },
        { kind: 'send', when: [], action: 'pause' },
      ],
      pause: [{ kind: 'phase', when: [{ kind: 'compare', feed: 'samples', is: 'atLeast', value: 5, leave: 0 }], phase: 'paused' }],
    });
    expect(react(document, 'pick', { samples: 0 })).toEqual({
      values: { samples: 5 },
      runs: {},
      phase: 'paused',
      forced: {},
      played: [],
      did: [
        { kind: 'set', feed: 'samples', value: 2 },
        { kind: 'set', feed: 'samples', value: 5 },
        { kind: 'phase', phase: 'paused' },
      ],
    });
  });

  it('says what it did not do, and why', () => {
    const document = game({
      pick: [{ kind: 'add', when: [{ kind: 'compare', feed: 'samples', is: 'below', value: 5, leave: 0 }], feed: 'samples', by: 1 }],
    });
    expect(react(document, 'pick', { samples: 5 })).toEqual({
      values: {},
      runs: {},
      phase: null,
      forced: {},
      played: [],
      did: [{ kind: 'conditionFails', reaction: 'add' }],
    });
    expect(react(document, 'pick', { samples: undefined }).values).toEqual({});
  });

  it('that comes back to itself is stopped, and says so', () => {
    const document = game({
      ebb: [{ kind: 'send', when: [], action: 'flood' }],
      flood: [
        { kind: 'add', when: [], feed: 'samples', by: 1 },
        { kind: 'send', when: [], action: 'ebb' },
      ],
    });
    const { did, values } = react(document, 'ebb', { samples: 0 });
    expect(did.at(-1)).toEqual({ kind: 'loop', after: 32 });
    expect(values.samples).toBe(16);
  });
});
