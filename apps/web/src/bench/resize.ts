/** Which elements are resized by hand, and what that changes. */
import { extentOf } from '@foreshore/core';
import type { Element } from '@foreshore/document';

/** Width and height in design pixels of what can be resized by hand, or null. */
export function resizable(element: Element): [number, number] | null {
  if (element.kind === 'gauge' || element.kind === 'picture' || element.kind === 'toggle' || element.kind === 'slider')
    return extentOf(element);
  if (element.kind === 'group' && element.layout.widthPx !== null && element.layout.heightPx !== null)
    return [element.layout.widthPx, element.layout.heightPx];
  return null;
}

export function resized(element: Element, [w, h]: [number, number]): Element {
  if (element.kind === 'group') return { ...element, layout: { ...element.layout, widthPx: w, heightPx: h } };
  if (element.kind === 'picture' || element.kind === 'toggle' || element.kind === 'slider') return { ...element, widthPx: w, heightPx: h };
  if (element.kind !== 'gauge') return element;
  const { form } = element;
  if (form.kind === 'ring')
    return { ...element, form: { ...form, diameterPx: Math.max(w, h), widthPx: Math.min(form.widthPx, Math.max(w, h) / 2) } };
  if (form.kind !== 'pips') return { ...element, form: { ...form, widthPx: w, heightPx: h } };
  return { ...element, form: { ...form, sizePx: form.vertical ? w : h } };
}
