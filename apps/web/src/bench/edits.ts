/** Changes to the document that the bench makes, each a recipe and a name for undo. */
import { type Anchor, type Document, type Element, freeId, makeLabel, orderAfter, type Route, type RoutePose } from '@foreshore/document';
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

/** Removes an element, and its anchor where nothing else stands on it. */
export function removeElement(id: string): void {
  const element = useProject.getState().document?.elements[id];
  if (!element) return;
  const done = change(`Delete ${element.name}`, (document) => {
    const { anchor } = element.mount;
    const without = drop(document, 'elements', id);
    const used =
      Object.values(without.elements).some((e) => e.mount.anchor === anchor) ||
      Object.values(without.anchors).some((a) => a.kind === 'midpoint' && (a.first === anchor || a.second === anchor));
    return used ? without : drop(without, 'anchors', anchor);
  });
  if (done) useBench.setState({ selection: null, typing: null, openStep: null });
}

export function nudge(id: string, x: number, y: number): void {
  editElement('Move a label', id, (element) => ({
    ...element,
    place: { ...element.place, offsetPx: [element.place.offsetPx[0] + x, element.place.offsetPx[1] + y] },
  }));
}

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

export function addRoute(poses: RoutePose[]): string | null {
  const { document } = useProject.getState();
  if (!document || poses.length < 2) return null;
  let n = 1;
  while (Object.values(document.routes).some((r) => r.name === `Walk ${n}`)) n++;
  const route: Route = { name: `Walk ${n}`, order: orderAfter(document.routes), poses: thinned(poses), feeds: [], phases: [] };
  const id = freeId(document.routes, route.name);
  return change('Record a route', (d) => put(d, 'routes', id, route)) ? id : null;
}
