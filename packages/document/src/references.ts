/** What refers to what in a document: everything that is named must be there, of the right kind, and lead nowhere back to itself. */

import * as z from 'zod';
import { GATES } from './gates.ts';
import { anchorsBetween, isAnchored, isMember, isOnPanel, KINDS, MOUNTS, type PanelMount, pointsAt } from './kinds.ts';
import { type Action, type Anchor, type Condition, type Document, documentShape, type Element } from './schema.ts';

type Path = (string | number)[];
/** What a document is looked through with: who refers to what is not there is told of. */
interface Telling {
  doc: Document;
  /** Something is wrong at a path. @param reference it is about what refers to what. */
  fault(path: Path, message: string, reference?: boolean): void;
  /** Tells if an id is not among a collection; gives whether it is. */
  needs(path: Path, collection: keyof Document, id: string): boolean;
  /** Tells if a file that is drawn is not there, or is a page where a picture is meant, or the other way round. */
  drawn(path: Path, id: string, asPage?: boolean): void;
  /** Tells if an anchor that is there has no one place at all times. */
  fixedPlace(path: Path, id: string): void;
}

function telling(doc: Document, ctx: { addIssue(issue: ToldIssue): void }): Telling {
  const fault: Telling['fault'] = (path, message, reference = false) =>
    ctx.addIssue({ code: 'custom', path, message, ...(reference && { params: { reference: true } }) });
  const needs: Telling['needs'] = (path, collection, id) => {
    if (Object.hasOwn((doc[collection] as object | undefined) ?? {}, id)) return true;
    fault(path, `refers to "${id}", which is not among the ${collection}`, true);
    return false;
  };
  return {
    doc,
    fault,
    needs,
    drawn: (path, id, asPage = false) => {
      if (!needs(path, 'pictures', id) || (doc.pictures?.[id]?.type === 'text/html') === asPage) return;
      fault(path, asPage ? `"${id}" is a picture; a page is meant` : `"${id}" is a page; a picture is meant`, true);
    },
    fixedPlace: (path, id) => {
      const kind = doc.anchors[id]?.kind;
      if (kind !== 'nodes' && kind !== 'event') return;
      const message = kind === 'nodes' ? `"${id}" stands at many nodes` : `"${id}" has no place before its event`;
      fault(path, `${message}; one place is needed here`, true);
    },
  };
}

/** What is told of a fault in what refers to what; `params.reference` where something is not there. */
export type ToldIssue = { code: 'custom'; path: Path; message: string; params?: { reference: boolean } };

/** Whether all that is referred to is there and fits. */
export function checkReferences(doc: Document, ctx: { addIssue(issue: ToldIssue): void }): void {
  const t = telling(doc, ctx);
  for (const [id, anchor] of Object.entries(doc.anchors)) checkAnchor(t, id, anchor);
  for (const [id, element] of Object.entries(doc.elements)) checkElement(t, id, element);
  for (const part of ['picture', 'overActing'] as const) {
    const picture = doc.cursor?.[part] ?? null;
    if (picture !== null) t.drawn(['cursor', part], picture);
  }
  const { route: first, selection } = doc.opening ?? {};
  if (first !== undefined) t.needs(['opening', 'route'], 'routes', first);
  if (selection !== undefined) t.needs(['opening', 'selection'], 'elements', selection);
  for (const [id, action] of Object.entries(doc.actions ?? {})) checkAction(t, id, action);
  for (const [clip, { feed }] of Object.entries(doc.level?.clips ?? {})) {
    const at = ['level', 'clips', clip, 'feed'];
    // What is aimed at depends on where the level's nodes are.
    if (t.needs(at, 'feeds', feed) && doc.feeds[feed]?.source?.kind === 'aimed')
      t.fault(at, `"${feed}" follows what is aimed at, which cannot move the level`);
  }
  for (const [id, { source }] of Object.entries(doc.feeds)) {
    if (source?.kind === 'between')
      for (const { anchor, path } of anchorsBetween(source)) {
        const at = ['feeds', id, 'source', ...path];
        if (t.needs(at, 'anchors', anchor)) t.fixedPlace(at, anchor);
      }
    if (source?.kind !== 'distance' && source?.kind !== 'place') continue;
    const at = ['feeds', id, 'source', 'anchor'];
    if (t.needs(at, 'anchors', source.anchor)) t.fixedPlace(at, source.anchor);
  }
  for (const side of ['left', 'right'] as const)
    for (const [part, feed] of Object.entries(doc.ray?.hands?.[side] ?? {})) {
      const at = ['ray', 'hands', side, part];
      if (feed === null || !t.needs(at, 'feeds', feed)) continue;
      const kind = doc.feeds[feed]?.kind;
      if (kind !== 'number') t.fault(at, `"${feed}" is a ${kind}, not a number`);
    }
  for (const [id, viewer] of Object.entries(doc.viewers))
    for (const [i, { route }] of (viewer.kind === 'split' ? viewer.players : []).entries())
      if (route !== null) t.needs(['viewers', id, 'players', i, 'route'], 'routes', route);
  for (const [id, route] of Object.entries(doc.routes)) {
    for (const [i, { feed }] of route.feeds.entries()) t.needs(['routes', id, 'feeds', i, 'feed'], 'feeds', feed);
    for (const [i, { phase }] of route.phases.entries()) t.needs(['routes', id, 'phases', i, 'phase'], 'phases', phase);
  }
}

function checkAnchor(t: Telling, id: string, anchor: Anchor): void {
  const { doc } = t;
  const at = ['anchors', id];
  if (anchor.kind === 'event') {
    if (anchor.feed === null || !t.needs([...at, 'feed'], 'feeds', anchor.feed)) return;
    const kind = doc.feeds[anchor.feed]?.kind;
    if (kind !== 'event') t.fault([...at, 'feed'], `"${anchor.feed}" is a ${kind}, not an event`);
  }
  if (anchor.zone?.kind === 'mesh' && !('node' in anchor ? anchor.node : anchor.kind === 'nodes'))
    t.fault([...at, 'zone'], 'only an anchor on a node has a mesh for its zone');
  if (anchor.kind !== 'midpoint') return;
  for (const end of ['first', 'second'] as const)
    if (t.needs([...at, end], 'anchors', anchor[end])) t.fixedPlace([...at, end], anchor[end]);
  if (leadsBack(doc.anchors, id)) t.fault(at, 'this midpoint depends on itself', true);
}

function checkElement(t: Telling, id: string, element: Element): void {
  const at = ['elements', id];
  checkCarried(t, id, element);
  checkGates(t, at, element);
  if ('source' in element && element.source !== null) t.needs([...at, 'source'], 'feeds', element.source);
  for (const { anchor, path } of pointsAt(element)) {
    const where = [...at, ...path];
    if (t.needs(where, 'anchors', anchor)) t.fixedPlace(where, anchor);
  }
  for (const [path, picture] of picturesOf(element)) t.drawn([...at, ...path], picture, element.kind === 'page');
  const font = element.kind === 'label' ? element.paint.font : undefined;
  // Fonts are named by their family.
  if (font !== undefined && !Object.values(t.doc.fonts ?? {}).some((f) => f.name === font))
    t.fault([...at, 'paint', 'font'], `refers to "${font}", which is not among the fonts`, true);
  if (element.kind === 'instance' && t.needs([...at, 'of'], 'elements', element.of)) {
    const of = t.doc.elements[element.of];
    if (of?.kind !== 'group' || !of.template) t.fault([...at, 'of'], `"${element.of}" is not a template`, true);
    else if (containsItself(t.doc.elements, id)) t.fault([...at, 'of'], 'this instance is inside of its own template', true);
  }
  for (const [path, kind, value] of parameterReferences(t.doc.elements, element))
    if (kind === 'feed') t.needs([...at, ...path], 'feeds', value);
    else t.drawn([...at, ...path], value);
  for (const [i, { feed }] of (element.pointer?.offWhen ?? []).entries()) t.needs([...at, 'pointer', 'offWhen', i, 'feed'], 'feeds', feed);
  for (const when of ['enter', 'leave'] as const) {
    const stage = element.motion?.[when]?.sends ?? null;
    if (stage !== null) t.needs([...at, 'motion', when, 'sends'], 'actions', stage);
  }
  const sends = element.pointer?.action ?? null;
  if (sends !== null) t.needs([...at, 'pointer', 'action'], 'actions', sends);
  for (const phase of Object.keys(element.show?.phases ?? {})) t.needs([...at, 'show', 'phases', phase], 'phases', phase);
  checkConditions(t, element.show?.conditions ?? [], [...at, 'show', 'conditions']);
}

/** No panel has more design pixels a side: what is laid out and painted stays bounded. */
const MOST_PANEL_PX = 20_000;

function checkPanel(t: Telling, at: Path, mount: PanelMount, hasBox: boolean): void {
  if (!hasBox) t.fault([...at, 'mount', 'kind'], 'paint over the screen has no box that could lie on a panel: put it on the HUD');
  mount.sizeM.forEach((lengthM, k) => {
    const px = lengthM * mount.pxPerM;
    if (px > MOST_PANEL_PX)
      t.fault(
        [...at, 'mount', 'sizeM', k],
        `${lengthM} m at ${mount.pxPerM} design pixels a metre are ${Math.round(px)} pixels, more than ${MOST_PANEL_PX}: make it smaller, or its density`,
      );
  });
  if (mount.kind === 'trailing' && mount.leastM > mount.distanceM)
    t.fault([...at, 'mount', 'leastM'], 'the least distance is farther than the distance itself');
}

/** How an element is carried: by an anchor, or inside of a group. */
function checkCarried(t: Telling, id: string, { mount, size, kind }: Element): void {
  const at = ['elements', id];
  if (isAnchored(mount)) t.needs([...at, 'mount', 'anchor'], 'anchors', mount.anchor);
  else if (size.rule === 'world' && !MOUNTS[mount.kind].worldSize && !isMember(mount))
    t.fault([...at, 'size', 'rule'], 'only what stands or floats in the world can have its size in the world');
  if (isOnPanel(mount)) checkPanel(t, at, mount, KINDS[kind].hasBox);
  if (!isMember(mount)) return;
  const path = [...at, 'mount', 'group'];
  if (!t.needs(path, 'elements', mount.group)) return;
  const group = t.doc.elements[mount.group];
  if (group?.kind !== 'group') t.fault(path, `"${mount.group}" is a ${group?.kind}, not a group`);
  else if (insideItself(t.doc.elements, id)) t.fault(path, 'this element is inside itself', true);
}

/** What must be so in the world for an element to show, and what its key sends. */
function checkGates(t: Telling, at: Path, element: Element): void {
  const { mount, about } = element;
  if (about !== undefined && t.needs([...at, 'about'], 'anchors', about)) t.fixedPlace([...at, 'about'], about);
  const to = element.place.span?.to;
  if (to !== undefined && t.needs([...at, 'place', 'span', 'to'], 'anchors', to)) t.fixedPlace([...at, 'place', 'span', 'to'], to);
  const isPattern = element.kind === 'group' && element.template?.only === true;
  const may = isAnchored(mount) || (MOUNTS[mount.kind].gates === 'about' && (about !== undefined || isPattern));
  for (const gate of GATES)
    if (element[gate] !== undefined && !may)
      t.fault(
        [...at, gate],
        isMember(mount)
          ? 'what is inside of a group shows with it: set this on the outermost one'
          : 'what stands on no anchor of its own needs `about` for this, the anchor that it is about',
      );
  if (element.sightline?.to === 'element' && !isAnchored(mount))
    t.fault([...at, 'sightline', 'to'], 'only the box of what floats stands in the world');
  const pressed = element.press?.action ?? (element.kind === 'key' ? element.action : null);
  if (pressed !== null) t.needs([...at, ...(element.press ? ['press'] : []), 'action'], 'actions', pressed);
}

function checkConditions(t: Telling, conditions: readonly Condition[], path: Path): void {
  conditions.forEach((c, i) => {
    if (c.kind === 'group') checkConditions(t, c.conditions, [...path, i, 'conditions']);
    else t.needs([...path, i, 'feed'], 'feeds', c.feed);
  });
}

function checkAction(t: Telling, id: string, { reactions, keys }: Action): void {
  for (const [device, picture] of Object.entries(keys?.pictures ?? {})) t.drawn(['actions', id, 'keys', 'pictures', device], picture);
  reactions.forEach((reaction, i) => {
    const at = ['actions', id, 'reactions', i];
    if ('feed' in reaction) t.needs([...at, 'feed'], 'feeds', reaction.feed);
    if ('phase' in reaction) t.needs([...at, 'phase'], 'phases', reaction.phase);
    if ('element' in reaction) t.needs([...at, 'element'], 'elements', reaction.element);
    if ('action' in reaction) t.needs([...at, 'action'], 'actions', reaction.action);
    for (const [k, { feed }] of reaction.when.entries()) t.needs([...at, 'when', k, 'feed'], 'feeds', feed);
  });
}

/** Every picture an element names, with where it names it. */
export function picturesOf(element: Element): [path: (string | number)[], picture: string][] {
  const out: [(string | number)[], string][] = [];
  const name = (path: (string | number)[], picture: string | null | undefined) => {
    if (picture !== null && picture !== undefined) out.push([path, picture]);
  };
  if (element.kind === 'picture') name(['picture'], element.picture);
  if (element.kind === 'page') name(['page'], element.page);
  if (element.kind === 'crosshair') {
    name(['pictures', 'arm'], element.pictures?.arm);
    name(['pictures', 'middle'], element.pictures?.middle);
  }
  if (element.kind === 'gauge') {
    const { form } = element;
    if (form.kind === 'stages') for (const [i, picture] of form.pictures.entries()) name(['form', 'pictures', i], picture);
    else if (form.kind === 'picture' || form.kind === 'pips') {
      name(['form', 'picture'], form.picture);
      name(['form', 'behind'], form.behind);
    }
  }
  return out;
}

/** Feeds and pictures that parameters have as their values, in a template and in its instances. */
function parameterReferences(
  elements: Record<string, Element>,
  element: Element,
): [path: string[], kind: 'feed' | 'picture', value: string][] {
  const of = element.kind === 'instance' && Object.hasOwn(elements, element.of) ? elements[element.of] : element;
  if (of?.kind !== 'group' || !of.template) return [];
  return Object.entries(of.template.parameters).flatMap(([name, { kind, initial }]): [string[], 'feed' | 'picture', string][] => {
    if (kind !== 'feed' && kind !== 'picture') return [];
    const value = element.kind === 'instance' ? element.values[name] : initial;
    const path = element.kind === 'instance' ? ['values', name] : ['template', 'parameters', name, 'initial'];
    return typeof value === 'string' && value !== '' ? [[path, kind, value]] : [];
  });
}

/** Whether what an instance stands for has that instance in it, directly or through other templates. */
function containsItself(elements: Record<string, Element>, start: string): boolean {
  const within = new Map<string, string[]>();
  for (const [id, { mount }] of Object.entries(elements))
    if (isMember(mount)) within.set(mount.group, [...(within.get(mount.group) ?? []), id]);
  const seen = new Set<string>();
  const first = elements[start];
  const open = first?.kind === 'instance' ? [first.of] : [];
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    if (id === start) return true;
    if (seen.has(id)) continue;
    seen.add(id);
    const element = elements[id];
    if (element?.kind === 'instance') open.push(element.of);
    open.push(...(within.get(id) ?? []));
  }
  return false;
}

function insideItself(elements: Record<string, Element>, start: string): boolean {
  const seen = new Set<string>();
  for (let id: string | null = start; id !== null; ) {
    const mount: Element['mount'] | undefined = Object.hasOwn(elements, id) ? elements[id]?.mount : undefined;
    id = isMember(mount) ? mount.group : null;
    if (id === start) return true;
    if (id !== null && seen.has(id)) return false;
    if (id !== null) seen.add(id);
  }
  return false;
}

function leadsBack(anchors: Record<string, Anchor>, start: string): boolean {
  const seen = new Set<string>();
  const open = [start];
  for (let id = open.pop(); id !== undefined; id = open.pop()) {
    const anchor = Object.hasOwn(anchors, id) ? anchors[id] : undefined;
    if (anchor?.kind !== 'midpoint') continue;
    for (const next of [anchor.first, anchor.second]) {
      if (next === start) return true;
      if (!seen.has(next)) {
        seen.add(next);
        open.push(next);
      }
    }
  }
  return false;
}

/** The shape as JSON Schema (draft 2020-12); what refers to what is checked beyond it. */
export const documentJsonSchema = (): string => `${JSON.stringify(z.toJSONSchema(documentShape, { unrepresentable: 'any' }), null, 2)}\n`;
