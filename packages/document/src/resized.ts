/** A group laid out larger or smaller with all that is in it. */
import { isMember, KINDS } from './kinds.ts';
import type { Document, Element } from './schema.ts';

/** In pixels of the picture that is painted, not of the design. */
const OTHERS = new Set(['cornersPx']);
/** As finely as fields show them. */
const rounded = (v: number): number => Number(v.toPrecision(6));

/** Every length in design pixels, times a factor: fields say their unit in their names. */
function scaled(value: unknown, factor: number, key = ''): unknown {
  if (typeof value === 'number') return key.endsWith('Px') || key === 'cornerScale' ? rounded(value * factor) : value;
  if (Array.isArray(value)) return value.map((one) => scaled(one, factor, typeof one === 'number' ? key : ''));
  if (value === null || typeof value !== 'object') return value;
  return Object.fromEntries(Object.entries(value).map(([name, one]) => [name, OTHERS.has(name) ? one : scaled(one, factor, name)]));
}

/** One element, laid out so many times as large. Of what is sized by its letters, these; of all else, its lengths. */
function resizedElement(element: Element, factor: number): Element {
  const out = scaled({ ...element, size: null, view: null }, factor) as Element;
  const { size } = element;
  // What shrinks with its room, or is tied to the world, has a size that is none of the group's.
  const own = KINDS[element.kind].size === 'em' && size.rule === 'screen' ? { ...size, emPx: rounded(size.emPx * factor) } : size;
  return { ...out, size: own, view: element.view };
}

/**
 * A document in which a group is laid out so many times as large, with all that is in it: it is seen as before where a design pixel
 * is that much smaller. Where it lies itself stays. What instances show belongs to their templates and stays as it is.
 */
export function resizedTree(document: Document, id: string, factor: number): Document {
  const elements = { ...document.elements };
  const within = (of: string): void => {
    for (const [member, element] of Object.entries(document.elements))
      if (isMember(element.mount) && element.mount.group === of) {
        elements[member] = resizedElement(element, factor);
        within(member);
      }
  };
  const own = elements[id];
  if (!own) return document;
  const { mount, place } = own;
  elements[id] = { ...resizedElement(own, factor), mount, place } as Element;
  within(id);
  return { ...document, elements };
}
