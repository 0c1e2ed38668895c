/** Pages as users bring them: what is put into them, what they lack, and what is refused. */
import { PictureError } from '@foreshore/document';
import { strFromU8, strToU8, zipSync } from 'fflate';
import { PNG } from 'pngjs';
import { describe, expect, it } from 'vitest';
import { packPage } from './page.ts';

const zip = (files: Record<string, string | Uint8Array>): Uint8Array =>
  zipSync(Object.fromEntries(Object.entries(files).map(([name, data]) => [name, typeof data === 'string' ? strToU8(data) : data])));
const packed = (files: Record<string, string | Uint8Array>) => {
  const { bytes, ...facts } = packPage(zip(files));
  return { html: strFromU8(bytes), ...facts };
};
const LAMP = new Uint8Array(PNG.sync.write(new PNG({ width: 2, height: 2 })));
const LAMP_ADDRESS = `data:image/png;base64,${Buffer.from(LAMP).toString('base64')}`;

describe('a page with its assets', () => {
  it('becomes one file: styles, their imports, scripts, pictures, with relative paths followed from where they are named', () => {
    const { html, missing } = packed({
      'tide/index.html': `<!doctype html><link rel="stylesheet" href="css/page.css" media="screen"><script src="../tide/js/a.js" defer></script>
        <body style="background:url('lamp.png')"><img src="./lamp.png?v=2" srcset="lamp.png 1x, /tide/lamp.png 2x"><svg><use href="#mark"/></svg>`,
      'tide/lamp.png': LAMP,
      'tide/css/page.css': `@import "more.css"; /* url(no.png) */ .a::after { content: "url(no.png)"; background: url(../lamp.png) }`,
      'tide/css/more.css': '.b { background: url("../lamp.png") }',
      'tide/js/a.js': 'document.title = "</script>";',
    });
    expect(missing).toBeUndefined();
    expect(html).not.toMatch(/href="css|src="\.|lamp\.png/);
    expect(html).toContain(`<style media="screen">.b { background: url("${LAMP_ADDRESS}") } /* url(no.png) */`);
    expect(html).toContain('content: "url(no.png)"');
    expect(html.split(LAMP_ADDRESS).length - 1).toBe(6);
    expect(html).toContain('<use href="#mark">');
    // The script waits for the page, and does not end before its end.
    expect(html).toMatch(/document\.title = "<\\\/script>";<\/script><\/body>/);
  });
  it('tells by name what it lacks, once each, and leaves out what leads elsewhere', () => {
    const { html, missing } = packed({
      'index.html': `<!doctype html><meta http-equiv="refresh" content="0; url=https://tide.example/"><base href="https://tide.example/">
        <link rel="stylesheet" href="gone.css"><script src="https://tide.example/a.js"></script><img src="no/lamp.png"><img src="no/lamp.png">
        <script type="module">import { level } from './level.js';</script><iframe src="other.html"></iframe><a href="javascript:void 0">x</a>`,
    });
    expect(missing).toEqual([
      'the redirect 0; url=https://tide.example/',
      'gone.css',
      'https://tide.example/a.js',
      'no/lamp.png',
      './level.js',
      'other.html',
    ]);
    expect(html).not.toMatch(/<(?:base|iframe|link)|http-equiv|tide\.example/);
  });
  it('says how large its window is, or is given one', () => {
    const size = (head: string) => {
      const { widthPx, heightPx } = packPage(strToU8(`<!doctype html>${head}<p>Tide`));
      return [widthPx, heightPx];
    };
    expect(size('')).toEqual([640, 400]);
    expect(size('<meta name="viewport" content="width=480, height=720">')).toEqual([480, 720]);
    expect(size('<meta content="height=300,width=900" name=viewport>')).toEqual([900, 300]);
    expect(size('<meta name="viewport" content="width=device-width, initial-scale=1">')).toEqual([640, 400]);
    expect(size('<meta name="viewport" content="width=0, height=99999">')).toEqual([640, 400]);
  });
  it('is itself where it comes packed', () => {
    const once = packPage(strToU8('<p>Tide <b>2 m'));
    expect(packPage(once.bytes).bytes).toEqual(once.bytes);
    expect(strFromU8(once.bytes)).toMatch(/^<!DOCTYPE html>|^<html/);
  });
  it.each<[string, () => Uint8Array, RegExp]>([
    ['no page', () => zip({ 'a.png': LAMP }), /holds no HTML file/],
    ['several', () => zip({ 'a.html': '<p>', 'b.html': '<p>' }), /none is called index\.html: a\.html, b\.html/],
    ['a name that leads out', () => zip({ '../index.html': '<p>' }), /leads out of it/],
    ['a zip that is cut off', () => zip({ 'index.html': '<p>' }).subarray(0, 40), /not a readable zip/],
    ['plain text', () => strToU8('tide 2 m'), /not an HTML page/],
    ['depth without end', () => strToU8('<b><i>'.repeat(100_000)), /deeper than 400/],
    ['much HTML', () => strToU8(`<p>${'x'.repeat(5 * 1024 * 1024)}`), /more than 4 MB of HTML/],
    [
      'one picture a thousand times',
      () => zip({ 'index.html': '<img src=a.png>'.repeat(1000), 'a.png': new Uint8Array(100_000) }),
      /larger than 16 MB/,
    ],
    ['too many files', () => zip(Object.fromEntries(Array.from({ length: 2100 }, (_, k) => [`${k}.txt`, '']))), /more than 2000 files/],
    [
      'a zip that unpacks to much',
      () => zip({ 'index.html': '<p>', 'a.bin': new Uint8Array(70 * 1024 * 1024) }),
      /unpacks to more than 64 MB/,
    ],
  ])('refuses %s', (_, bytes, words) => {
    expect(() => packPage(bytes())).toThrowError(PictureError);
    expect(() => packPage(bytes())).toThrowError(words);
  });
  it('with style sheets that bring in one another comes to an end', () => {
    const { missing } = packed({
      'index.html': '<link rel=stylesheet href=a.css>',
      'a.css': '@import "b.css";',
      'b.css': '@import "a.css";',
    });
    expect(missing).toEqual(['b.css']);
  });
});
