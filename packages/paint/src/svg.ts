/** Paints a draw list as an SVG 1.1 document: the same outlines at the same places as on the canvas. */
import {
  type DrawItem,
  type DrawList,
  PATH_CLOSE,
  PATH_CUBIC,
  PATH_LINE,
  PATH_MOVE,
  type PanelItem,
  type PictureItem,
  type ScreenItem,
  type TextBlock,
} from '@foreshore/core';
import { meshTriangles } from './mesh.ts';

const round = (v: number): string => String(Number(v.toFixed(4)));
const escapeXml = (text: string): string =>
  text
    // What XML 1.0 has no place for: texts may hold control characters and halves of pairs.
    .replace(/[^\t\n\r\u0020-\uD7FF\uE000-\uFFFD\u{10000}-\u{10FFFF}]/gu, '')
    .replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** SVG takes six digits and an opacity where the document has eight. */
function colourOf(colour: string, property: 'fill' | 'stroke'): string {
  const alpha = colour.length === 9 ? Number.parseInt(colour.slice(7), 16) / 255 : 1;
  return `${property}="${colour.slice(0, 7)}"${alpha < 1 ? ` ${property}-opacity="${round(alpha)}"` : ''}`;
}

export function pathData(block: Pick<TextBlock, 'ops' | 'coords'>): string {
  const out: string[] = [];
  let k = 0;
  const take = (count: number) => Array.from({ length: count }, () => round(block.coords[k++] as number)).join(' ');
  for (const op of block.ops) {
    if (op === PATH_MOVE) out.push(`M${take(2)}`);
    else if (op === PATH_LINE) out.push(`L${take(2)}`);
    else if (op === PATH_CUBIC) out.push(`C${take(6)}`);
    else if (op === PATH_CLOSE) out.push('Z');
    else out.push(`Q${take(4)}`);
  }
  return out.join('');
}

/** A part of a ring as a path; a whole turn in two halves, since an arc to its own start would be nothing. */
function arcPath({ x, y, radius, fromRad, toRad }: Extract<DrawItem, { kind: 'arc' }>): string {
  const at = (angle: number) => `${round(x + radius * Math.sin(angle))} ${round(y - radius * Math.cos(angle))}`;
  const middle = (fromRad + toRad) / 2;
  const clockwise = toRad > fromRad ? 1 : 0;
  const large = Math.abs(toRad - fromRad) / 2 > Math.PI ? 1 : 0;
  const arc = (angle: number) => `A${round(radius)} ${round(radius)} 0 ${large} ${clockwise} ${at(angle)}`;
  return `M${at(fromRad)}${arc(middle)}${arc(toRad)}`;
}

type Shape = Exclude<DrawItem, { kind: 'clip' | 'unclip' | 'push' | 'pop' | 'screen' | 'picture' | 'panel' | 'endPanel' }>;

/** Pictures by the hash of their bytes, as what an `href` takes: a data address or a file's name; undefined: left out. */
export type SvgPictures = (hash: string) => string | undefined;

/** The colours of a picture as the canvas makes them: saturation after the weights of the Filter Effects module, then the tint. */
function pictureFilter(id: string, { tint, saturation, blurPx }: PictureItem, scaleX: number): string {
  const parts = [];
  if (saturation !== 1) parts.push(`<feColorMatrix type="saturate" values="${round(saturation)}"/>`);
  if (tint) {
    const [r, g, b] = [1, 3, 5].map((k) => round(Number.parseInt(tint.slice(k, k + 2), 16) / 255));
    parts.push(`<feColorMatrix type="matrix" values="${r} 0 0 0 0 0 ${g} 0 0 0 0 0 ${b} 0 0 0 0 0 1 0"/>`);
  }
  if (blurPx > 0) parts.push(`<feGaussianBlur stdDeviation="${round(blurPx * scaleX)}"/>`);
  return parts.length ? `<filter id="${id}" color-interpolation-filters="sRGB">${parts.join('')}</filter>` : '';
}

/** @param n numbers what its filter is called: another one for each picture of a page. */
export function pictureSvg(item: PictureItem, n: number, pictures: SvgPictures): string {
  const href = pictures(item.picture);
  if (href === undefined) return '';
  if (item.mesh) return meshSvg(item, n, href);
  const [sx, sy, sw, sh] = item.from.map(round);
  const opacity = item.opacity < 1 ? ` opacity="${round(item.opacity)}"` : '';
  const filter = pictureFilter(`paint-${n}`, item, item.from[2] / item.width);
  return `${filter}<svg x="${round(item.x)}" y="${round(item.y)}" width="${round(item.width)}" height="${round(item.height)}" viewBox="${sx} ${sy} ${sw} ${sh}" preserveAspectRatio="none"><image width="${round(item.size[0])}" height="${round(item.size[1])}" preserveAspectRatio="none" href="${escapeXml(href)}"${opacity}${filter ? ` filter="url(#paint-${n})"` : ''}/></svg>`;
}

/** A picture on a panel, in triangles; see `meshTriangles`. */
function meshSvg(item: PictureItem, n: number, href: string): string {
  const filter = pictureFilter(`paint-${n}`, item, item.from[2] / item.width);
  const image = `<image id="picture-${n}" width="${round(item.size[0])}" height="${round(item.size[1])}" preserveAspectRatio="none" href="${escapeXml(href)}"${filter ? ` filter="url(#paint-${n})"` : ''}/>`;
  const pieces = meshTriangles(item).map(
    ({ corners, matrix }, k) =>
      `<clipPath id="piece-${n}-${k}"><path d="${polygonPath(corners.flat())}"/></clipPath><g clip-path="url(#piece-${n}-${k})"><use href="#picture-${n}" transform="matrix(${matrix.map(round).join(' ')})"/></g>`,
  );
  return `<g opacity="${round(item.opacity)}">${filter}<defs>${image}</defs>${pieces.join('')}</g>`;
}

/** Paint over what lies behind. Beside a level's picture it blends as on the canvas; a fringe has nothing of its own to draw. */
function screenSvg({ effect, amount, colour }: ScreenItem, n: number, list: DrawList): string {
  const rect = (paint: string, style: string) =>
    `<rect width="${list.widthPx}" height="${list.heightPx}" ${paint} opacity="${round(amount)}"${style && ` style="mix-blend-mode:${style}"`}/>`;
  if (effect === 'desaturate') return rect('fill="#808080"', 'saturation');
  if (effect === 'tint') return rect(colourOf(colour, 'fill'), 'multiply');
  if (effect === 'fringe') return '';
  const stop = (offset: number, alpha: number) => `<stop offset="${offset}" stop-color="${colour.slice(0, 7)}" stop-opacity="${alpha}"/>`;
  const reach = Math.hypot(list.widthPx, list.heightPx) / 2;
  return `<radialGradient id="vignette-${n}" gradientUnits="userSpaceOnUse" cx="${round(list.widthPx / 2)}" cy="${round(list.heightPx / 2)}" r="${round(reach)}">${stop(0.4, 0)}${stop(1, 1)}</radialGradient>${rect(`fill="url(#vignette-${n})"`, '')}`;
}

/** Lines, arcs, plates, shapes and texts with outlines. */
export function itemSvg(item: Shape): string {
  const opacity = item.opacity < 1 ? ` opacity="${round(item.opacity)}"` : '';
  if (item.kind === 'line')
    return `<line x1="${round(item.x1)}" y1="${round(item.y1)}" x2="${round(item.x2)}" y2="${round(item.y2)}" ${colourOf(item.colour, 'stroke')} stroke-width="${round(item.widthPx)}" stroke-linecap="round"${opacity}/>`;
  if (item.kind === 'arc')
    return `<path d="${arcPath(item)}" fill="none" ${colourOf(item.colour, 'stroke')} stroke-width="${round(item.widthPx)}"${opacity}/>`;
  if (item.kind === 'plate' && item.strokePx !== undefined)
    return `<rect x="${round(item.x)}" y="${round(item.y)}" width="${round(item.width)}" height="${round(item.height)}" rx="${round(item.radius)}" fill="none" ${colourOf(item.colour, 'stroke')} stroke-width="${round(item.strokePx)}"${opacity}/>`;
  if (item.kind === 'plate')
    return `<rect x="${round(item.x)}" y="${round(item.y)}" width="${round(item.width)}" height="${round(item.height)}" rx="${round(item.radius)}" ${colourOf(item.colour, 'fill')}${opacity}/>`;
  if (item.kind === 'shape') {
    const path = pathData(item);
    if (!path) return '';
    if (item.strokePx !== undefined)
      return `<path d="${path}" fill="none" ${colourOf(item.colour, 'stroke')} stroke-width="${round(item.strokePx)}" stroke-linejoin="round"${opacity}/>`;
    return `<path d="${path}"${item.evenOdd ? ' fill-rule="evenodd"' : ''} ${colourOf(item.colour, 'fill')}${opacity}/>`;
  }
  const d = pathData(item.block);
  if (!d) return '';
  const place = `transform="translate(${round(item.x)} ${round(item.y)}) scale(${round(item.emPx)})"`;
  const outline = item.outline
    ? `<path d="${d}" fill="none" ${colourOf(item.outline.colour, 'stroke')} stroke-width="${round((2 * item.outline.widthPx) / item.emPx)}" stroke-linejoin="round"/>`
    : '';
  return `<g ${place}${opacity}>${outline}<path d="${d}" ${colourOf(item.colour, 'fill')}/></g>`;
}

/** What of a panel is free of the level, as polygons of pixels, x and y in turn; null where all of it is. */
export type SvgCovers = (panel: PanelItem) => number[][] | null;

const polygonPath = (points: readonly number[]): string =>
  points.map((v, k) => (k % 2 === 0 ? `${k === 0 ? 'M' : 'L'}${round(v)}` : ` ${round(v)}`)).join('') + (points.length > 0 ? 'Z' : '');

/** The group of a panel, cut to what is free of it. */
function panelSvg(panel: PanelItem, n: number, free: number[][] | null): string {
  const name = escapeXml(panel.element);
  if (free === null) return `<g data-panel="${name}">`;
  return `<clipPath id="clip-${n}"><path d="${free.map(polygonPath).join('')}"/></clipPath><g data-panel="${name}" clip-path="url(#clip-${n})">`;
}

/** What an element paints is a group with its id, in pieces where a clip begins or ends within it; a text is the group's title. */
export function paintSvg(list: DrawList, pictures: SvgPictures = () => undefined, covers: SvgCovers = () => null): string {
  const groups: string[] = [];
  let open = '';
  let clips = 0;
  let paints = 0;
  const seen = new Set<string>();
  const close = () => {
    if (open) groups.push('</g>');
    open = '';
  };
  for (const item of list.items) {
    if (item.kind === 'panel' || item.kind === 'endPanel') {
      close();
      if (item.kind === 'endPanel') groups.push('</g>');
      else groups.push(panelSvg(item, ++clips, covers(item)));
      continue;
    }
    if (item.kind === 'clip' || item.kind === 'unclip' || item.kind === 'push' || item.kind === 'pop') {
      close();
      if (item.kind === 'unclip' || item.kind === 'pop') groups.push('</g>');
      else if (item.kind === 'push') groups.push(`<g transform="matrix(${item.matrix.map(round).join(' ')})">`);
      else {
        const { x, y, width, height, radius, path } = item;
        if (path) groups.push(`<clipPath id="clip-${++clips}"><path d="${pathData(path)}"/></clipPath><g clip-path="url(#clip-${clips})">`);
        else
          groups.push(
            `<clipPath id="clip-${++clips}"><rect x="${round(x)}" y="${round(y)}" width="${round(width)}" height="${round(height)}" rx="${round(radius)}"/></clipPath><g clip-path="url(#clip-${clips})">`,
          );
      }
      continue;
    }
    if (item.element !== open) {
      close();
      const id = escapeXml(item.element);
      groups.push(seen.has(id) ? `<g data-element="${id}">` : `<g id="${id}">`);
      seen.add(id);
      open = item.element;
    }
    if (item.kind === 'shape' && item.title !== undefined && item.strokePx === undefined)
      groups.push(`<title>${escapeXml(item.title)}</title>`);
    if (item.kind === 'text') groups.push(`<title>${escapeXml(item.block.lines.map((line) => line.text).join(' '))}</title>`);
    if (item.kind === 'picture') groups.push(pictureSvg(item, ++paints, pictures));
    else if (item.kind === 'screen') groups.push(screenSvg(item, ++paints, list));
    else groups.push(itemSvg(item));
  }
  close();
  const { widthPx, heightPx } = list;
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${widthPx}" height="${heightPx}" viewBox="0 0 ${widthPx} ${heightPx}">\n${groups.filter(Boolean).join('\n')}\n</svg>\n`;
}
