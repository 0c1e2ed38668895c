/** What stands on keys, and which key a prompt shows. */
import { type Action, type Document, insideOf, type Keys, makeDocument, makeGroup, makeKey, makePrompt } from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { compile } from './compile.ts';
import { actionOfKey, DEFAULT_KEYS, keyLabel, keysOf } from './keys.ts';

const KEYS: Keys = { keyboard: 'KeyQ', gamepad: 2, touch: 'tap', hand: 0 };
const action = (name: string, keys?: Keys): Action => ({ name, order: 'a0', reactions: [], ...(keys && { keys }) });

describe('a key of the keyboard', () => {
  // The codes are those of UI Events, KeyboardEvent code values.
  it.each([
    ['KeyE', 'E'],
    ['Digit7', '7'],
    ['Space', 'Space'],
    ['F5', 'F5'],
  ])('%s is written %s', (code, label) => {
    expect(keyLabel(code)).toBe(label);
  });
  it('of any other name is written in words, never as nothing', () => {
    for (const code of ['ShiftLeft', 'ArrowUp', 'NumpadAdd', 'Escape', 'BracketLeft', 'Pointer0', 'Wake']) {
      expect(keyLabel(code).trim().length, code).toBeGreaterThan(0);
      expect(keyLabel(code).length, code).toBeLessThan(20);
    }
  });
});

describe('the key of an action', () => {
  const document: Document = {
    ...makeDocument('Low Water'),
    actions: { turn: action('Turn', KEYS), open: action('Open') },
  };
  it('is its own, or the one that all have at first', () => {
    expect(keysOf(document, 'turn')).toEqual(KEYS);
    expect(keysOf(document, 'open')).toEqual(DEFAULT_KEYS);
    expect(keysOf(document, null)).toEqual(DEFAULT_KEYS);
    expect(keysOf(document, 'gone')).toEqual(DEFAULT_KEYS);
  });
  it('is that of the nearest element around it that a key acts on, unless it has one of its own', () => {
    const { made } = makePrompt({}, 'wheel', 'Turn', 'turn');
    const key = Object.entries(made).find(([, e]) => e.kind === 'key')?.[0] as string;
    const d: Document = {
      ...document,
      anchors: { wheel: { kind: 'surface', name: 'Wheel', order: 'a0', node: null, position: [0, 0, 0], normal: [0, 1, 0] } },
      elements: {
        ...made,
        deep: makeGroup(insideOf('turn'), 'Deep', 'row', 'b0'),
        'deep-key': makeKey(insideOf('deep'), 'b1'),
        own: { ...makeKey(insideOf('deep'), 'b2'), action: 'open' },
      },
    };
    const c = compile(d, null);
    const of = (id: string) => actionOfKey(c, c.ids.indexOf(id));
    expect([of(key), of('deep-key'), of('own')]).toEqual(['turn', 'turn', 'open']);
  });
});
