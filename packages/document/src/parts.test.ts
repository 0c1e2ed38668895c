/** Templates and copies, pictures' bytes, and taking out what others refer to. */
import fc from 'fast-check';
import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';
import {
  copyElement,
  type Document,
  detach,
  type Element,
  findFaults,
  insideOf,
  makeDocument,
  makeGauge,
  makeGroup,
  makeInstance,
  makePicture,
  makeSlider,
  makeText,
  onGlass,
  pictureForm,
  readPicture,
  usesFeed,
  withoutFeed,
  withoutPicture,
} from './index.ts';

const HASH = 'a'.repeat(64);
const file = (order: string) => ({ name: 'Jar', order, hash: HASH, type: 'image/png' as const, widthPx: 32, heightPx: 32 });

function boards(): Document {
  const board = makeGroup(onGlass([0, 0]), 'Board', 'column', 'a0');
  return {
    ...makeDocument('Low Water'),
    elements: {
      board: {
        ...board,
        template: {
          parameters: {
            title: { kind: 'text', initial: 'Tide' },
            reading: { kind: 'feed', initial: 'tide' },
            icon: { kind: 'picture', initial: null },
            most: { kind: 'number', initial: 2 },
          },
          only: false,
        },
      },
      line: {
        ...makeGroup(insideOf('board'), 'Line', 'row', 'a1'),
        pointer: { takes: 'acts', action: 'ring', padPx: 0, pointed: {}, pressed: {} },
      },
      title: { ...makeText(insideOf('line'), 'Title', 'a2'), uses: { text: 'title' } },
      icon: { ...makePicture(insideOf('line'), 'Icon', null, 20, 20, 'a3'), uses: { picture: 'icon' } },
      bar: {
        ...makeGauge(insideOf('board'), 'Bar', null, { kind: 'bar', widthPx: 100, heightPx: 10, towards: 'right', radiusPx: 0 }, 'a4'),
        uses: { source: 'reading', full: 'most' },
      },
      copy: { ...makeInstance(onGlass([1, 1]), 'board', 'Oil', 'a5'), values: { title: 'Oil', reading: 'oil', icon: 'jar', most: 14 } },
    },
    feeds: {
      tide: { name: 'Tide', order: 'a0', kind: 'number', unit: 'm', initial: 0 },
      oil: { name: 'Oil', order: 'a1', kind: 'number', unit: 'd', initial: 9 },
    },
    actions: { ring: { name: 'Ring', order: 'a0', reactions: [] } },
    pictures: { jar: file('a0') },
  };
}

describe('a template', () => {
  it('is a document, and one that is inside of itself is none', () => {
    expect(findFaults(boards())).toEqual([]);
    const inside = boards();
    inside.elements.again = makeInstance(insideOf('line'), 'board', 'Again', 'a6');
    expect(findFaults(inside)).toMatchObject([{ pointer: '/elements/again/of' }]);
    const nothing = boards();
    (nothing.elements.copy as { of: string }).of = 'line';
    expect(findFaults(nothing)).toMatchObject([{ pointer: '/elements/copy/of', message: expect.stringContaining('not a template') }]);
  });
  it('names feeds and pictures that are there, or none', () => {
    const document = boards();
    (document.elements.copy as { values: Record<string, string> }).values = { reading: 'wind', icon: '', title: 'wind' };
    expect(findFaults(document)).toMatchObject([{ pointer: '/elements/copy/values/reading', code: 'reference' }]);
  });
  it('detached, is a group of its own with the values it had, and says what it still refers to', () => {
    const made = detach(boards(), 'copy');
    const elements = made?.document.elements ?? {};
    expect(findFaults(made?.document)).toEqual([]);
    expect(elements.copy).toMatchObject({ kind: 'group', name: 'Oil', mount: { kind: 'glass', pin: [1, 1] } });
    expect(elements.copy).not.toHaveProperty('template');
    const within = (group: string) => Object.entries(elements).filter(([, { mount }]) => mount.kind === 'inside' && mount.group === group);
    const [line] = within('copy').find(([, e]) => e.kind === 'group') ?? [''];
    expect(within('copy').find(([, e]) => e.kind === 'gauge')?.[1]).toMatchObject({ source: 'oil', full: 14 });
    expect(within(line).map(([, e]) => (e.kind === 'label' ? e.text : e.kind === 'picture' ? e.picture : ''))).toEqual(['Oil', 'jar']);
    expect(made?.kept.sort()).toEqual(['action Ring', 'feed Oil', 'picture Jar']);
    // The template and its own parts are as they were.
    expect(elements.board).toEqual(boards().elements.board);
    expect(detach(boards(), 'board')).toBeNull();
  });
});

describe('a copy', () => {
  it('refers to its own parts where the original refers to its own, whatever the tree', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(), { minLength: 1, maxLength: 25 }), (parents) => {
        const elements: Record<string, Element> = { root: makeGroup(onGlass([0, 0]), 'Root', 'column', 'a0') };
        parents.forEach((p, k) => {
          const above = Object.keys(elements);
          elements[`part${k}`] = makeGroup(insideOf(above[p % above.length] as string), 'Part', 'row', `b${'V'.repeat(k)}V`);
        });
        const document = { ...makeDocument('Low Water'), elements };
        const made = copyElement(document, 'root');
        const fresh = Object.entries(made.document.elements).filter(([id]) => !elements[id]);
        expect(fresh).toHaveLength(parents.length + 1);
        for (const [id, { mount }] of fresh) {
          if (id === made.id) expect(mount.kind).toBe('glass');
          else expect(mount.kind === 'inside' && !elements[mount.group]).toBe(true);
        }
        for (const id of Object.keys(elements)) expect(made.document.elements[id]).toBe(elements[id]);
      }),
      { numRuns: 60 },
    );
  });
});

describe('taking out', () => {
  it('a feed leaves a document that no longer names it, with conditions and guards without it', () => {
    const document = boards();
    document.elements.wind = {
      ...makeSlider(onGlass([0, 0]), 'Wind', 'oil', 'a7'),
      show: {
        phases: {},
        need: 'all',
        conditions: [
          {
            kind: 'group',
            need: 'any',
            conditions: [
              { kind: 'compare', feed: 'oil', is: 'below', value: 3, leave: 0 },
              { kind: 'changed', feed: 'tide', withinS: 2 },
            ],
          },
          { kind: 'group', need: 'any', conditions: [{ kind: 'changed', feed: 'oil', withinS: 2 }] },
        ],
        lingerS: 0,
      },
    };
    document.actions = {
      ring: {
        name: 'Ring',
        order: 'a0',
        reactions: [
          { kind: 'add', when: [], feed: 'oil', by: 1 },
          { kind: 'phase', when: [{ kind: 'compare', feed: 'oil', is: 'above', value: 1, leave: 0 }], phase: 'roaming' },
        ],
      },
    };
    expect(usesFeed(document.elements.wind, 'oil')).toBe(true);
    const after = withoutFeed(document, 'oil');
    expect(after.elements.copy).toMatchObject({ values: { title: 'Oil', icon: 'jar' } });
    expect(after.elements.copy).not.toHaveProperty('values.reading');
    expect(findFaults(after)).toEqual([]);
    expect(after.elements.wind).toMatchObject({ source: null, show: { conditions: [{ kind: 'group', conditions: [{ feed: 'tide' }] }] } });
    expect(after.actions?.ring?.reactions).toEqual([{ kind: 'phase', when: [], phase: 'roaming' }]);
    expect(after.elements.board).toBe(document.elements.board);
  });
  it('a picture leaves what showed it without one, and stages with what is left', () => {
    const document = boards();
    document.pictures = { jar: file('a0'), post: { ...file('a1'), hash: 'b'.repeat(64) } };
    document.cursor = { picture: 'post', overActing: 'jar', hotSpot: [0, 0], sizePx: 40 };
    document.elements.stages = makeGauge(
      onGlass([0, 0]),
      'Stages',
      'tide',
      { kind: 'stages', pictures: ['jar', 'post'], widthPx: 9, heightPx: 9 },
      'a8',
    );
    document.elements.filled = makeGauge(onGlass([0, 0]), 'Filled', 'tide', pictureForm('jar'), 'a9');
    document.elements.shown = makePicture(onGlass([0, 0]), 'Shown', 'jar', 20, 20, 'aA');
    const after = withoutPicture(document, 'jar');
    expect(findFaults(after)).toEqual([]);
    expect(after.elements.stages).toMatchObject({ form: { pictures: ['post'] } });
    expect(after.elements.filled).toMatchObject({ form: { picture: null } });
    expect(after.elements.shown).toMatchObject({ picture: null });
    expect(after.cursor).toMatchObject({ overActing: null });
    expect(withoutPicture(after, 'post').cursor).toBeUndefined();
    expect(findFaults(withoutPicture(after, 'post'))).toEqual([]);
  });
});

const bytes = (text: string) => new TextEncoder().encode(text);
const svg = (inside: string, attributes = 'width="40" height="30"') =>
  bytes(`<?xml version="1.0"?>\n<svg xmlns="http://www.w3.org/2000/svg" ${attributes}>${inside}</svg>`);

describe("a picture's bytes", () => {
  it('say what they are and how large: PNG as another library writes it, the others by their headers', () => {
    expect(readPicture(new Uint8Array(PNG.sync.write(new PNG({ width: 37, height: 12 }))))).toEqual({
      type: 'image/png',
      widthPx: 37,
      heightPx: 12,
    });
    // T.81: start of image, an application segment of 4 bytes, a baseline frame header of 8 bits, 300 x 200.
    const scan = [0xff, 0xda, 0, 8, 1, 1, 0, 0, 63, 0, 1, 2, 3, 0xff, 0xd9];
    const jpeg = Uint8Array.of(0xff, 0xd8, 0xff, 0xe0, 0, 4, 1, 2, 0xff, 0xc0, 0, 11, 8, 0, 200, 1, 44, 1, 1, 0x11, 0, ...scan);
    expect(readPicture(jpeg)).toEqual({ type: 'image/jpeg', widthPx: 300, heightPx: 200 });
    // Exif 2.32: an APP1 segment with one field, Orientation (0x0112) = 6, turned by a quarter: shown 200 x 300.
    const tiff = [0x4d, 0x4d, 0, 42, 0, 0, 0, 8, 0, 1, 0x01, 0x12, 0, 3, 0, 0, 0, 1, 0, 6, 0, 0, 0, 0, 0, 0];
    const exif = [0x45, 0x78, 0x69, 0x66, 0, 0, ...tiff];
    const turned = Uint8Array.of(0xff, 0xd8, 0xff, 0xe1, 0, exif.length + 2, ...exif, ...jpeg.subarray(8));
    expect(readPicture(turned)).toEqual({ type: 'image/jpeg', widthPx: 200, heightPx: 300 });
    // RFC 9649: lossless, 14 bits each of width − 1 and height − 1 after the signature 0x2f.
    const webp = new Uint8Array(32);
    webp.set(bytes('RIFF'), 0);
    webp.set(bytes('WEBPVP8L'), 8);
    webp[20] = 0x2f;
    new DataView(webp.buffer).setUint32(21, (64 - 1) | ((48 - 1) << 14), true);
    expect(readPicture(webp)).toEqual({ type: 'image/webp', widthPx: 64, heightPx: 48 });
    expect(readPicture(svg('<rect width="4" height="4"/>'))).toEqual({ type: 'image/svg+xml', widthPx: 40, heightPx: 30 });
    expect(readPicture(svg('', 'viewBox="0 0 64 32"'))).toEqual({ type: 'image/svg+xml', widthPx: 64, heightPx: 32 });
  });
  it.each([
    ['a script', '<script>1</script>'],
    ['a script', '<a href="javascript:alert(1)"/>'],
    ['an event handler', '<rect onload="x()"/>'],
    ['foreign content', '<foreignObject/>'],
    ['something from outside', '<image href="https://example.invalid/a.png"/>'],
    ['something from outside', '<rect fill="url(https://example.invalid/#a)"/>'],
    ['something from outside', '<style>@import "a.css";</style>'],
  ])('are refused where a drawing holds %s: %s', (what, inside) => {
    expect(() => readPicture(svg(inside))).toThrow(what === 'a script' ? /a script/ : new RegExp(what));
  });
  it('are refused where they would take all memory, by their header alone', () => {
    const huge = new Uint8Array(PNG.sync.write(new PNG({ width: 1, height: 1 })));
    const view = new DataView(huge.buffer, huge.byteOffset);
    view.setUint32(16, 10_000);
    view.setUint32(20, 10_000);
    expect(() => readPicture(huge)).toThrow(/100 million pixels/);
    view.setUint32(16, 40_000);
    expect(() => readPicture(huge)).toThrow(/40000 x 10000/);
  });
  it('may refer to their own parts and to pictures they carry', () => {
    expect(() => readPicture(svg('<rect fill="url(#a)"/><image href="data:image/png;base64,AA=="/>'))).not.toThrow();
  });
  it.each([
    ['nothing', new Uint8Array()],
    ['words', bytes('Low Water')],
    ['a broken JPEG', Uint8Array.of(0xff, 0xd8, 0xff, 0xe0, 0, 4, 1, 2)],
    ['a drawing without a size', svg('', '')],
  ])('are refused where they are %s', (_, data) => {
    expect(() => readPicture(data)).toThrow();
  });
  it('are refused or read, but never crash, whatever they are', () => {
    fc.assert(
      fc.property(
        fc.uint8Array({ maxLength: 80 }),
        fc.constantFrom([0x89, 0x50, 0x4e, 0x47], [0xff, 0xd8], [0x52, 0x49, 0x46, 0x46], []),
        (data, start) => {
          try {
            expect(readPicture(Uint8Array.from([...start, ...data])).widthPx).toBeGreaterThan(0);
          } catch (error) {
            expect((error as Error).constructor.name).toBe('PictureError');
          }
        },
      ),
    );
  });
});
