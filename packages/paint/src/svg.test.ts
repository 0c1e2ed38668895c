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

describe('pictures, paint and moved parts', () => {
  const picture = {
    kind: 'picture' as const,
    element: 'jar',
    picture: 'h1',
    size: [64, 64] as [number, number],
    from: [0, 32, 64, 32] as [number, number, number, number],
    x: 10,
    y: 20,
    width: 128,
    height: 64,
    tint: '#FF8000',
    saturation: 0,
    blurPx: 4,
    opacity: 0.5,
  };
  const of = (...items: DrawList['items']): DrawList => ({ ...list, items });
  it('shows the part of a picture in its box, in its colours', () => {
    const svg = paintSvg(of(picture), (hash) => (hash === 'h1' ? 'data:image/png;base64,AA==' : undefined));
    expect(svg).toContain(
      '<svg x="10" y="20" width="128" height="64" viewBox="0 32 64 32" preserveAspectRatio="none"><image width="64" height="64"',
    );
    expect(svg).toContain('href="data:image/png;base64,AA=="');
    expect(svg).toContain('<feColorMatrix type="saturate" values="0"/>');
    expect(svg).toContain('values="1 0 0 0 0 0 0.502 0 0 0 0 0 0 0 0 0 0 0 1 0"');
    // 4 px where one pixel of the picture takes two.
    expect(svg).toContain('stdDeviation="2"');
    expect(svg).toContain('opacity="0.5"');
  });
  it('leaves out what is not there', () => {
    expect(paintSvg(of(picture))).not.toContain('<image');
  });
  it('moves a part as a whole, and closes what it opened', () => {
    const plate = { kind: 'plate' as const, element: 'card', x: 0, y: 0, width: 5, height: 5, radius: 0, colour: '#FFFFFF', opacity: 1 };
    const svg = paintSvg(
      of(
        { kind: 'push', element: 'card', matrix: [0, 1, -1, 0, 30, 40] },
        plate,
        { kind: 'pop', element: 'card' },
        { ...plate, element: 'other' },
      ),
    );
    expect(svg).toContain('<g transform="matrix(0 1 -1 0 30 40)">\n<g id="card">');
    expect(svg.match(/<g[ >]/g)?.length).toBe(svg.match(/<\/g>/g)?.length);
  });
  it('paints over the screen by its effect and its amount', () => {
    const screen = (effect: 'desaturate' | 'tint' | 'vignette' | 'fringe') =>
      paintSvg(of({ kind: 'screen', element: 'cold', effect, amount: 0.25, colour: '#102030' }));
    expect(screen('desaturate')).toContain('mix-blend-mode:saturation');
    expect(screen('tint')).toContain('fill="#102030" opacity="0.25" style="mix-blend-mode:multiply"');
    expect(screen('vignette')).toMatch(/<radialGradient id="vignette-1"[\s\S]*fill="url\(#vignette-1\)"/);
    expect(screen('fringe')).not.toContain('<rect');
  });
});
