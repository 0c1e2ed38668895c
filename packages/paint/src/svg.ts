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

/** A part of a ring as a path; a whole turn in two halves, since an arc to its own start would be nothing. */
function arcPath({ x, y, radius, fromRad, toRad }: Extract<DrawItem, { kind: 'arc' }>): string {
  const at = (angle: number) => `${round(x + radius * Math.sin(angle))} ${round(y - radius * Math.cos(angle))}`;
  const middle = (fromRad + toRad) / 2;
  const clockwise = toRad > fromRad ? 1 : 0;
  const large = Math.abs(toRad - fromRad) / 2 > Math.PI ? 1 : 0;
  const arc = (angle: number) => `A${round(radius)} ${round(radius)} 0 ${large} ${clockwise} ${at(angle)}`;
  return `M${at(fromRad)}${arc(middle)}${arc(toRad)}`;
}

type Shape = Exclude<DrawItem, { kind: 'clip' } | { kind: 'unclip' }>;

function itemSvg(item: Shape): string {
  const opacity = item.opacity < 1 ? ` opacity="${round(item.opacity)}"` : '';
  if (item.kind === 'line')
    return `<line x1="${round(item.x1)}" y1="${round(item.y1)}" x2="${round(item.x2)}" y2="${round(item.y2)}" ${colourOf(item.colour, 'stroke')} stroke-width="${round(item.widthPx)}" stroke-linecap="round"${opacity}/>`;
  if (item.kind === 'arc')
    return `<path d="${arcPath(item)}" fill="none" ${colourOf(item.colour, 'stroke')} stroke-width="${round(item.widthPx)}"${opacity}/>`;
  if (item.kind === 'plate' && item.strokePx !== undefined)
    return `<rect x="${round(item.x)}" y="${round(item.y)}" width="${round(item.width)}" height="${round(item.height)}" rx="${round(item.radius)}" fill="none" ${colourOf(item.colour, 'stroke')} stroke-width="${round(item.strokePx)}"${opacity}/>`;
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

/** What an element paints is a group with its id, in pieces where a clip begins or ends within it; a text is the group's title. */
export function paintSvg(list: DrawList): string {
  const groups: string[] = [];
  let open = '';
  let clips = 0;
  const seen = new Set<string>();
  const close = () => {
    if (open) groups.push('</g>');
    open = '';
  };
  for (const item of list.items) {
    if (item.kind === 'clip' || item.kind === 'unclip') {
      close();
      if (item.kind === 'unclip') groups.push('</g>');
      else {
        const { x, y, width, height, radius } = item;
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
    if (item.kind === 'text') groups.push(`<title>${escapeXml(item.block.lines.map((line) => line.text).join(' '))}</title>`);
    groups.push(itemSvg(item));
  }
  close();
  const { widthPx, heightPx } = list;
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${widthPx}" height="${heightPx}" viewBox="0 0 ${widthPx} ${heightPx}">\n${groups.filter(Boolean).join('\n')}\n</svg>\n`;
}
