/** What somebody may bring in order to harm: each is refused with what is wrong, in time that grows with its length only. */
import { strToU8, zipSync } from 'fflate';
import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';
import { boundsFault, MOST_DEPTH } from './bounds.ts';
import { applyChange, ConflictError } from './change.ts';
import { makeDocument } from './make.ts';
import { PictureError, readPicture } from './picture-file.ts';
import { readProjectFile, writeProjectFile } from './project-file.ts';
import { DocumentError, findFaults, readDocument } from './validate.ts';

const bytes = (text: string) => new TextEncoder().encode(text);
const svg = (inside: string) => bytes(`<svg xmlns="http://www.w3.org/2000/svg" width="40" height="30">${inside}</svg>`);

describe('a drawing', () => {
  it.each<[string, string, RegExp]>([
    ['comments nested before a document type', `${'<!--'.repeat(50)}${'-->'.repeat(50)}<!DOCTYPE svg><svg/>`, /not|entities/],
    ['an address with 400,000 spaces', `<svg width="1" height="1"><style>a{fill:url(${' '.repeat(400_000)}x)}</style></svg>`, /outside/],
    ['attributes without end', `<svg ${'width="1" '.repeat(20_000)}`, /not|well-formed/],
    ['an entity', '<!DOCTYPE svg [<!ENTITY a "b">]><svg width="1" height="1">&a;</svg>', /entities/],
    ['elements ten thousand deep', `<svg width="1" height="1">${'<g>'.repeat(10_000)}${'</g>'.repeat(10_000)}</svg>`, /deep/],
    ['one that is drawn in itself', '<svg width="1" height="1"><g id="a"><use href="#a"/></g></svg>', /as often/],
    ['one that is never closed', '<svg width="1" height="1"><g>', /well-formed/],
  ])('of %s is refused', (_, text, words) => {
    expect(() => readPicture(bytes(text))).toThrow(PictureError);
    expect(() => readPicture(bytes(text))).toThrow(words);
  });
  it('that uses itself over and over is counted as drawn: nine levels of ten are a thousand million', () => {
    const level = (k: number) => `<g id="l${k}">${`<use href="#l${k - 1}"/>`.repeat(10)}</g>`;
    const nested = (levels: number) =>
      svg(`<rect id="l0" width="1" height="1"/>${Array.from({ length: levels }, (_, k) => level(k + 1)).join('')}`);
    expect(() => readPicture(nested(9))).toThrow(/as often as it is used/);
    expect(readPicture(nested(3))).toMatchObject({ widthPx: 40, heightPx: 30 });
  });
});

describe('a picture that breaks off', () => {
  const whole = new Uint8Array(PNG.sync.write(new PNG({ width: 64, height: 64 })));
  it.each([0.3, 0.6, 0.9])('at %d of it is refused', (share) => {
    expect(() => readPicture(whole.subarray(0, Math.floor(whole.length * share)))).toThrow(/breaks off/);
  });
  it('before its last marker is refused, JPEG or WebP', () => {
    const jpeg = Uint8Array.of(0xff, 0xd8, 0xff, 0xc0, 0, 11, 8, 0, 20, 0, 30, 1, 1, 0x11, 0, 0xff, 0xda, 0, 8, 1, 1, 0, 0, 63, 0, 1, 2, 3);
    expect(() => readPicture(jpeg)).toThrow(/breaks off/);
    const webp = new Uint8Array(32);
    webp.set(bytes('RIFF'), 0);
    new DataView(webp.buffer).setUint32(4, 5000, true);
    webp.set(bytes('WEBPVP8L'), 8);
    webp[20] = 0x2f;
    expect(() => readPicture(webp)).toThrow(/breaks off/);
  });
});

describe('a project file', () => {
  const document = makeDocument('Low Water');
  /** The archive with what its directory says of the first file's unpacked size replaced, in both places. */
  const lying = (size: number) => {
    const zip = writeProjectFile({ document, level: null, fonts: {}, pictures: {} });
    const view = new DataView(zip.buffer, zip.byteOffset);
    for (let at = 0; at + 30 < zip.length; at++) {
      if (view.getUint32(at, true) === 0x04034b50) view.setUint32(at + 22, size, true);
      if (view.getUint32(at, true) === 0x02014b50) view.setUint32(at + 24, size, true);
    }
    return zip;
  };
  it('that says more of a size than deflate can hold, or less than there is, is refused', () => {
    expect(() => readProjectFile(lying(2_000_000_000))).toThrow(/than a zip archive can hold|MB/);
    expect(() => readProjectFile(lying(400_000))).toThrow(/not as long|not a readable/);
    expect(() => readProjectFile(lying(10))).toThrow(DocumentError);
  });
  it('with a document of hundreds of megabytes of spaces is refused by its directory alone', () => {
    const zip = zipSync({ 'document.json': strToU8(`{}${' '.repeat(40 * 1024 * 1024)}`) });
    expect(zip.length).toBeLessThan(200_000);
    expect(() => readProjectFile(zip)).toThrow(/more than 32 MB/);
  });
});

describe('a document', () => {
  const nested = (levels: number): unknown => {
    let condition: unknown = { kind: 'group', need: 'all', conditions: [] };
    for (let k = 0; k < levels; k++) condition = { kind: 'group', need: 'all', conditions: [condition] };
    return condition;
  };
  it('nested beyond all measure is refused where it is too deep, without running out of stack', () => {
    const at = (levels: number) => {
      const d = makeDocument('Deep') as unknown as { elements: Record<string, unknown> };
      d.elements.a = { show: { conditions: [nested(levels)] } };
      return findFaults(d);
    };
    for (const levels of [60, 585, 100_000]) expect(at(levels)[0]?.message).toMatch(/levels deep/);
    expect(boundsFault(nested(MOST_DEPTH / 2 - 2))).toBeNull();
  });
  it('with a key that the language takes for its own is refused, wherever it stands', () => {
    for (const text of ['{"a":{"__proto__":1}}', '[{"constructor":{}}]', '{"prototype":0}'])
      expect(boundsFault(JSON.parse(text))?.message).toMatch(/name/);
    const d = makeDocument('Keys');
    const text = JSON.stringify(d).replace('"elements":{}', '"elements":{"__proto__":{}}');
    expect(() => readDocument(text)).toThrow(/__proto__/);
  });
});

describe('a change', () => {
  const d = makeDocument('Low Water');
  it.each<[string, unknown]>([
    ['below a number', [{ op: 'add', path: '/body/radiusM/x', value: 1 }]],
    ['below a text', [{ op: 'add', path: '/name/0', value: 1 }]],
    ['of the whole', [{ op: 'replace', path: '', value: {} }]],
    ['with a value nested 70,000 deep', [{ op: 'add', path: '/feeds/a', value: JSON.parse('['.repeat(70_000) + ']'.repeat(70_000)) }]],
    ['that tests for a value nested deep', [{ op: 'test', path: '/name', value: JSON.parse('['.repeat(5000) + ']'.repeat(5000)) }]],
    ['at a name of the language', [{ op: 'add', path: '/feeds/constructor', value: {} }]],
    ['at no place in a list', [{ op: 'add', path: '/languages/x', value: 'en' }]],
  ])('%s is refused with its place', (_, patch) => {
    expect(() => applyChange(d, patch as never)).toThrow();
    try {
      applyChange(d, patch as never);
    } catch (error) {
      expect(error instanceof DocumentError || error instanceof ConflictError).toBe(true);
    }
  });
});
