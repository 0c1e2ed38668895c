/** What the warden sees through the scope: a crosshair that says whether a wheel is within a throw of the line, and what it rests on. */
import { type Element, type Feed, makeConfirmation, makeCrosshair, onGlass } from '@foreshore/document';
import { text } from './pieces.ts';

/** The weighted line is thrown so far, metres. */
const THROW_M = 12;

export const scopeFeeds = (): Record<string, Feed> => ({
  breath: {
    ...{ name: 'Breath', order: 'aZA', kind: 'number', unit: '%', initial: 20, range: [0, 100] },
    source: { kind: 'sine', middle: 45, reach: 40, periodS: 5, startDeg: 0 },
  },
  answer: {
    ...{ name: 'Signal answered', order: 'aZ9', kind: 'event', unit: '', initial: { number: 0, place: null } },
    source: { kind: 'events', places: [[37, 8, 12]], everyS: 6 },
  },
  aimOn: {
    ...{ name: 'What the scope rests on', order: 'aZB', kind: 'text', unit: '', initial: '' },
    source: { kind: 'aimed', mostM: 60, pattern: '*', property: null, gives: 'distance' },
  },
  aimM: {
    ...{ name: 'How far it rests', order: 'aZC', kind: 'number', unit: 'm', initial: 60, range: [0, 60] },
    source: { kind: 'aimed', mostM: 60, pattern: '*', property: null, gives: 'distance' },
  },
});

/** @param only when the phase is the scope's. */
export const scopeParts = (only: Element['show']): Record<string, Element> => ({
  'scope-aim': {
    ...makeCrosshair('Scope', 'breath', 'i0'),
    show: only,
    sizePx: 56,
    armPx: 18,
    opening: { by: 'angle', deg: 4 },
    aim: {
      of: { by: 'nodes', pattern: 'Sluice ? wheel', property: null },
      reachM: THROW_M,
      leaveS: 0.3,
      // The lamp in the other hand throws its light from there.
      tool: { from: { by: 'offset', rightM: -0.35, upM: -0.4, aheadM: 0.35 }, mark: { sizePx: 26, colour: '#F29C8C' } },
      looks: {
        reachable: { colour: '#9BE7A4' },
        far: { colour: '#F2C14E', form: 'brackets' },
        blocked: { colour: '#F29C8C', form: 'ring' },
      },
    },
  },
  // The mast answers the warden's lamp.
  'scope-answer': { ...makeConfirmation('Signal answered', 'answer', 'i2'), show: only, sizePx: 84 },
  'scope-words': {
    ...text(onGlass([0.5, 0.5], [0, 96]), 'Scope words', '{aimOn}, {aimM, number, ::precision-integer} m', 'i1', 28, {
      paint: { align: 'centre', plate: { colour: '#15233BD9', padEm: [0.5, 0.25], radiusEm: 0.3 } },
    }),
    show: only && {
      ...only,
      conditions: [{ kind: 'compare', feed: 'aimM', is: 'below', value: 60, leave: 0 }],
    },
  },
});
