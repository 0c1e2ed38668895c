/** Changes to the document that the bench makes, each a recipe and a name for undo. */
import {
  type Anchor,
  barForm,
  type Document,
  type Element,
  freeId,
  inOrder,
  insideOf,
  type Label,
  makeGauge,
  makeGroup,
  makeLabel,
  makeText,
  makeVeil,
  onGlass,
  orderAfter,
  orderBetween,
  pipsForm,
  type Route,
  type RoutePose,
  ringForm,
} from '@foreshore/document';
import { useBench } from '../state/bench.ts';
import { change, useProject } from '../state/project.ts';

/** Replaces one member of a collection; the rest keeps its identity. */
const put = <K extends 'anchors' | 'elements' | 'routes'>(
  document: Document,
  collection: K,
  id: string,
  value: Document[K][string],
): Document => ({
  ...document,
  [collection]: { ...document[collection], [id]: value },
});
const drop = <K extends 'anchors' | 'elements' | 'routes'>(document: Document, collection: K, id: string): Document => {
  const { [id]: _, ...rest } = document[collection];
  return { ...document, [collection]: rest };
};

export const withElement = (document: Document, id: string, edit: (element: Element) => Element): Document => {
  const element = document.elements[id];
  return element ? put(document, 'elements', id, edit(element)) : document;
};
export const withAnchor = (document: Document, id: string, anchor: Anchor): Document =>
  document.anchors[id] ? put(document, 'anchors', id, anchor) : document;

export const editElement = (what: string, id: string, edit: (element: Element) => Element): boolean =>
  change(what, (document) => withElement(document, id, edit));

/** Changes an element of a kind; one of another kind is left alone. */
export const editKind = <K extends Element['kind']>(
  kind: K,
  what: string,
  id: string,
  edit: (element: Extract<Element, { kind: K }>) => Element,
): boolean => editElement(what, id, (element) => (element.kind === kind ? edit(element as Extract<Element, { kind: K }>) : element));

/** What can be put on the glass or into a group. */
export const KINDS = {
  text: 'Text',
  bar: 'Bar',
  ring: 'Ring',
  pips: 'Pips',
  row: 'Row',
  column: 'Column',
  free: 'Free group',
  veil: 'Veil',
} as const;
export type GlassKind = keyof typeof KINDS;

function makeKind(kind: GlassKind, carried: Pick<Label, 'mount' | 'place'>, feed: string | null, order: string): Element {
  switch (kind) {
    case 'text':
      return makeText(carried, 'Text', order);
    case 'bar':
      return makeGauge(carried, KINDS[kind], feed, barForm(), order);
    case 'ring':
      return makeGauge(carried, KINDS[kind], feed, ringForm(), order);
    case 'pips':
      return makeGauge(carried, KINDS[kind], feed, pipsForm(), order);
    case 'veil':
      return makeVeil(KINDS[kind], order);
    default:
      return makeGroup(carried, KINDS[kind], kind, order);
  }
}

/** Puts an element on the glass at a pin, or into a group; selects it. A gauge takes the first feed that is a number. */
export function placeOnGlass(
  kind: GlassKind,
  where: { pin: [number, number]; offsetPx: [number, number] } | { group: string },
): string | null {
  const { document } = useProject.getState();
  if (!document) return null;
  const carried = 'group' in where ? insideOf(where.group) : onGlass(where.pin, where.offsetPx);
  const feed = inOrder(document.feeds).find(([, f]) => f.kind === 'number')?.[0] ?? null;
  const element = makeKind(kind, carried, feed, orderAfter(document.elements));
  const id = freeId(document.elements, element.name);
  if (!change(`Place a ${KINDS[kind].toLowerCase()}`, (d) => put(d, 'elements', id, element))) return null;
  useBench.setState({ selection: id });
  return id;
}

/** Everything inside an element, at any depth. */
export function insideAll(document: Document, id: string): string[] {
  const direct = inOrder(document.elements).filter(([, { mount }]) => mount.kind === 'inside' && mount.group === id);
  return direct.flatMap(([member]) => [member, ...insideAll(document, member)]);
}

/** Moves an element to another place among those it stands beside: `by` places later (nearer to the front) or earlier. */
export function reorder(id: string, by: 1 | -1): void {
  change(by > 0 ? 'Bring forward' : 'Send back', (document) => {
    const element = document.elements[id];
    if (!element) return document;
    const beside = siblings(document, element);
    const at = beside.findIndex(([other]) => other === id);
    const to = at + by;
    if (to < 0 || to >= beside.length) return document;
    const [before, after] =
      by > 0 ? [beside[to]?.[1].order, beside[to + 1]?.[1].order] : [beside[to - 1]?.[1].order, beside[to]?.[1].order];
    return put(document, 'elements', id, { ...element, order: orderBetween(before ?? null, after ?? null) });
  });
}
export function siblings(document: Document, { mount }: Element): [string, Element][] {
  return inOrder(document.elements).filter(([, other]) =>
    mount.kind === 'inside' ? other.mount.kind === 'inside' && other.mount.group === mount.group : other.mount.kind === mount.kind,
  );
}

/** Takes an element into a group, or onto the glass where none is given. */
export function reparent(id: string, group: string | null): void {
  editElement(group ? 'Move into a group' : 'Move onto the glass', id, (element) => ({
    ...element,
    ...(group ? insideOf(group) : onGlass([0, 0], [24, 24])),
    ...(element.size.rule === 'world'
      ? { size: { rule: 'screen', emPx: element.kind === 'label' ? 28 : 1, hideBelowPx: 0, leavePx: 0 } }
      : {}),
  }));
}

/** A label on a new anchor; selects it. Returns its id. */
export function placeLabel(anchorFrom: (name: string, order: string) => Anchor, text: string): string | null {
  const { document } = useProject.getState();
  if (!document) return null;
  const label = makeLabel('', text, orderAfter(document.elements));
  const id = freeId(document.elements, label.name);
  const anchorId = freeId(document.anchors, label.name);
  const done = change('Place a label', (d) => {
    const anchored = put(d, 'anchors', anchorId, anchorFrom(label.name, orderAfter(d.anchors)));
    return put(anchored, 'elements', id, { ...label, mount: { kind: 'floating', anchor: anchorId } });
  });
  if (!done) return null;
  useBench.setState({ selection: id });
  return id;
}

/** Removes an element with all that is inside, and its anchor where nothing else stands on it. */
export function removeElement(id: string): void {
  const element = useProject.getState().document?.elements[id];
  if (!element) return;
  const done = change(`Delete ${element.name}`, (document) => {
    const gone = [id, ...insideAll(document, id)];
    const without = gone.reduce((d, one) => drop(d, 'elements', one), document);
    if (element.mount.kind !== 'floating') return without;
    const { anchor } = element.mount;
    const used =
      Object.values(without.elements).some((e) => e.mount.kind === 'floating' && e.mount.anchor === anchor) ||
      Object.values(without.anchors).some((a) => a.kind === 'midpoint' && (a.first === anchor || a.second === anchor)) ||
      Object.values(without.feeds).some((f) => f.source?.kind === 'distance' && f.source.anchor === anchor);
    return used ? without : drop(without, 'anchors', anchor);
  });
  if (done) useBench.setState({ selection: null, typing: null, openStep: null });
}

export function nudge(id: string, x: number, y: number): void {
  editElement('Move an element', id, (element) => ({
    ...element,
    place: { ...element.place, offsetPx: [element.place.offsetPx[0] + x, element.place.offsetPx[1] + y] },
  }));
}

export type Recorded = Pick<Route, 'poses' | 'feeds' | 'phases'>;

/** Leaves out poses that lie on the straight way between their neighbours within 1 mm and a hundredth of a degree. */
export function thinned(poses: RoutePose[]): RoutePose[] {
  const out: RoutePose[] = [];
  for (const [i, pose] of poses.entries()) {
    const [before, after] = [out.at(-1), poses[i + 1]];
    if (!before || !after) {
      out.push(pose);
      continue;
    }
    const t = (pose.timeS - before.timeS) / (after.timeS - before.timeS);
    const off = Math.hypot(
      ...pose.position.map((v, k) => v - ((before.position[k] as number) * (1 - t) + (after.position[k] as number) * t)),
    );
    const turned =
      1 -
      Math.abs(
        pose.rotation.reduce((sum, v, k) => sum + v * ((before.rotation[k] as number) * (1 - t) + (after.rotation[k] as number) * t), 0),
      );
    if (off > 0.001 || turned > 1e-7) out.push(pose);
  }
  return out;
}

export function addRoute({ poses, feeds, phases }: Recorded): string | null {
  const { document } = useProject.getState();
  if (!document || poses.length < 2) return null;
  let n = 1;
  while (Object.values(document.routes).some((r) => r.name === `Walk ${n}`)) n++;
  const route: Route = { name: `Walk ${n}`, order: orderAfter(document.routes), poses: thinned(poses), feeds, phases };
  const id = freeId(document.routes, route.name);
  return change('Record a route', (d) => put(d, 'routes', id, route)) ? id : null;
}
