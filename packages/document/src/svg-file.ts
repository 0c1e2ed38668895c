/**
 * What an SVG is: how large, and that it can neither run nor reach out, nor grow without bound when it is drawn. A parser reads it,
 * in one pass and in time that grows with its length.
 */
import { SaxesParser, type SaxesTagPlain } from 'saxes';

/** Why a drawing is refused, as the end of a sentence that begins with its name. */
export class SvgError extends Error {}

const MOST_CHARS = 8 * 1024 * 1024;
const MOST_ELEMENTS = 200_000;
const MOST_DEPTH = 256;
/** Elements as drawn, each as often as it is referred to. */
const MOST_DRAWN = 500_000;

const FORBIDDEN: Record<string, string> = {
  script: 'a script',
  foreignobject: 'foreign content',
  iframe: 'foreign content',
  embed: 'foreign content',
  object: 'foreign content',
  handler: 'foreign content',
  listener: 'foreign content',
};
const OUTSIDE = 'something from outside';
const OWN_PICTURE = /^data:image\/(png|jpeg|webp);/;

/** The first characters of every address in a `url(…)`, found by going through the text once. */
function* addressesIn(style: string): Generator<string> {
  for (let at = style.search(/url\(/i); at >= 0; ) {
    let from = at + 4;
    while (from < style.length && /[\s"']/.test(style[from] as string)) from++;
    yield style.slice(from, from + 100);
    const next = style.slice(from).search(/url\(/i);
    at = next < 0 ? -1 : from + next;
  }
}

interface Node {
  id: string | null;
  children: Node[];
  refers: string[];
}

/** @throws SvgError with what is wrong. */
export function readSvg(text: string): { width: string; height: string; viewBox: string } {
  if (text.length > MOST_CHARS) throw new SvgError(`is an SVG of more than ${MOST_CHARS / 1048576} MB`);
  const parser = new SaxesParser({ xmlns: false, position: false });
  const path: Node[] = [];
  const byId = new Map<string, Node>();
  const root: Node = { id: null, children: [], refers: [] };
  let size: { width: string; height: string; viewBox: string } | null = null;
  let count = 0;
  const judge = (text: string, node: Node) => {
    const plain = text.toLowerCase();
    if (plain.includes('javascript:')) throw new SvgError('is an SVG that holds a script in an address');
    if (plain.includes('@import')) throw new SvgError(`is an SVG that holds ${OUTSIDE}`);
    for (const address of addressesIn(text)) {
      if (!address.startsWith('#') && !/^data:image\//i.test(address)) throw new SvgError(`is an SVG that holds ${OUTSIDE}`);
      const id = /^#([^"')\s]+)/.exec(address)?.[1];
      if (id) node.refers.push(id);
    }
  };
  const open = ({ name, attributes }: SaxesTagPlain) => {
    const local = name.slice(name.indexOf(':') + 1).toLowerCase();
    const forbidden = FORBIDDEN[local];
    if (forbidden) throw new SvgError(`is an SVG that holds ${forbidden}`);
    if (++count > MOST_ELEMENTS) throw new SvgError(`is an SVG of more than ${MOST_ELEMENTS} elements`);
    if (path.length >= MOST_DEPTH) throw new SvgError(`is an SVG of elements more than ${MOST_DEPTH} deep`);
    if (size === null) {
      if (local !== 'svg') throw new SvgError('is not a PNG, JPEG, WebP or SVG picture');
      size = { width: attributes.width ?? '', height: attributes.height ?? '', viewBox: attributes.viewBox ?? '' };
    }
    const node: Node = { id: attributes.id ?? null, children: [], refers: [] };
    if (node.id !== null && !byId.has(node.id)) byId.set(node.id, node);
    (path.at(-1) ?? root).children.push(node);
    path.push(node);
    for (const [attribute, value] of Object.entries(attributes)) {
      const key = attribute.slice(attribute.indexOf(':') + 1).toLowerCase();
      if (key.startsWith('on')) throw new SvgError('is an SVG that holds an event handler');
      judge(value, node);
      if (key === 'href' || key === 'src') {
        const address = value.trim();
        if (address.startsWith('#')) node.refers.push(address.slice(1));
        else if (address !== '' && !OWN_PICTURE.test(address)) throw new SvgError(`is an SVG that holds ${OUTSIDE}`);
      }
    }
  };
  parser.on('doctype', () => {
    throw new SvgError('is an SVG that holds entities of its own');
  });
  parser.on('opentag', open);
  parser.on('closetag', () => path.pop());
  parser.on('text', (text) => path.length > 0 && judge(text, path.at(-1) as Node));
  parser.on('cdata', (text) => path.length > 0 && judge(text, path.at(-1) as Node));
  parser.on('error', (error) => {
    throw new SvgError(size === null ? 'is not a PNG, JPEG, WebP or SVG picture' : `is an SVG that is not well-formed: ${error.message}`);
  });
  parser.write(text.replace(/^\uFEFF/, '')).close();
  if (size === null) throw new SvgError('is not a PNG, JPEG, WebP or SVG picture');
  if (drawnCount(root, byId) > MOST_DRAWN)
    throw new SvgError(`is an SVG that draws more than ${MOST_DRAWN} elements, each as often as it is used`);
  return size;
}

/** How many elements are drawn where every reference draws what it refers to once more; infinite where one refers to itself. */
function drawnCount(root: Node, byId: ReadonlyMap<string, Node>): number {
  const known = new Map<Node, number>();
  const under = new Set<Node>();
  // Without recursion: a node is counted once all that it draws is.
  const stack: Node[] = [root];
  while (stack.length > 0) {
    const node = stack.at(-1) as Node;
    if (known.has(node)) {
      stack.pop();
      continue;
    }
    const needs = [...node.children, ...node.refers.flatMap((id) => byId.get(id) ?? [])];
    if (under.has(node)) {
      known.set(
        node,
        needs.reduce((sum, need) => sum + (known.get(need) ?? Number.POSITIVE_INFINITY), 1),
      );
      under.delete(node);
      stack.pop();
      continue;
    }
    under.add(node);
    for (const need of needs) {
      if (under.has(need)) return Number.POSITIVE_INFINITY;
      if (!known.has(need)) stack.push(need);
    }
  }
  return known.get(root) ?? 0;
}
