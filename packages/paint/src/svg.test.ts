import { type DrawList, PATH_CLOSE, PATH_CUBIC, PATH_LINE, PATH_MOVE, PATH_QUADRATIC } from '@foreshore/core';
import { describe, expect, it } from 'vitest';
import { paintSvg, pathData } from './svg.ts';

const block = {
  widthEm: 1,
  heightEm: 1,
  capHeightEm: 0.7,
  lines: [{ text: 'Tide & <gauge>', xEm: 0, baselineEm: 1, widthEm: 1 }],
  ops: Uint8Array.of(PATH_MOVE, PATH_LINE, PATH_QUADRATIC, PATH_CUBIC, PATH_CLOSE),
  coords: Float64Array.from([0, 0, 1, 0, 1, 1, 0.5, 0.25, 1, 2, 3, 4, 5, 6]),
  cut: false,
  missing: [],
};
const list: DrawList = {
  space: 'screen',
  widthPx: 1920,
  heightPx: 1080,
  items: [
    { kind: 'line', element: 'gauge', x1: 1, y1: 2, x2: 3, y2: 4, widthPx: 2, colour: '#15233B', opacity: 1 },
    { kind: 'plate', element: 'gauge', x: 10, y: 20, width: 30, height: 40, radius: 5, colour: '#FBF8F080', opacity: 0.5 },
    {
      kind: 'text',
      element: 'gauge',
      x: 12,
      y: 22,
      emPx: 28,
      block,
      colour: '#15233B',
      outline: { colour: '#FFFFFF', widthPx: 2.8 },
      opacity: 1,
    },
  ],
};

describe('the SVG', () => {
  it('writes every kind of segment', () => {
    expect(pathData(block)).toBe('M0 0L1 0Q1 1 0.5 0.25C1 2 3 4 5 6Z');
  });
  it('has each element as a group with its text, at the places of the draw list', () => {
    const svg = paintSvg(list);
    expect(svg).toContain('viewBox="0 0 1920 1080"');
    expect(svg).toContain('<g id="gauge">');
    expect(svg).toContain('<title>Tide &#38; &#60;gauge&#62;</title>');
    expect(svg).toContain('<rect x="10" y="20" width="30" height="40" rx="5" fill="#FBF8F0" fill-opacity="0.502" opacity="0.5"/>');
    expect(svg).toContain('translate(12 22) scale(28)');
    expect(svg).toContain('stroke-width="0.2"');
  });
});
