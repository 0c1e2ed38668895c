/** Which elements are resized by hand, by which of their edges, and what that changes. */
import { extentOf } from '@foreshore/core';
import { type Element, isOnPanel, KINDS } from '@foreshore/document';

/** Which edges a handle drags: −1 the left or upper one, 1 the right or lower one, 0 none. */
export type Handle = readonly [-1 | 0 | 1, -1 | 0 | 1];

const ALL: readonly Handle[] = [
  [-1, -1],
  [0, -1],
  [1, -1],
  [1, 0],
  [1, 1],
  [0, 1],
  [-1, 1],
  [-1, 0],
];
const LEAST_PX = 4;

/** The handles an element has. The height of a text follows from its room. */
export function handlesOf(element: Element): readonly Handle[] {
  if (isOnPanel(element.mount)) return ALL;
  const { resizes } = KINDS[element.kind];
  if (resizes === 'textBox') return element.kind === 'label' && element.room ? ALL.filter(([, y]) => y === 0) : [];
  return resizes === 'none' ? [] : ALL;
}

/** With another width, another height, or both; null leaves one as it is. Design pixels. */
function withSize(element: Element, w: number | null, h: number | null): Element {
  if (isOnPanel(element.mount)) {
    const { sizeM, pxPerM } = element.mount;
    const metres = (px: number) => Math.max(0.01, Number((px / pxPerM).toFixed(3)));
    return { ...element, mount: { ...element.mount, sizeM: [w === null ? sizeM[0] : metres(w), h === null ? sizeM[1] : metres(h)] } };
  }
  if (element.kind === 'label') return element.room && w !== null ? { ...element, room: { ...element.room, widthPx: w } } : element;
  if (element.kind === 'group') {
    const { layout } = element;
    return { ...element, layout: { ...layout, widthPx: w ?? layout.widthPx, heightPx: h ?? layout.heightPx } };
  }
  if (element.kind === 'key') return { ...element, heightPx: h ?? w ?? element.heightPx };
  if (element.kind === 'picture' || element.kind === 'toggle' || element.kind === 'slider')
    return { ...element, widthPx: w ?? element.widthPx, heightPx: h ?? element.heightPx };
  if (element.kind !== 'gauge') return element;
  const { form } = element;
  if (form.kind === 'ring') {
    const diameterPx = Math.max(w ?? 0, h ?? 0);
    return { ...element, form: { ...form, diameterPx, widthPx: Math.min(form.widthPx, diameterPx / 2) } };
  }
  if (form.kind === 'pips') {
    const sizePx = form.vertical ? (w ?? form.sizePx) : (h ?? form.sizePx);
    return { ...element, form: { ...form, sizePx } };
  }
  return { ...element, form: { ...form, widthPx: w ?? form.widthPx, heightPx: h ?? form.heightPx } };
}

/**
 * The element with a handle dragged by so many design pixels, right and down on the screen. The opposite edge stays where
 * it is: where the element has a place of its own, its offset takes up what its own point would move.
 * @param size how large it is before, design pixels.
 * @param placed its offset counts (it is not a member of a row or a column).
 */
export function resizedBy(
  element: Element,
  size: readonly [number, number],
  [hx, hy]: Handle,
  [dx, dy]: readonly [number, number],
  placed: boolean,
): Element {
  // A panel is turned with its own pixels.
  const turn = isOnPanel(element.mount) ? 0 : ((element.turnDeg ?? 0) * Math.PI) / 180;
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const along = [dx * cos + dy * sin, dy * cos - dx * sin] as const;
  const wanted = ([hx, hy] as const).map((side, k) =>
    side === 0 ? null : Math.max(LEAST_PX, Math.round((size[k] as number) + side * (along[k] as number))),
  ) as [number | null, number | null];
  const out = withSize(element, ...wanted);
  if (!placed) return out;
  const now = out.kind === 'gauge' || out.kind === 'key' ? extentOf(out) : ([wanted[0] ?? size[0], wanted[1] ?? size[1]] as const);
  const { ownPoint, offsetPx } = element.place;
  const [x, y] = ([hx, hy] as const).map((side, k) => {
    const grown = (now[k] as number) - (size[k] as number);
    return side < 0 ? ((ownPoint[k] as number) - 1) * grown : (ownPoint[k] as number) * grown;
  }) as [number, number];
  const round = (v: number) => Number(v.toFixed(2));
  return { ...out, place: { ...out.place, offsetPx: [round(offsetPx[0] + x * cos - y * sin), round(offsetPx[1] + x * sin + y * cos)] } };
}
