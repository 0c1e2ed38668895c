/** The machine of playing: every press says what got it, and why. */
import {
  type Document,
  type Element,
  type FeedValue,
  insideOf,
  makeDocument,
  makeGroup,
  makeText,
  makeToggle,
  onGlass,
  type Pointer,
} from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { arrange } from './arrange.ts';
import { compile } from './compile.ts';
import { placeOf } from './frame.ts';
import { Play, type Played } from './play.ts';
import { fixedText as text } from './sample.ts';
import { makeSolver, type Solver, solve } from './solve.ts';

const pointer = (edit: Partial<Pointer> = {}): Pointer => ({ takes: 'acts', action: null, padPx: 0, pointed: {}, pressed: {}, ...edit });
const plate = { colour: '#15233B', radiusPx: 0, border: null };

/** A host of plain fields, over one solved frame. */
function playing(elements: Record<string, Element>, edit: (d: Document) => void = () => {}) {
  const document: Document = { ...makeDocument('Low Water'), elements };
  edit(document);
  const solver: Solver = makeSolver(arrange(compile(document, null), document.viewers.desk as never, text));
  const values: Record<string, FeedValue | undefined> = Object.fromEntries(
    Object.entries(document.feeds).map(([id, { initial }]) => [id, initial]),
  );
  const log: Played[] = [];
  let phase: string | null = 'roaming';
  const show = () => solve(solver, { timeS: 0, head: { position: [0, 0, 0], rotation: [0, 0, 0, 1] }, depthOrder: true, stands: true });
  show();
  const play = new Play({
    solver: () => solver,
    document: () => document,
    phase: () => phase,
    nowS: () => 0,
    values: () => values,
    device: () => 'keyboard',
    setDevice: () => {},
    set: (feed, value) => {
      values[feed] = value;
    },
    change: (changes) => {
      Object.assign(values, changes.values);
      if (changes.phase) phase = changes.phase;
    },
    scroll: () => {},
    point: () => {},
    played: (what) => log.push(what),
    invalidate: () => {},
  });
  /** Presses the middle of an element, as the page does. */
  const press = (id: string) => {
    const [x, y, w, h] = placeOf(solver.f, solver.c.ids.indexOf(id)).rect;
    const at: [number, number] = [(x + w / 2) / 1920, (y + h / 2) / 1080];
    const under = play.under(...at);
    play.pointAt(...at);
    play.down('mouse', 0);
    play.up('mouse', 0);
    return under;
  };
  return { play, press, log, values, phase: () => phase, document };
}

const button = (edit: Partial<Pointer> = {}): Record<string, Element> => ({
  button: { ...makeGroup(onGlass([0, 0], [100, 100]), 'Button', 'row', 'a0'), pointer: pointer({ action: 'go', ...edit }) },
  words: makeText(insideOf('button'), 'Turn', 'a1'),
});
const withAction = (d: Document) => {
  d.feeds.gate = { name: 'Gate', order: 'a0', kind: 'number', unit: '', initial: 0.2 };
  d.actions = { go: { name: 'Go', order: 'a0', reactions: [{ kind: 'set', when: [], feed: 'gate', value: 1 }] } };
};

describe('a press', () => {
  it('on a button, also on the text inside of it, sends its action and says what was done', () => {
    const { press, log, values } = playing(button(), withAction);
    expect(press('words')).toMatchObject({ has: 'words', acts: 'button', because: null });
    expect(log).toEqual([{ kind: 'sent', action: 'go', source: 'button', target: null, did: [{ kind: 'set', feed: 'gate', value: 1 }] }]);
    expect(values.gate).toBe(1);
  });

  it('on decoration over a button says what swallowed it; ignoring input gives the press to the button', () => {
    const lid = (takes: Pointer['takes']): Element => ({
      ...makeGroup(onGlass([0, 0], [90, 90]), 'Lid', 'row', 'b0'),
      layout: { ...makeGroup(onGlass([0, 0]), 'Lid', 'row', 'b0').layout, widthPx: 400, heightPx: 200 },
      paint: { plate, opacity: 1 },
      pointer: pointer({ takes }),
    });
    const covered = playing({ ...button(), lid: lid('blocks') }, withAction);
    expect(covered.press('words')).toMatchObject({ has: 'lid', acts: null, because: 'blocks' });
    expect(covered.log).toEqual([{ kind: 'swallowed', by: 'lid', because: 'blocks' }]);
    expect(covered.values.gate).toBe(0.2);
    const open = playing({ ...button(), lid: lid('passes') }, withAction);
    open.press('words');
    expect(open.log[0]).toMatchObject({ kind: 'sent', source: 'button' });
  });

  it('on a button that is disabled says that it is off', () => {
    const off = button({ offWhen: [{ kind: 'compare', feed: 'gate', is: 'below', value: 0.5, leave: 0 }] });
    const { press, log } = playing(off, withAction);
    expect(press('button')).toMatchObject({ acts: null, because: 'off' });
    expect(log).toEqual([{ kind: 'swallowed', by: expect.stringMatching(/button|words/), because: 'off' }]);
  });

  it('where no element is goes to the world', () => {
    const { play, log } = playing(button(), withAction);
    play.missed(play.under(0.9, 0.9));
    expect(log).toEqual([{ kind: 'world' }]);
  });

  it('on a toggle without an action sets its feed, and sends nothing', () => {
    const { press, log, values } = playing({ lamp: makeToggle(onGlass([0, 0], [50, 50]), 'Lamp', 'lit', 'a0') }, (d) => {
      d.feeds.lit = { name: 'Lit', order: 'a0', kind: 'flag', unit: '', initial: false };
    });
    press('lamp');
    expect(log).toEqual([{ kind: 'set', source: 'lamp', feed: 'lit', value: true }]);
    expect(values.lit).toBe(true);
  });
});

describe('what runs', () => {
  it('is on its way for its time, and there at once when playing ends', () => {
    const slow = (d: Document) => {
      withAction(d);
      d.actions = { go: { name: 'Go', order: 'a0', reactions: [{ kind: 'set', when: [], feed: 'gate', value: 1, overS: 4 }] as never } };
    };
    const { play, press, values } = playing(button(), slow);
    press('button');
    expect(values.gate).toBe(0.2);
    expect(play.advance(1)).toBe(true);
    expect(values.gate).toBeCloseTo(0.2 + 0.8 / 4, 9);
    play.end();
    expect(values.gate).toBe(1);
    expect(play.advance(1)).toBe(false);
  });

  it('keeps the keys of prompts from a phase that takes the input', () => {
    const { play } = playing(button(), (d) => {
      withAction(d);
      d.phases.roaming = { name: 'Roaming', order: 'a0', takesInput: true };
    });
    expect(play.takesInput()).toBe(true);
    expect(play.press('keyboard', () => true, true)).toBe(false);
  });
});
