/**
 * A page as users bring it: one HTML file, or a zip archive of a page with its assets. It is kept as one file that needs no
 * other: scripts, styles, pictures, fonts and media are put into it; what it names and was not brought is told by name.
 * Taken for hostile: its bytes, its files, its depth and what it grows to are limited.
 */
import { MOST_PICTURE_BYTES, PictureError, type PictureFacts, pageWindow } from '@foreshore/document';
import { strFromU8, strToU8, unzipSync } from 'fflate';
import { type DefaultTreeAdapterTypes, parse, serialize } from 'parse5';

type Node = DefaultTreeAdapterTypes.Node;
type ElementNode = DefaultTreeAdapterTypes.Element;

const MOST_FILES = 2000;
const MOST_UNPACKED = 64 * 1024 * 1024;
const MOST_HTML_BYTES = 4 * 1024 * 1024;
const MOST_DEPTH = 400;
/** Style sheets that bring others in. */
const MOST_IMPORTS = 8;
const MOST_MISSING = 100;
const MOST_NAME_CHARS = 300;
const MB = 1048576;

const TYPES: Record<string, string> = {
  png: 'image/png',
  jpg: 'image/jpeg',
  jpeg: 'image/jpeg',
  webp: 'image/webp',
  gif: 'image/gif',
  avif: 'image/avif',
  svg: 'image/svg+xml',
  css: 'text/css',
  js: 'text/javascript',
  mjs: 'text/javascript',
  json: 'application/json',
  woff: 'font/woff',
  woff2: 'font/woff2',
  ttf: 'font/ttf',
  otf: 'font/otf',
  mp3: 'audio/mpeg',
  ogg: 'audio/ogg',
  wav: 'audio/wav',
  mp4: 'video/mp4',
  webm: 'video/webm',
};
const endingOf = (path: string): string => /\.([^./]+)$/.exec(path.toLowerCase())?.[1] ?? '';

/** The files of an archive by their paths, or the one that was brought by itself. */
function filesOf(bytes: Uint8Array): Map<string, Uint8Array> {
  if (!(bytes[0] === 0x50 && bytes[1] === 0x4b)) return new Map([['index.html', bytes]]);
  let [count, total] = [0, 0];
  try {
    const files = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        if (name.startsWith('/') || name.split(/[/\\]/).includes('..'))
          throw new PictureError(`holds a name that leads out of it: "${name}"`);
        if (++count > MOST_FILES) throw new PictureError(`holds more than ${MOST_FILES} files`);
        total += originalSize;
        if (total > MOST_UNPACKED) throw new PictureError(`unpacks to more than ${MOST_UNPACKED / MB} MB`);
        return !name.endsWith('/');
      },
    });
    return new Map(Object.entries(files));
  } catch (error) {
    if (error instanceof PictureError) throw error;
    throw new PictureError(`is not a readable zip archive: ${(error as Error).message}`);
  }
}

/** The page among the files: `index.html` in the outermost folder that has one, or the only page there is. */
function entryOf(files: ReadonlyMap<string, Uint8Array>): string {
  const pages = [...files.keys()]
    .filter((path) => /\.html?$/i.test(path))
    .sort((a, b) => a.split('/').length - b.split('/').length || (a < b ? -1 : 1));
  const [first] = pages;
  if (first === undefined) throw new PictureError('holds no HTML file');
  const index = pages.find((path) => /(?:^|\/)index\.html?$/i.test(path));
  if (index !== undefined) return index;
  if (pages.length === 1) return first;
  throw new PictureError(
    `holds several pages, and none is called index.html: ${pages.slice(0, 5).join(', ')}${pages.length > 5 ? ', ...' : ''}`,
  );
}

/** Puts the files of a page into it. */
class Packing {
  readonly missing: string[] = [];
  /** Scripts that run once the page is there. */
  readonly waiting: ElementNode[] = [];
  private left = MOST_PICTURE_BYTES;
  private readonly addresses = new Map<string, string>();
  private readonly files: ReadonlyMap<string, Uint8Array>;

  constructor(files: ReadonlyMap<string, Uint8Array>) {
    this.files = files;
  }

  lack(name: string): void {
    const short = name.slice(0, MOST_NAME_CHARS);
    if (short && this.missing.length < MOST_MISSING && !this.missing.includes(short)) this.missing.push(short);
  }

  /** What a page grows by; a picture that is used a thousand times is in it a thousand times. */
  private take<T extends string>(text: T): T {
    this.left -= text.length;
    if (this.left < 0) throw new PictureError(`is larger than ${MOST_PICTURE_BYTES / MB} MB with all that belongs to it`);
    return text;
  }

  /** The path of a file as one names it from another; null where it is none of the page's own. */
  private pathOf(named: string, from: string): string | null {
    const plain = named.trim().replace(/[?#].*$/s, '');
    if (/^[a-z][a-z0-9+.-]*:/i.test(plain) || plain.startsWith('//')) return null;
    let path: string;
    try {
      path = decodeURIComponent(plain);
    } catch {
      path = plain;
    }
    const at = path.startsWith('/') ? [] : from.split('/').slice(0, -1);
    for (const part of path.split('/')) {
      if (part === '..') at.pop();
      else if (part && part !== '.') at.push(part);
    }
    return at.join('/');
  }

  /** A file that another names: its path and bytes; null where there is none, which is then told. */
  private found(named: string, from: string): { path: string; bytes: Uint8Array } | null {
    const path = this.pathOf(named, from);
    const bytes = path === null ? undefined : this.files.get(path);
    if (path !== null && bytes) return { path, bytes };
    this.lack(named.trim());
    return null;
  }

  /** What a name becomes where an address stands: the file itself. Addresses that bring their own data, and places on the page, stay. */
  address(named: string, from: string): string {
    const bare = named.trim();
    if (bare === '' || bare.startsWith('#') || /^(?:data|blob|about|javascript):/i.test(bare)) return named;
    const file = this.found(named, from);
    if (!file) return '';
    const place = /#.*$/s.exec(bare)?.[0] ?? '';
    let made = this.addresses.get(file.path);
    if (made === undefined) {
      const text = endingOf(file.path) === 'css' ? strToU8(this.css(strFromU8(file.bytes), file.path)) : file.bytes;
      made = `data:${TYPES[endingOf(file.path)] ?? 'application/octet-stream'};base64,${Buffer.from(text).toString('base64')}`;
      this.addresses.set(file.path, made);
    }
    return this.take(made + place);
  }

  /** A text file that another names; null where it is not there. */
  text(named: string, from: string): { path: string; text: string } | null {
    const file = this.found(named, from);
    return file && { path: file.path, text: this.take(strFromU8(file.bytes)) };
  }

  /** A style sheet with all that it names inside. Comments and strings are left alone (CSS Syntax 3, 4.3). */
  css(sheet: string, from: string, depth = 0): string {
    return sheet.replace(
      /\/\*(?:(?!\*\/)[\s\S])*\*\/|@import\s+(?:url\(\s*)?(?:"([^"\n]*)"|'([^'\n]*)'|([^\s"');]+))\s*\)?([^;]*);|url\(\s*(?:"([^"\n]*)"|'([^'\n]*)'|([^\s"')]+))\s*\)|"(?:[^"\\\n]|\\[\s\S])*"|'(?:[^'\\\n]|\\[\s\S])*'/gi,
      (whole, i1?: string, i2?: string, i3?: string, media?: string, u1?: string, u2?: string, u3?: string) => {
        const url = u1 ?? u2 ?? u3;
        if (url !== undefined) {
          const made = this.address(url, from);
          return made ? `url("${made.replaceAll('"', '%22')}")` : 'none';
        }
        const named = i1 ?? i2 ?? i3;
        if (named === undefined) return whole;
        if (depth >= MOST_IMPORTS) {
          this.lack(named);
          return '';
        }
        const other = this.text(named, from);
        if (!other) return '';
        const inner = this.css(other.text, other.path, depth + 1);
        return media?.trim() ? `@media ${media.trim()} {\n${inner}\n}` : inner;
      },
    );
  }

  /** Modules of its own that a script brings in by name cannot be found where it runs. */
  script(text: string): void {
    for (const [, a, b] of text.matchAll(
      /\bimport\s*(?:[\w*{}\s,$]{0,500}?from\s*)?\(?\s*(?:"(\.{0,2}\/[^"\n]{1,300})"|'(\.{0,2}\/[^'\n]{1,300})')/g,
    ))
      this.lack(a ?? b ?? '');
  }
}

const attribute = (element: ElementNode, name: string): string | undefined => element.attrs.find((one) => one.name === name)?.value;
function setAttribute(element: ElementNode, name: string, value: string): void {
  const there = element.attrs.find((one) => one.name === name);
  if (there) there.value = value;
}
const without = (element: ElementNode, ...names: string[]): void => {
  element.attrs = element.attrs.filter(({ name }) => !names.includes(name));
};
const textOf = (element: ElementNode): string => element.childNodes.map((child) => ('value' in child ? child.value : '')).join('');
function setText(element: ElementNode, value: string): void {
  element.childNodes = [{ nodeName: '#text', value, parentNode: element }];
}
function remove(element: ElementNode): void {
  const siblings = element.parentNode?.childNodes ?? [];
  siblings.splice(siblings.indexOf(element), 1);
}

/** Attributes that name a file, by the element they stand on; `*`: on any. */
const NAMES_FILE: Record<string, readonly string[]> = {
  img: ['src'],
  source: ['src'],
  track: ['src'],
  audio: ['src'],
  video: ['src', 'poster'],
  input: ['src'],
  image: ['href', 'xlink:href'],
  use: ['href', 'xlink:href'],
  feImage: ['href', 'xlink:href'],
  body: ['background'],
};

function packFrame(packing: Packing, element: ElementNode): void {
  packing.lack(attribute(element, 'src') ?? attribute(element, 'data') ?? `a ${element.tagName}`);
  remove(element);
}

function packLink(packing: Packing, element: ElementNode, from: string): void {
  const rel = (attribute(element, 'rel') ?? '').toLowerCase().split(/\s+/);
  const sheet = rel.includes('stylesheet') ? packing.text(attribute(element, 'href') ?? '', from) : null;
  if (!sheet) {
    remove(element);
    return;
  }
  element.tagName = 'style';
  element.nodeName = 'style';
  without(element, 'rel', 'href', 'type', 'integrity', 'crossorigin');
  setText(element, closed(packing.css(sheet.text, sheet.path), 'style'));
}

function packMeta(packing: Packing, element: ElementNode): void {
  if (attribute(element, 'http-equiv')?.toLowerCase() !== 'refresh') return;
  packing.lack(`the redirect ${attribute(element, 'content') ?? ''}`.trim());
  remove(element);
}

function packScript(packing: Packing, element: ElementNode, from: string): void {
  const src = attribute(element, 'src');
  const isModule = attribute(element, 'type') === 'module';
  const script = src === undefined ? null : packing.text(src, from);
  if (script) {
    // A script that waited for the page still does.
    if (!isModule && (attribute(element, 'defer') ?? attribute(element, 'async')) !== undefined) packing.waiting.push(element);
    without(element, 'src', 'integrity', 'crossorigin', 'async', 'defer');
    setText(element, closed(script.text, 'script'));
  } else if (src !== undefined) remove(element);
  if (isModule) packing.script(textOf(element));
}

/** Elements that are more than what they name. What would lead the page away from itself goes. */
const PACK: Record<string, (packing: Packing, element: ElementNode, from: string) => void> = {
  base: (_, element) => remove(element),
  meta: packMeta,
  iframe: packFrame,
  frame: packFrame,
  object: packFrame,
  embed: packFrame,
  link: packLink,
  style: (packing, element, from) => setText(element, packing.css(textOf(element), from)),
  script: packScript,
};

function packElement(packing: Packing, element: ElementNode, from: string): void {
  if (Object.hasOwn(PACK, element.tagName)) PACK[element.tagName]?.(packing, element, from);
  for (const attr of (Object.hasOwn(NAMES_FILE, element.tagName) && NAMES_FILE[element.tagName]) || []) {
    const value = element.attrs.find((one) => (one.prefix ? `${one.prefix}:${one.name}` : one.name) === attr)?.value;
    if (value !== undefined) setAttribute(element, attr.replace(/^xlink:/, ''), packing.address(value, from));
  }
  const srcset = attribute(element, 'srcset');
  if (srcset !== undefined && !srcset.includes('data:')) {
    const sets = srcset.split(',').flatMap((one) => {
      const [file = '', ...size] = one.trim().split(/\s+/);
      const made = packing.address(file, from);
      return made ? [[made, ...size].join(' ')] : [];
    });
    setAttribute(element, 'srcset', sets.join(', '));
  }
  const style = attribute(element, 'style');
  if (style?.includes('url(')) setAttribute(element, 'style', packing.css(style, from));
}

/** Text inside an element that ends at its closing tag. */
const closed = (text: string, tag: 'script' | 'style'): string => text.replace(new RegExp(`</(?=${tag})`, 'gi'), '<\\/');

export interface PackedPage extends PictureFacts {
  bytes: Uint8Array;
}

/**
 * @returns the page as one file, with the window it is laid out in and what it names and lacks.
 * @throws PictureError with what is wrong.
 */
export function packPage(bytes: Uint8Array): PackedPage {
  const files = filesOf(bytes);
  const path = entryOf(files);
  const own = files.get(path) as Uint8Array;
  if (own.byteLength > MOST_HTML_BYTES) throw new PictureError(`has more than ${MOST_HTML_BYTES / MB} MB of HTML`);
  const html = strFromU8(own);
  if (!/<[a-z!]/i.test(html)) throw new PictureError('is not an HTML page');
  const tree = parse(html);
  const packing = new Packing(files);
  const open: [Node, number][] = [[tree, 0]];
  for (let next = open.pop(); next; next = open.pop()) {
    const [node, depth] = next;
    if (depth > MOST_DEPTH) throw new PictureError(`is nested deeper than ${MOST_DEPTH} elements`);
    const inside: Node[] = 'childNodes' in node ? [...node.childNodes] : [];
    if ('content' in node) inside.push(node.content);
    for (const child of inside.reverse()) open.push([child, depth + 1]);
    if ('tagName' in node) packElement(packing, node, path);
  }
  const root = tree.childNodes.find((node) => node.nodeName === 'html') as ElementNode;
  const body = root.childNodes.find((node) => node.nodeName === 'body') as ElementNode | undefined;
  for (const script of body ? packing.waiting : []) {
    remove(script);
    body?.childNodes.push(script);
  }
  const text = serialize(tree);
  const out = strToU8(/^\s*<(?:!doctype|html)/i.test(text) ? text : `<!DOCTYPE html>${text}`);
  if (out.byteLength > MOST_PICTURE_BYTES)
    throw new PictureError(`is larger than ${MOST_PICTURE_BYTES / MB} MB with all that belongs to it`);
  const facts = pageWindow(strToU8(/^\s*<(?:!doctype\s+html|html)/i.test(html) ? html : `<!DOCTYPE html>${html}`)) ?? pageWindow(out);
  if (!facts) throw new PictureError('is not an HTML page');
  return { ...facts, bytes: out, ...(packing.missing.length > 0 && { missing: packing.missing }) };
}
