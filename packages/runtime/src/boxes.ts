/**
 * Paints a runtime's frame as elements of a page: plates as boxes, letters as texts, panels as boxes turned into their planes, under an
 * element of the host's. What belongs to one element of the interface is one box with its id, so that a style sheet can reach it.
 * What stays the same from frame to frame is not touched.
 */
import {
  type DrawItem,
  type DrawList,
  drawPanelsApart,
  MapAt,
  mapAt,
  PanelAt,
  type PlateItem,
  type ScreenItem,
  type TextItem,
} from '@foreshore/core';
import { itemSvg, pathData, pictureSvg, type SvgPictures } from '@foreshore/paint';
import type { Runtime } from './runtime.ts';

/** What a place of the page shall hold: a box with other boxes, or a drawing. */
interface Wanted {
  css: string;
  /** The element of the interface that it belongs to. */
  element?: string;
  /** A drawing, as SVG without its outer element. */
  svg?: string;
  kids?: Wanted[];
}

const SVG = 'http://www.w3.org/2000/svg';
const round = (v: number): number => Number(v.toFixed(3));
const ALL = 'position:absolute;left:0;top:0;width:100%;height:100%';
const DRAWING = 'position:absolute;left:0;top:0;width:1px;height:1px;overflow:visible';
const escaped = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
const box = ({ x, y, width, height }: Pick<PlateItem, 'x' | 'y' | 'width' | 'height'>): string =>
  `position:absolute;box-sizing:border-box;left:${round(x)}px;top:${round(y)}px;width:${round(width)}px;height:${round(height)}px`;

function plate(item: PlateItem): Wanted {
  const { strokePx, colour, radius, opacity } = item;
  if (strokePx === undefined)
    return { css: `${box(item)};border-radius:${round(radius)}px;background:${colour};opacity:${round(opacity)}` };
  // A stroke runs along the middle of its outline, a border inside of its box.
  const [half, r] = [strokePx / 2, radius > 0 ? radius + strokePx / 2 : 0];
  const outer = { x: item.x - half, y: item.y - half, width: item.width + strokePx, height: item.height + strokePx };
  return { css: `${box(outer)};border-radius:${round(r)}px;border:${round(strokePx)}px solid ${colour};opacity:${round(opacity)}` };
}

/** Paint over what lies behind `root`, as far as that blends with it. */
function screenCss({ effect, amount, colour }: ScreenItem): string {
  const opacity = `opacity:${round(amount)}`;
  if (effect === 'desaturate') return `background:#808080;mix-blend-mode:saturation;${opacity}`;
  if (effect === 'tint') return `background:${colour};mix-blend-mode:multiply;${opacity}`;
  if (effect === 'vignette')
    return `background:radial-gradient(circle farthest-corner,${colour.slice(0, 7)}00 40%,${colour} 100%);${opacity}`;
  return '';
}

/** Letters that the host's own canvas measured are texts on their baselines; those with outlines are drawn, and named. */
function textSvg(item: TextItem): string {
  const { block, x, y, emPx, colour, outline, opacity } = item;
  if (block.font === undefined)
    return `<g role="img" aria-label="${escaped(block.lines.map(({ text }) => text).join(' '))}">${itemSvg(item)}</g>`;
  const stroke = outline
    ? `;paint-order:stroke;stroke:${outline.colour};stroke-width:${round(2 * outline.widthPx)}px;stroke-linejoin:round`
    : '';
  const font = block.font.replace(' 1px ', ` ${round(emPx)}px `);
  return block.lines
    .map(
      ({ text, xEm, baselineEm, widthEm }) =>
        `<text x="${round(x + xEm * emPx)}" y="${round(y + baselineEm * emPx)}" textLength="${round(widthEm * emPx)}" style="${escaped(`font:${font};white-space:pre;fill:${colour};opacity:${round(opacity)}${stroke}`)}">${escaped(text)}</text>`,
    )
    .join('');
}

/** Draws the items as boxes, those of one element in one, clips and moved parts as boxes around what is inside. */
function boxesOf(list: DrawList, pictures: SvgPictures, number: () => number): Wanted[] {
  const stack: Wanted[][] = [[]];
  const last = (): Wanted[] => stack.at(-1) as Wanted[];
  const within = (css: string): void => {
    const kids: Wanted[] = [];
    last().push({ css, kids });
    stack.push(kids);
  };
  const own = (item: DrawItem, wanted: Wanted): void => {
    const before = last().at(-1);
    if (before?.element === item.element) before.kids?.push(wanted);
    else last().push({ css: ALL, element: item.element, kids: [wanted] });
  };
  for (const item of list.items)
    switch (item.kind) {
      case 'clip': {
        const { x, y, width, height, radius } = item;
        const [right, bottom] = [list.widthPx - x - width, list.heightPx - y - height];
        within(
          item.path
            ? `${ALL};clip-path:path("${pathData(item.path)}")`
            : `${ALL};clip-path:inset(${round(y)}px ${round(right)}px ${round(bottom)}px ${round(x)}px round ${round(radius)}px)`,
        );
        break;
      }
      case 'push':
        within(`${ALL};transform-origin:0 0;transform:matrix(${item.matrix.map((v) => Number(v.toFixed(6))).join()})`);
        break;
      case 'unclip':
      case 'pop':
        stack.pop();
        break;
      case 'panel':
      case 'endPanel':
        break;
      case 'plate':
        own(item, plate(item));
        break;
      case 'text':
        own(item, { css: DRAWING, svg: textSvg(item) });
        break;
      case 'picture':
        own(item, { css: DRAWING, svg: pictureSvg(item, number(), pictures) });
        break;
      case 'screen':
        own(item, { css: `${ALL};${screenCss(item)}` });
        break;
      default:
        own(item, { css: DRAWING, svg: itemSvg(item) });
    }
  return stack[0] as Wanted[];
}

/** What a place of the page holds. */
interface Held {
  node: HTMLElement | SVGElement;
  css: string;
  element: string | undefined;
  svg: string | undefined;
  kids: Held[];
}

function bring(parent: Element, held: Held[], wanted: readonly Wanted[]): void {
  wanted.forEach(({ css, element, svg, kids = [] }, k) => {
    let now = held[k];
    if (!now || (now.svg === undefined) !== (svg === undefined)) {
      const node = svg === undefined ? parent.ownerDocument.createElement('div') : parent.ownerDocument.createElementNS(SVG, 'svg');
      if (now) now.node.replaceWith(node);
      else parent.append(node);
      now = held[k] = { node, css: '', element: undefined, svg: svg === undefined ? undefined : '', kids: [] };
    }
    if (now.css !== css) now.node.style.cssText = now.css = css;
    if (now.element !== element) {
      now.element = element;
      if (element === undefined) delete now.node.dataset.element;
      else now.node.dataset.element = element;
    }
    if (svg === undefined) bring(now.node, now.kids, kids);
    else if (now.svg !== svg) now.node.innerHTML = now.svg = svg;
  });
  for (const { node } of held.splice(wanted.length)) node.remove();
}

let lists = 0;

/**
 * A frame as boxes of a page. One pixel of the runtime's picture is one CSS pixel of `root`, from its top left: where the picture is
 * shown at another size, `root` is scaled. Nothing is covered by the level; panels that unfold are not folded, and those that cross
 * are not cut; a fringe of colours paints nothing.
 */
export class Boxes {
  private readonly held: Held[] = [];
  // What drawings refer to has names that are the page's own.
  private readonly first = lists++ * 1e6;

  /** @param pictures where a picture is, by the hash of its bytes, as an `href` takes it; undefined: left out. */
  constructor(
    private readonly runtime: Runtime,
    private readonly root: HTMLElement,
    private readonly pictures: SvgPictures = () => undefined,
  ) {}

  /** Brings the page up to the runtime's last frame. */
  paint(): void {
    let n = this.first;
    const number = (): number => ++n;
    const { f } = this.runtime.solver;
    const { rest, panels } = drawPanelsApart(this.runtime.solver);
    const wanted: Wanted[] = [];
    let from = 0;
    const upTo = (to: number): void => {
      wanted.push(...boxesOf({ ...rest, items: rest.items.slice(from, to) }, this.pictures, number));
      from = to;
    };
    for (const { panel, items, before } of panels) {
      upTo(before);
      const at = panel * PanelAt.Stride;
      const [widthPx, heightPx] = [f.panels[at + PanelAt.WidthPx] as number, f.panels[at + PanelAt.HeightPx] as number];
      const matrix = inPlane(f.maps, mapAt(f, panel), widthPx, heightPx);
      if (!matrix) continue;
      wanted.push({
        css: `position:absolute;left:0;top:0;width:${round(widthPx)}px;height:${round(heightPx)}px;transform-origin:0 0;transform:matrix3d(${matrix.join()})`,
        kids: boxesOf({ space: 'screen', widthPx, heightPx, items }, this.pictures, number),
      });
    }
    upTo(rest.items.length);
    bring(this.root, this.held, wanted);
  }

  /** Takes everything out of the page. */
  clear(): void {
    bring(this.root, this.held, []);
  }
}

/** A panel's map to the picture as a matrix of CSS, column by column; null where it is seen from behind, or from its own plane. */
function inPlane(maps: Float64Array, at: number, widthPx: number, heightPx: number): number[] | null {
  const row = (first: MapAt): [number, number, number] => [0, 1, 2].map((k) => maps[at + first + k] as number) as never;
  const [x, y, w] = [row(MapAt.X), row(MapAt.Y), row(MapAt.W)];
  const of = (r: readonly [number, number, number], u: number, v: number): number => r[0] * u + r[1] * v + r[2];
  // The sense in which its corners run, homogeneously: three of them suffice, and need not be in front.
  const corners = [
    [0, 0],
    [widthPx, 0],
    [0, heightPx],
  ].map(([u, v]) => [x, y, w].map((r) => of(r, u as number, v as number)));
  const [a, b, c] = corners as [number[], number[], number[]];
  const turn = det(a, b, c);
  // All numbers in reach of single precision: only their ratios count.
  const scale = 1 / Math.max(...w.map(Math.abs), ...[x, y].flatMap((r) => r.map((v) => Math.abs(v) / 1000)));
  if (!(turn > 0) || !Number.isFinite(scale)) return null;
  return [x[0], y[0], 0, w[0], x[1], y[1], 0, w[1], 0, 0, 1, 0, x[2], y[2], 0, w[2]].map((v, k) =>
    k === 10 ? v : Number((v * scale).toPrecision(9)),
  );
}

const det = (a: readonly number[], b: readonly number[], c: readonly number[]): number => {
  const [ax, ay, aw] = a as [number, number, number];
  const [bx, by, bw] = b as [number, number, number];
  const [cx, cy, cw] = c as [number, number, number];
  return ax * (by * cw - bw * cy) - ay * (bx * cw - bw * cx) + aw * (bx * cy - by * cx);
};
