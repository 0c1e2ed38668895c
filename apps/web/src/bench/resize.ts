/** Which elements are resized by hand, and what that changes. */
import { gaugeExtent } from '@foreshore/core';
import type { Element } from '@foreshore/document';

/** Width and height in design pixels of what can be resized by hand, or null. */
export function resizable(element: Element): [number, number] | null {
  if (element.kind === 'gauge') return gaugeExtent(element.form);
  if (element.kind === 'group' && element.layout.widthPx !== null && element.layout.heightPx !== null)
    return [element.layout.widthPx, element.layout.heightPx];
  return null;
}

export function resized(element: Element, [w, h]: [number, number]): Element {
  if (element.kind === 'group') return { ...element, layout: { ...element.layout, widthPx: w, heightPx: h } };
  if (element.kind !== 'gauge') return element;
  const { form } = element;
  if (form.kind === 'bar') return { ...element, form: { ...form, widthPx: w, heightPx: h } };
  if (form.kind === 'ring')
    return { ...element, form: { ...form, diameterPx: Math.max(w, h), widthPx: Math.min(form.widthPx, Math.max(w, h) / 2) } };
  return { ...element, form: { ...form, sizePx: form.vertical ? w : h } };
}
