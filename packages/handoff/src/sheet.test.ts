/** The spec sheet: sizes and places by hand, and drawings that show them. */
import { type Document, insideOf, makeDocument, makeGroup, makeLabel, makeText, onGlass } from '@foreshore/document';
import { describe, expect, it } from 'vitest';
import { fixedText } from '../../core/src/sample.ts';
import { OWN } from './convention.ts';
import { sheetCsv, sheetHtml, sheetOf } from './sheet.ts';

/** Texts are 4 em by 1.25 em, whatever they say. */
function scene(): Document {
  const d = makeDocument('Low Water');
  d.glass = { ...d.glass, widthPx: 1000, heightPx: 500 };
  d.anchors.hut = { kind: 'surface', name: 'Hut', order: 'a0', node: null, position: [0, 1, -9], normal: [0, 1, 0] };
  const bare = (text: ReturnType<typeof makeText>) => ({ ...text, paint: { ...text.paint, plate: null, outline: null } });
  const sized = (text: ReturnType<typeof makeText>, emPx: number) =>
    bare({ ...text, size: { rule: 'screen', emPx, hideBelowPx: 0, leavePx: 0 } });
  // Its lower right corner on the middle of the screen, moved by (−30, 20).
  const glass = onGlass([0.5, 0.5], [-30, 20]);
  d.elements.tide = sized(
    makeText({ mount: { ...glass.mount, within: 'screen' } as never, place: { ...glass.place, ownPoint: [1, 1] } }, 'Tide', 'a0'),
    20,
  );
  const card = makeGroup(onGlass([0, 0]), 'Card', 'free', 'a1');
  d.elements.card = {
    ...card,
    layout: { ...card.layout, padPx: [10, 20, 30, 40], width: { fixedPx: 240 }, height: { fixedPx: 160 } } as never,
  };
  d.elements.line = sized(makeText(insideOf('card', [1, 0.5]), 'Line', 'a2'), 16);
  // Floats, a centimetre for a pixel of its own; what it holds is told in those.
  const sign = makeGroup({ mount: { kind: 'floating', anchor: 'hut' }, place: card.place }, 'Sign', 'free', 'a6');
  d.elements.sign = {
    ...sign,
    size: { rule: 'world', emM: 0.01, leastPx: 0, greatestPx: 100, hideBelowPx: 0, leavePx: 0 },
    layout: { ...sign.layout, padPx: [10, 10, 10, 10] },
  };
  d.elements.board = sized(makeText(insideOf('sign', [0, 0]), 'Board', 'a7'), 20);
  const floats = (order: string, size: object) =>
    bare({ ...makeLabel('hut', 'Hut', order), size: { ...size, hideBelowPx: 0, leavePx: 0 } as never });
  d.elements.screen = floats('a3', { rule: 'screen', emPx: 30 });
  d.elements.angle = floats('a4', { rule: 'angle', emArcmin: 24 });
  d.elements.world = floats('a5', { rule: 'world', emM: 0.2, leastPx: 1, greatestPx: 500 });
  return d;
}
const sheet = (convention = OWN) => sheetOf(scene(), null, fixedText, convention);
const row = (id: string, of = sheet()) => of.rows.find((one) => one.id === id);

describe('the spec sheet', () => {
  it('says how large what floats is in the unit of its rule', () => {
    const none = { widthPx: null, heightPx: null, width: null, height: null, widthArcmin: null, heightArcmin: null };
    const [w, h] = [4, (row('screen')?.heightPx ?? 0) / 30];
    expect(h).toBeGreaterThan(1);
    expect(row('screen')).toMatchObject({ ...none, widthPx: w * 30, heightPx: h * 30, frame: null });
    expect(row('angle')).toMatchObject({ ...none, widthArcmin: w * 24, heightArcmin: h * 24 });
    expect(row('world')).toMatchObject({ ...none, width: w * 0.2, height: h * 0.2 });
    expect(row('world', sheet({ ...OWN, unitsPerMetre: 100 }))?.width).toBeCloseTo(80, 9);
  });

  it('says where a box lies in the screen, and in its group', () => {
    const height = row('tide')?.heightPx as number;
    expect(row('tide')).toMatchObject({ widthPx: 80, leftPx: 470 - 80, topPx: 270 - height, frame: [1000, 500], pinPx: [500, 250] });
    const line = row('line');
    const [lineW, lineH] = [line?.widthPx as number, line?.heightPx as number];
    const [frameW, frameH] = line?.frame ?? [0, 0];
    // The pin is a share of what the padding leaves; its own point is the same share of itself.
    const pin = [10 + (frameW - 40), 20 + 0.5 * (frameH - 60)];
    expect(line).toMatchObject({ group: 'card', pinPx: pin, leftPx: (pin[0] as number) - lineW, topPx: (pin[1] as number) - lineH / 2 });
  });

  it('says what floats in the world, and draws what lies inside of it to the same scale', () => {
    // A free group is made 320 px wide.
    expect(row('sign')).toMatchObject({ widthPx: null, width: 3.2, frame: null });
    expect(row('board')).toMatchObject({ widthPx: 80, leftPx: 10, topPx: 10, pinPx: [10, 10], group: 'sign' });
    const drawn = /<section id="sign">.*?<\/section>/s.exec(sheetHtml(sheet()))?.[0] ?? '';
    const widthOf = (kind: string) => Number(new RegExp(`class="${kind}"[^>]* width="([\\d.]+)"`).exec(drawn)?.[1]);
    expect(widthOf('in') / widthOf('box')).toBeCloseTo(80 / 320, 2);
  });

  it('draws them to scale, with what lies inside, and writes the lengths at them', () => {
    const html = sheetHtml(sheet());
    const of = (id: string) => new RegExp(`<section id="${id}">.*?</section>`, 's').exec(html)?.[0] ?? '';
    const number = (pattern: RegExp, text: string) => pattern.exec(text)?.slice(1).map(Number) ?? [];
    const [fx = 0, fy = 0, fw = 0, fh = 0] = number(
      /class="frame" x="([\d.]+)" y="([\d.]+)" width="([\d.]+)" height="([\d.]+)"/,
      of('tide'),
    );
    const [bx = 0, by = 0, bw = 0] = number(/class="box" x="([\d.]+)" y="([\d.]+)" width="([\d.]+)"/, of('tide'));
    const scale = fw / 1000;
    expect(fh / 500).toBeCloseTo(scale, 4);
    expect([(bx - fx) / scale, bw / scale]).toEqual([expect.closeTo(390, 0), expect.closeTo(80, 0)]);
    expect((by - fy) / scale).toBeCloseTo(row('tide')?.topPx as number, 0);
    expect(of('tide')).toContain('>390 px from the left<');
    expect(of('card').match(/class="in"/g)).toHaveLength(1);
    // A hundredth of a pixel is drawn nowhere.
    const drawings = html.match(/<svg class="drawing".*?<\/svg>/gs) ?? [];
    expect(drawings.length).toBeGreaterThan(5);
    for (const drawing of drawings) expect(drawing).not.toMatch(/\d\.\d{3}/);
    expect(of('angle')).toContain('>96 arcmin<');
    expect(of('world')).toContain('<td>0.8 m by');
    // Every element of a row or a column is placed by that: it has no cross.
    expect(of('line')).toContain('class="pin"');
    expect(sheetCsv(sheet()).split('\n')[0]).toContain(',widthArcmin,heightArcmin,leftPx,topPx,pin,');
  });
});
