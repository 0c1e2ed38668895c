/**
 * A dimensioned drawing of one element, as SVG: its box in what it lies in, the pin or the anchor it hangs on, its own point, what is inside of
 * it, and the lengths that somebody needs to build it. Design pixels.
 */
export interface Drawn {
  widthPx: number;
  heightPx: number;
  /** What is written at its width and its height. */
  says: readonly [string, string];
  /** Size of what it lies in: the screen, or a group; null where it hangs on an anchor. */
  frame: readonly [number, number] | null;
  /** From the frame's top left. */
  left: number;
  top: number;
  /** The pin in the frame; of what hangs on an anchor the anchor. From the same point as `left` and `top`; null where a row or a column places it. */
  pin: readonly [number, number] | null;
  /** Shares of the box. */
  ownPoint: readonly [number, number];
  /** Boxes inside of it, from its top left: left, top, width, height. */
  inside: readonly (readonly [number, number, number, number])[];
}

/** The drawing takes so much without its lengths. */
const MOST_WIDE = 300;
const MOST_HIGH = 170;
/** Room of a row of lengths beneath, and of a column of them beside. */
const ROW = 24;
const COLUMN = 84;
const PAD = 8;
/** A digit of 9 px takes about so much. */
const LETTER_PX = 5;

const short = (v: number): string => String(Number(v.toFixed(2)));
const px = (v: number): string => String(Number(v.toFixed(1)));

export function drawing(of: Drawn): string {
  const { widthPx, heightPx, frame, ownPoint } = of;
  const own = [of.left + ownPoint[0] * widthPx, of.top + ownPoint[1] * heightPx] as const;
  const pin = of.pin ?? own;
  // All that is drawn, whether it lies in its frame or not.
  const xs = [of.left, of.left + widthPx, pin[0], ...(frame ? [0, frame[0]] : [])];
  const ys = [of.top, of.top + heightPx, pin[1], ...(frame ? [0, frame[1]] : [])];
  const [x0, y0] = [Math.min(...xs), Math.min(...ys)];
  const [wide, high] = [Math.max(...xs) - x0, Math.max(...ys) - y0];
  const scale = Math.min(MOST_WIDE / Math.max(wide, 1e-6), MOST_HIGH / Math.max(high, 1e-6), 2);
  const X = (v: number): number => PAD + (v - x0) * scale;
  const Y = (v: number): number => PAD + (v - y0) * scale;
  const [drawnW, drawnH] = [2 * PAD + wide * scale, 2 * PAD + high * scale];
  const box = (kind: string, x: number, y: number, w: number, h: number) =>
    `<rect class="${kind}" x="${short(X(x))}" y="${short(Y(y))}" width="${short(Math.max(1, w * scale))}" height="${short(Math.max(1, h * scale))}"/>`;
  const parts: string[] = [];
  if (frame) parts.push(box('frame', 0, 0, frame[0], frame[1]));
  parts.push(box('box', of.left, of.top, widthPx, heightPx));
  for (const [x, y, w, h] of of.inside) parts.push(box('in', of.left + x, of.top + y, w, h));
  const [px0, py0, ox, oy] = [X(pin[0]), Y(pin[1]), X(own[0]), Y(own[1])];
  if (Math.hypot(ox - px0, oy - py0) > 1) parts.push(`<path class="lead" d="M${short(px0)} ${short(py0)}L${short(ox)} ${short(oy)}"/>`);
  if (of.pin) parts.push(`<path class="pin" d="M${short(px0 - 4)} ${short(py0)}h8M${short(px0)} ${short(py0 - 4)}v8"/>`);
  if (of.pin) parts.push(`<circle cx="${short(ox)}" cy="${short(oy)}" r="2.2"/>`);

  let rows = 0;
  let columns = 0;
  const across = (from: number, to: number, label: string): void => {
    const y = drawnH + 4 + ROW * rows++;
    const [a, b] = [X(Math.min(from, to)), X(Math.max(from, to))];
    const at = Math.max(0, Math.min(a, drawnW + COLUMN - label.length * LETTER_PX));
    parts.push(
      `<path d="M${short(a)} ${short(y - 3)}v6M${short(b)} ${short(y - 3)}v6M${short(a)} ${short(y)}H${short(b)}"/>`,
      `<text x="${short(at)}" y="${short(y + 12)}">${label}</text>`,
    );
  };
  const down = (from: number, to: number, label: string): void => {
    const x = drawnW + 4 + COLUMN * columns++;
    const [a, b] = [Y(Math.min(from, to)), Y(Math.max(from, to))];
    parts.push(
      `<path d="M${short(x - 3)} ${short(a)}h6M${short(x - 3)} ${short(b)}h6M${short(x)} ${short(a)}V${short(b)}"/>`,
      `<text x="${short(x + 6)}" y="${short((a + b) / 2 + 3)}">${label}</text>`,
    );
  };
  across(of.left, of.left + widthPx, of.says[0]);
  down(of.top, of.top + heightPx, of.says[1]);
  if (frame) {
    if (Math.abs(of.left) > 0.05) across(0, of.left, `${px(of.left)} px from the left`);
    if (Math.abs(of.top) > 0.05) down(0, of.top, `${px(of.top)} px`);
  } else {
    if (Math.abs(own[0] - pin[0]) > 0.05) across(pin[0], own[0], `${px(own[0] - pin[0])} px beside`);
    if (Math.abs(own[1] - pin[1]) > 0.05) down(pin[1], own[1], `${px(own[1] - pin[1])} px`);
  }
  const [w, h] = [drawnW + 8 + COLUMN * columns, drawnH + 8 + ROW * rows];
  return `<svg class="drawing" width="${w.toFixed(0)}" height="${h.toFixed(0)}" role="img" aria-label="${of.says.join(' by ')}">${parts.join('')}</svg>`;
}
