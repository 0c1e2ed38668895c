/** Changes to the document that the bench makes, each a recipe and a name for undo. */
import { DEFAULT_KEYS } from '@foreshore/core';
import {
  type Anchor,
  anchorsBetween,
  type Document,
  EDGE,
  type Element,
  freeFeedId,
  freeId,
  inOrder,
  insideOf,
  isAnchored,
  isMember,
  KINDS,
  MOUNTS,
  makeInstance,
  makeLabel,
  makePanel,
  makePrompt,
  onGlass,
  openingWithout,
  orderAfter,
  orderBetween,
  type PanelSpot,
  pointsAt,
  type Reaction,
  type Route,
  type RoutePose,
  reparented,
  resizedTree,
  SPAN,
  withoutRoute,
} from '@foreshore/document';
import { useBench } from '../state/bench.ts';
import { change, changeSoon, useProject } from '../state/project.ts';
import { PLACEABLE, type PlaceableKind, withRangeOf } from './placeable.ts';

/** A member of a row or a column is placed by it. */
export const isMovable = (document: Document, { mount }: Element): boolean => {
  const group = isMember(mount) ? document.elements[mount.group] : undefined;
  return group?.kind !== 'group' || group.layout.direction === 'free';
};

/** Whether an element can have gates: it stands by itself, and there is an anchor that they can be about. */
export const isGateable = ({ mount, kind }: Element): boolean => MOUNTS[mount.kind].gates !== 'never' && KINDS[kind].hasBox;

/** Replaces one member of a collection; the rest keeps its identity. */
const put = <K extends 'anchors' | 'elements' | 'feeds' | 'routes'>(
  document: Document,
  collection: K,
  id: string,
  value: Document[K][string],
): Document => ({
  ...document,
  [collection]: { ...document[collection], [id]: value },
});
const drop = <K extends 'anchors' | 'elements' | 'feeds' | 'routes'>(document: Document, collection: K, id: string): Document => {
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

/** Lets the pointer through an element that only blocks it. */
export const ignoreInput = (id: string): boolean =>
  editElement('Ignore input', id, (e) => ({
    ...e,
    pointer: { ...(e.pointer ?? { action: null, padPx: 0, pointed: {}, pressed: {} }), takes: 'passes' },
  }));

/** Puts an element on the HUD at a pin, or into a group; selects it. What needs a feed takes the first of its kind, with its range. */
export function placeOnGlass(
  kind: PlaceableKind,
  where: { pin: [number, number]; offsetPx: [number, number] } | { group: string; pin?: [number, number]; offsetPx?: [number, number] },
): string | null {
  const { document } = useProject.getState();
  if (!document) return null;
  const carried = 'group' in where ? insideOf(where.group, where.pin, where.offsetPx) : onGlass(where.pin, where.offsetPx);
  const { name, make, furnish, reads = 'number' } = PLACEABLE[kind];
  const feed = inOrder(document.feeds).find(([, f]) => f.kind === reads)?.[0] ?? null;
  const element = withRangeOf(document, feed, make({ carried, name, feed, order: orderAfter(document.elements) }));
  const id = freeId(document.elements, element.name);
  const done = change(`Place ${/^[aeio]/i.test(name) ? 'an' : 'a'} ${name.toLowerCase()}`, (d) => {
    const placed = put(d, 'elements', id, element);
    return furnish ? furnish(placed, id) : placed;
  });
  if (!done) return null;
  useBench.setState({ selection: id });
  return id;
}

/** Everything inside an element, at any depth. */
export function insideAll(document: Document, id: string): string[] {
  const direct = inOrder(document.elements).filter(([, { mount }]) => isMember(mount) && mount.group === id);
  return direct.flatMap(([member]) => [member, ...insideAll(document, member)]);
}

/** Whether an element is a member of a row or a column: these are listed and moved as they are read, from their start. */
export function isInLine(document: Document, id: string): boolean {
  const element = document.elements[id];
  const group = element && isMember(element.mount) ? document.elements[element.mount.group] : undefined;
  return group?.kind === 'group' && group.layout.direction !== 'free';
}

/** Moves an element to another place among those it stands beside: `by` places later (nearer to the front) or earlier. */
export function reorder(id: string, by: 1 | -1): void {
  const { document: now } = useProject.getState();
  const [later, earlier] = now && isInLine(now, id) ? ['Move towards the end', 'Move towards the start'] : ['Bring forward', 'Send back'];
  change(by > 0 ? later : earlier, (document) => {
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
    isMember(mount) ? isMember(other.mount) && other.mount.group === mount.group : other.mount.kind === mount.kind,
  );
}

/** Takes an element into a group, or onto the HUD where none is given; `at`: to this place there, else to the top left. */
export function reparent(id: string, group: string | null, at: Pinned | null = null): void {
  change(group ? 'Move into a group' : 'Move onto the HUD', (d) => {
    const moved = withElement(d, id, moveInto);
    // A group is laid out in the design pixels of where it is: there, with all that is in it, as large as it was seen.
    return at?.scale && at.scale !== 1 && d.elements[id]?.kind === 'group' ? resizedTree(moved, id, at.scale) : moved;
  });
  function moveInto(element: Element): Element {
    const { mount, place } = group ? insideOf(group, at?.pin, at?.offsetPx) : onGlass(at?.pin ?? [0, 0], at?.offsetPx ?? [24, 24]);
    const out = reparented(element, mount, place);
    const { size } = out;
    if (!at?.scale || at.scale === 1 || size.rule !== 'screen' || element.kind === 'group') return out;
    return { ...out, size: { ...size, emPx: Math.max(0.05, Number((size.emPx * at.scale).toPrecision(4))) } } as Element;
  }
}

/** Carries an element otherwise in the world, on a new anchor where it needs one. */
export function carryAs(
  id: string,
  { element, anchor }: { element: Element; anchor: { id: string; anchor: Anchor } | null },
  mount: string,
): void {
  change(`Mount: ${mount.toLowerCase()}`, (d) => {
    const anchored = anchor ? put(d, 'anchors', anchor.id, anchor.anchor) : d;
    return withElement(anchored, id, () => element);
  });
}

/** A place in a box: a pin, shares of it, and the offset from there to the same point of the element, design pixels. */
export interface Pinned {
  pin: [number, number];
  offsetPx: [number, number];
  /** By how much a size in design pixels is more there, so that it is seen as large as before. */
  scale?: number;
}

/** A place in the world on which something is put. */
export interface Spot {
  anchorFrom: (name: string, order: string) => Anchor;
  /** A route that comes towards it, where the chosen one does not pass it; null where it does. */
  approach: (document: Document, name: string) => Route | null;
}

/** Puts an anchor at a spot, and an approach where there is need of one: so the band of what stands there is never empty. */
function onSpot(
  d: Document,
  { anchorFrom, approach }: Spot,
  anchorId: string,
  name: string,
  edit: (a: Anchor) => Anchor = (a) => a,
): Document {
  const anchored = put(d, 'anchors', anchorId, edit(anchorFrom(name, orderAfter(d.anchors))));
  const route = approach(d, name);
  return route ? put(anchored, 'routes', freeId(d.routes, route.name), route) : anchored;
}

/** Selects what was placed, and the route that was made towards it. */
function selectPlaced(id: string, before: Document): string {
  const made = Object.keys(useProject.getState().document?.routes ?? {}).find((route) => !before.routes[route]);
  const { pose, info } = useBench.getState();
  // The camera stays where it is until time is moved.
  useBench.setState({ selection: id, ...(made && { route: made, timeS: 0, playing: false, pose: pose ?? info?.pose ?? null }) });
  return id;
}

/** A prompt on a new anchor, in a zone about it, for the action that all prompts send at first; selects it. Returns its id. */
export function placePrompt(spot: Spot, text: string): string | null {
  const { document } = useProject.getState();
  if (!document) return null;
  const anchorId = freeId(document.anchors, text);
  // Not just any action that has a key: that of others does what is theirs.
  const action = 'use';
  const first = document.actions?.[action];
  const { id, made } = makePrompt(document.elements, anchorId, text, action);
  const done = change('Place a prompt', (d) => {
    const actions = first
      ? d.actions
      : { ...d.actions, [action]: { name: 'Use', order: orderAfter(d.actions ?? {}), reactions: [], keys: DEFAULT_KEYS } };
    const anchored = onSpot(d, spot, anchorId, text, (anchor) => ({ ...anchor, zone: { kind: 'sphere', radiusM: 0.4 } }));
    return { ...anchored, elements: { ...d.elements, ...made }, ...(actions && { actions }) };
  });
  if (!done) return null;
  return selectPlaced(id, document);
}

/** A panel on a new anchor; selects it. Returns its id. @param spot where it stands, by its surface. */
export function placePanel(spot: Spot, where: Omit<PanelSpot, 'anchor'>, title: string): string | null {
  const { document } = useProject.getState();
  if (!document) return null;
  const anchorId = freeId(document.anchors, title);
  const { id, made } = makePanel(document.elements, { ...where, anchor: anchorId }, title);
  const done = change('Place a panel', (d) => {
    const anchored = onSpot(d, spot, anchorId, title);
    return { ...anchored, elements: { ...d.elements, ...made } };
  });
  return done ? selectPlaced(id, document) : null;
}

/** A label that stands at the edge of the frame while its anchor is out of view. */
export const placeEdgeMarker = (spot: Spot, text: string): string | null => placeLabel(spot, text, EDGE);

/** A measure line between two new anchors: its length is a feed, which its text names. Selects it. Returns its id. */
export function placeMeasure(first: Spot, second: Spot): string | null {
  const { document } = useProject.getState();
  if (!document) return null;
  const name = 'Measure';
  const label = makeLabel('', '', orderAfter(document.elements));
  const id = freeId(document.elements, name);
  const anchorA = freeId(document.anchors, `${name} from`);
  const done = change('Place a measure line', (d) => {
    const one = onSpot(d, first, anchorA, `${name}, from`);
    const anchorB = freeId(one.anchors, `${name} to`);
    const both = onSpot(one, second, anchorB, `${name}, to`);
    const feed = freeFeedId(both.feeds, name);
    const measured = put(both, 'feeds', feed, {
      ...{ name, order: orderAfter(both.feeds), kind: 'number' as const, unit: 'm', initial: 0 },
      source: { kind: 'between' as const, first: anchorA, second: anchorB, along: 'space' as const },
    });
    return put(measured, 'elements', id, {
      ...label,
      name,
      text: `{${feed}, number, ::.0} m`,
      mount: { kind: 'floating', anchor: anchorA },
      place: { ...label.place, ownPoint: [0.5, 0.5], offsetPx: [0, 0], leader: null, apart: 'stays', span: { ...SPAN, to: anchorB } },
    });
  });
  return done ? selectPlaced(id, document) : null;
}

/** A label on a new anchor; selects it. Returns its id. */
export function placeLabel(spot: Spot, text: string, edge?: Element['place']['edge']): string | null {
  const { document } = useProject.getState();
  if (!document) return null;
  const label = makeLabel('', text, orderAfter(document.elements));
  const id = freeId(document.elements, label.name);
  const anchorId = freeId(document.anchors, label.name);
  const done = change(edge ? 'Place an edge marker' : 'Place a label', (d) => {
    const anchored = onSpot(d, spot, anchorId, label.name);
    return put(anchored, 'elements', id, {
      ...label,
      mount: { kind: 'floating', anchor: anchorId },
      place: { ...label.place, ...(edge && { edge }) },
    });
  });
  if (!done) return null;
  return selectPlaced(id, document);
}

/** A use of a template: on a new anchor, on the glass, or in a group; selects it. */
export function placeInstance(
  of: string,
  where: { spot: Spot } | { pin: [number, number]; offsetPx: [number, number] } | { group: string },
): string | null {
  const { document } = useProject.getState();
  const template = document?.elements[of];
  if (!document || !template) return null;
  const order = orderAfter(document.elements);
  const anchorId = freeId(document.anchors, template.name);
  const carried =
    'group' in where
      ? insideOf(where.group)
      : 'pin' in where
        ? onGlass(where.pin, where.offsetPx)
        : { mount: { kind: 'floating' as const, anchor: anchorId }, place: makeLabel(anchorId, '', order).place };
  const instance = makeInstance(carried, of, template.name, order);
  const id = freeId(document.elements, `${template.name} 2`);
  const done = change(`Use ${template.name}`, (d) => {
    const anchored = 'spot' in where ? onSpot(d, where.spot, anchorId, template.name) : d;
    return put(anchored, 'elements', id, instance);
  });
  if (!done) return null;
  return selectPlaced(id, document);
}

/** A use of a template at the anchor of each of several elements. How many there are now. */
export function instancesAt(of: string, ids: readonly string[]): number {
  let made = 0;
  change(`Use ${useProject.getState().document?.elements[of]?.name ?? of} at each`, (document) => {
    const template = document.elements[of];
    if (!template) return document;
    return ids.reduce((d, id) => {
      const element = d.elements[id];
      if (!isAnchored(element?.mount)) return d;
      const { mount } = element;
      const order = orderAfter(d.elements);
      const instance = makeInstance(
        { mount, place: makeLabel(mount.anchor, '', order).place },
        of,
        `${template.name}: ${element.name}`.slice(0, 200),
        order,
      );
      made++;
      return put(d, 'elements', freeId(d.elements, instance.name), instance);
    }, document);
  });
  return made;
}

/** Removes an element with all that is inside, and its anchor where nothing else stands on it. */
export function removeElement(id: string): void {
  const element = useProject.getState().document?.elements[id];
  if (!element) return;
  const done = change(`Delete ${element.name}`, (document) => {
    const inside = [id, ...insideAll(document, id)];
    // Instances go with their template.
    const instances = Object.entries(document.elements).flatMap(([other, e]) =>
      e.kind === 'instance' && inside.includes(e.of) ? [other] : [],
    );
    const gone = [...inside, ...instances];
    const without = withoutReactionsTo(
      gone,
      openingWithout(
        gone.reduce((d, one) => drop(d, 'elements', one), document),
        { elements: gone },
      ),
    );
    if (!isAnchored(element.mount)) return without;
    const { anchor } = element.mount;
    const used =
      Object.values(without.elements).some(
        (e) =>
          (isAnchored(e.mount) && e.mount.anchor === anchor) ||
          e.about === anchor ||
          e.place.span?.to === anchor ||
          pointsAt(e).some((to) => to.anchor === anchor),
      ) ||
      Object.values(without.anchors).some((a) => a.kind === 'midpoint' && (a.first === anchor || a.second === anchor)) ||
      Object.values(without.feeds).some(
        ({ source }) =>
          ((source?.kind === 'distance' || source?.kind === 'place') && source.anchor === anchor) ||
          (source?.kind === 'between' && anchorsBetween(source).some((end) => end.anchor === anchor)),
      );
    return used ? without : drop(without, 'anchors', anchor);
  });
  if (done) useBench.setState({ selection: null, typing: null, openStep: null });
}

/** What showed, hid or moved an element that is gone is gone, too. */
function withoutReactionsTo(gone: readonly string[], document: Document): Document {
  if (!document.actions) return document;
  const names = (r: Reaction) => (r.kind === 'show' || r.kind === 'motion') && gone.includes(r.element);
  const actions = Object.fromEntries(
    Object.entries(document.actions).map(([id, a]) => [
      id,
      a.reactions.some(names) ? { ...a, reactions: a.reactions.filter((r) => !names(r)) } : a,
    ]),
  );
  return { ...document, actions };
}

export function nudge(id: string, x: number, y: number): void {
  changeSoon('Move an element', (document) =>
    withElement(document, id, (element) => ({
      ...element,
      place: { ...element.place, offsetPx: [element.place.offsetPx[0] + x, element.place.offsetPx[1] + y] },
    })),
  );
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

/** Removes a route; the bench goes on with another. */
export function removeRoute(id: string): void {
  const { document } = useProject.getState();
  const name = document?.routes[id]?.name;
  if (name === undefined || !change(`Remove ${name}`, (d) => withoutRoute(d, id))) return;
  const { route, pose, info } = useBench.getState();
  const [next = ''] = inOrder(useProject.getState().document?.routes ?? {})[0] ?? [];
  // Where the route was the camera stays, and is free.
  if (route === id) useBench.setState({ route: next, timeS: 0, playing: false, pose: pose ?? info?.pose ?? null });
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

/** A route that was worked out, under a name that no other has. Returns its id. */
export function addMadeRoute(wanted: string, { poses, feeds, phases }: Recorded): string | null {
  const { document } = useProject.getState();
  if (!document) return null;
  const taken = new Set(Object.values(document.routes).map((route) => route.name));
  const base = wanted.slice(0, 190);
  let name = base;
  for (let n = 2; taken.has(name); n++) name = `${base} ${n}`;
  const id = freeId(document.routes, name);
  const route: Route = { name, order: orderAfter(document.routes), poses, feeds, phases };
  return change(`Make a route: ${name}`, (d) => put(d, 'routes', id, route)) ? id : null;
}
