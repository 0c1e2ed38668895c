/** Which members of a group that floats are there in which of its forms: as ticks, and as the fields of a member. */
import { type Detail, type Document, type Element, inOrder, isMember, type Only } from '@foreshore/document';
import { editElement } from './edits.ts';

/** One form that a member is there in or not: a column of ticks. */
export interface Form {
  key: 'detail' | 'edge' | 'merged';
  /** Of `detail`, its number from 0; of the others whether that holds. */
  value: number | boolean;
}

/** The forms that a group has by its settings; none where it has but one. */
export function formsOf({ place: { detail, edge, many } }: Pick<Element, 'place'>): Form[] {
  const details = detail ? detail.at.length + 1 : 0;
  const both = (key: 'edge' | 'merged'): Form[] => [false, true].map((value) => ({ key, value }));
  return [
    ...Array.from({ length: details }, (_, value): Form => ({ key: 'detail', value })),
    ...(edge ? both('edge') : []),
    ...(many?.mergePx !== undefined ? both('merged') : []),
  ];
}

/** Whether a member is there in a form. */
export const isThereIn = (only: Only | undefined, { key, value }: Form): boolean =>
  key === 'detail' ? (only?.detail?.includes(value as number) ?? true) : only?.[key] === undefined || only[key] === value;

/** What a member's `only` becomes when it is to be there in a form or not; null where it would be there in none. */
export function withForm(only: Only | undefined, { key, value }: Form, there: boolean, details: number): Only | null | undefined {
  const next: Only = { ...only };
  if (key === 'detail') {
    const now = Array.from({ length: details }, (_, k) => k).filter((k) => (k === value ? there : isThereIn(only, { key, value: k })));
    if (now.length === 0) return null;
    if (now.length === details) delete next.detail;
    else next.detail = now;
  } else if (there) delete next[key];
  else if (next[key] === value) return null;
  else next[key] = !value;
  return Object.keys(next).length > 0 ? next : undefined;
}

/** Sets whether a member is there in a form of its group. */
export function setForm(member: string, form: Form, there: boolean, detail: Detail | undefined): void {
  const details = (detail?.at.length ?? 0) + 1;
  editElement('Change in which form it is there', member, (e) => {
    const only = withForm(e.only, form, there, details);
    if (only === null) return e;
    const { only: _, ...rest } = e;
    return (only ? { ...rest, only } : rest) as Element;
  });
}

/** All that is inside of a group, a group before its members, with how deep. */
export function insideOfGroup(document: Document, group: string, depth = 0): { id: string; element: Element; depth: number }[] {
  return inOrder(document.elements).flatMap(([id, element]) =>
    isMember(element.mount) && element.mount.group === group ? [{ id, element, depth }, ...insideOfGroup(document, id, depth + 1)] : [],
  );
}
