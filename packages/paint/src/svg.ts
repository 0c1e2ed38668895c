/** Paints a draw list as an SVG 1.1 document: the same outlines at the same places as on the canvas. */
import { type DrawItem, type DrawList, PATH_CLOSE, PATH_CUBIC, PATH_LINE, PATH_MOVE, type TextBlock } from '@foreshore/core';

const round = (v: number): string => String(Number(v.toFixed(4)));
const escapeXml = (text: string): string => text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);

/** SVG takes six digits and an opacity where the document has eight. */
function colourOf(colour: string, property: 'fill' | 'stroke'): string {
  const alpha = colour.length === 9 ? Number.parseInt(colour.slice(7), 16) / 255 : 1;
  return `${property}="${colour.slice(0, 7)}"${alpha < 1 ? ` ${property}-opacity="${round(alpha)}"` : ''}`;
}

export function pathData(block: TextBlock): string {
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

function itemSvg(item: DrawItem): string {
  const opacity = item.opacity < 1 ? ` opacity="${round(item.opacity)}"` : '';
  if (item.kind === 'line')
    return `<line x1="${round(item.x1)}" y1="${round(item.y1)}" x2="${round(item.x2)}" y2="${round(item.y2)}" ${colourOf(item.colour, 'stroke')} stroke-width="${round(item.widthPx)}" stroke-linecap="round"${opacity}/>`;
  if (item.kind === 'plate')
    return `<rect x="${round(item.x)}" y="${round(item.y)}" width="${round(item.width)}" height="${round(item.height)}" rx="${round(item.radius)}" ${colourOf(item.colour, 'fill')}${opacity}/>`;
  const d = pathData(item.block);
  if (!d) return '';
  const place = `transform="translate(${round(item.x)} ${round(item.y)}) scale(${round(item.emPx)})"`;
  const outline = item.outline
    ? `<path d="${d}" fill="none" ${colourOf(item.outline.colour, 'stroke')} stroke-width="${round((2 * item.outline.widthPx) / item.emPx)}" stroke-linejoin="round"/>`
    : '';
  return `<g ${place}${opacity}>${outline}<path d="${d}" ${colourOf(item.colour, 'fill')}/></g>`;
}

/** Each element is a group with its id and its text as title. */
export function paintSvg(list: DrawList): string {
  const groups: string[] = [];
  let open = '';
  for (const item of list.items) {
    if (item.element !== open) {
      if (open) groups.push('</g>');
      groups.push(`<g id="${escapeXml(item.element)}">`);
      open = item.element;
    }
    if (item.kind === 'text') groups.push(`<title>${escapeXml(item.block.lines.map((line) => line.text).join(' '))}</title>`);
    groups.push(itemSvg(item));
  }
  if (open) groups.push('</g>');
  const { widthPx, heightPx } = list;
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${widthPx}" height="${heightPx}" viewBox="0 0 ${widthPx} ${heightPx}">\n${groups.filter(Boolean).join('\n')}\n</svg>\n`;
}
