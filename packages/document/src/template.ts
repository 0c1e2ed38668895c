/**
 * Templates: a group that others use again. Where an instance stands, there stands the group with all that is inside,
 * each field that uses a parameter having that parameter's value.
 */
import { freeId } from './make.ts';
import { inOrder } from './order.ts';
import type { Document, Element, Group, Instance } from './schema.ts';

export type ParameterValue = string | number | null;

/** What each parameter of a template is worth in an instance: its own value, or the template's. */
export function parameterValues(template: Group, instance: Pick<Instance, 'values'>): Record<string, ParameterValue> {
  return Object.fromEntries(
    Object.entries(template.template?.parameters ?? {}).map(([name, { initial }]) => [name, instance.values[name] ?? initial]),
  );
}

/** An element with its fields that use parameters set to their values. A value of another kind than the field is left out. */
export function withParameters<E extends Element>(element: E, values: Readonly<Record<string, ParameterValue>>): E {
  if (!element.uses) return element;
  const out: Record<string, unknown> = { ...element };
  for (const [field, name] of Object.entries(element.uses)) {
    const value = values[name];
    if (value === undefined || !(field in element)) continue;
    if ((field === 'empty' || field === 'full') !== (typeof value === 'number')) {
      if (field !== 'text') continue;
      out.text = String(value);
    } else out[field] = value === '' && field !== 'text' ? null : value;
  }
  return out as E;
}

/** The group as it stands where an instance is: carried, shown and moved as the instance says. */
export function standIn(template: Group, instance: Instance): Group {
  const { name, order, mount, show, motion, size, place, view, turnDeg, fit, pointer } = instance;
  const { template: _, show: __, ...rest } = template;
  return {
    ...rest,
    name,
    order,
    mount,
    size,
    place,
    view,
    ...(show && { show }),
    ...(motion ? { motion } : {}),
    ...(turnDeg === undefined ? {} : { turnDeg }),
    ...(fit && { fit }),
    ...(pointer && { pointer }),
    paint: { ...template.paint, opacity: template.paint.opacity * instance.paint.opacity },
  };
}

const membersOf = (document: Document, id: string): [string, Element][] =>
  inOrder(document.elements).filter(([, { mount }]) => mount.kind === 'inside' && mount.group === id);

/** What a copy took along and what it still refers to outside of itself. */
export interface Copied {
  document: Document;
  id: string;
  /** Feeds, actions, anchors and pictures that the copy shares with the original, in words. */
  kept: string[];
}

function outside(document: Document, element: Element): string[] {
  const out: string[] = [];
  const feed = (id: string | null) => id && out.push(`feed ${document.feeds[id]?.name ?? id}`);
  if ('source' in element) feed(element.source);
  if (element.pointer?.action) out.push(`action ${document.actions?.[element.pointer.action]?.name ?? element.pointer.action}`);
  if (element.mount.kind === 'floating') out.push(`anchor ${document.anchors[element.mount.anchor]?.name ?? element.mount.anchor}`);
  if (element.kind === 'picture' && element.picture) out.push(`picture ${document.pictures?.[element.picture]?.name ?? element.picture}`);
  return out;
}

/** Copies an element with all that is inside. What refers to a part of the original refers to that part of the copy. */
export function copyElement(document: Document, id: string, change: (element: Element) => Element = (e) => e): Copied {
  const elements = { ...document.elements };
  const renamed = new Map<string, string>();
  const kept = new Set<string>();
  const copy = (from: string): string => {
    const element = document.elements[from] as Element;
    const to = freeId(elements, element.name);
    renamed.set(from, to);
    const { mount } = element;
    const within = mount.kind === 'inside' ? renamed.get(mount.group) : undefined;
    elements[to] = within && mount.kind === 'inside' ? { ...element, mount: { ...mount, group: within } } : element;
    if (within === undefined) elements[to] = change(elements[to] as Element);
    for (const what of outside(document, element)) kept.add(what);
    for (const [member] of membersOf(document, from)) copy(member);
    return to;
  };
  const made = copy(id);
  return { document: { ...document, elements }, id: made, kept: [...kept] };
}

/** Makes an instance a group of its own, with copies of all that is in its template and the values it had. */
export function detach(document: Document, id: string): Copied | null {
  const instance = document.elements[id];
  const template = instance?.kind === 'instance' ? document.elements[instance.of] : undefined;
  if (instance?.kind !== 'instance' || template?.kind !== 'group') return null;
  const values = parameterValues(template, instance);
  const elements = { ...document.elements };
  const kept = new Set<string>();
  const free = ({ uses: _, ...rest }: Element): Element => rest as Element;
  elements[id] = free(withParameters(standIn(template, instance), values));
  const below = (from: string, into: string): void => {
    for (const [member, element] of membersOf(document, from)) {
      const to = freeId(elements, element.name);
      const mount = { ...element.mount, group: into } as Element['mount'];
      elements[to] = free(withParameters({ ...element, mount }, values));
      for (const what of outside(document, elements[to] as Element)) kept.add(what);
      below(member, to);
    }
  };
  below(instance.of, id);
  return { document: { ...document, elements }, id, kept: [...kept] };
}
