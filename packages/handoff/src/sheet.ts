/**
 * The spec sheet: for every element what somebody needs to build it by hand elsewhere, in the chosen convention. As rows, as CSV, and
 * as one page of HTML that prints well.
 */
import { type Arranged, arrange, type Compiled, compile, type Level, type TextShaper, type Vec3 } from '@foreshore/core';
import { type Document, type Element, isAnchored, isMark, isOnPanel, isPinned } from '@foreshore/document';
import type { Contract } from './contract.ts';
import { type Convention, isRightHanded, lengthOut, pointOut } from './convention.ts';
import { drawing } from './sheet-drawing.ts';

export interface SheetRow {
  id: string;
  name: string;
  kind: Element['kind'];
  mount: string;
  /** The element or the anchor it hangs on, by name. */
  on: string;
  /** In their world and units; null where it has no place of its own, or none yet. */
  place: Vec3 | null;
  /** Of its box at the design size, design pixels; of a panel its own. */
  widthPx: number | null;
  heightPx: number | null;
  /** Of what has a size in the world, in their units. */
  width: number | null;
  height: number | null;
  /** Of what is as large to the eye wherever it is, minutes of arc. */
  widthArcmin: number | null;
  heightArcmin: number | null;
  /** Of its box at the design size, from the top left of what it lies in, design pixels: the screen, or its group; null on an anchor. */
  leftPx: number | null;
  topPx: number | null;
  /** The size of that. */
  frame: readonly [number, number] | null;
  /** Its pin in it; null where a row or a column places it. */
  pinPx: readonly [number, number] | null;
  /** The group it is inside of, by its id. */
  group: string | null;
  /** Shares of the box around it, and of its own box; right and down. */
  pin: string;
  ownPoint: string;
  offsetPx: string;
  order: string;
  rank: number;
  /** In their units: shows within the first, hides beyond the second. */
  range: string;
  shows: string;
  motion: string;
  sends: string;
  paint: string;
  texts: Record<string, string>;
}

const numbers = (list: readonly number[], digits = 3): string => list.map((n) => String(Number(n.toFixed(digits)))).join(', ');

function paintOf(element: Element): string {
  const { paint } = element;
  const told: string[] = [];
  if (paint.opacity !== 1) told.push(`opacity ${paint.opacity}`);
  if (element.kind === 'label') {
    const { colour, weight, lineHeight, align, wrapEm, font } = element.paint;
    told.push(`${colour}, weight ${weight}, lines ${lineHeight} em, ${align}`, ...(wrapEm === null ? [] : [`wraps at ${wrapEm} em`]));
    if (font) told.push(`font ${font}`);
  }
  if ('plate' in paint && paint.plate) told.push(`plate ${JSON.stringify(paint.plate)}`);
  if ('form' in element) told.push(`form ${JSON.stringify(element.form)}`);
  if (element.kind === 'direction' && isMark(element)) {
    const { sizePx, thickPx, holdS, fadeS } = element;
    told.push(`${sizePx} px across, strokes of ${thickPx} px, for ${holdS} s and ${fadeS} s of fading`);
  } else if (element.kind === 'direction') {
    const { sizePx, thickPx, spanDeg, holdS, fadeS, most, joinDeg, growShare, aboveDeg } = element;
    told.push(
      `${sizePx} px across, ${thickPx} px thick, each over ${spanDeg} deg, for ${holdS} s and ${fadeS} s of fading, ${most} at once`,
    );
    told.push(`added up within ${joinDeg} deg, each time ${growShare * 100} % thicker; marked from ${aboveDeg} deg up or down`);
  }
  return told.join('; ');
}

/** In which forms a member is there, and which forms what floats has: its details, and what becomes of many. */
function formsOf({ only, place: { detail, many } }: Element, convention: Convention): string[] {
  const bounds = detail?.at.map((v) => (detail.by === 'distance' ? lengthOut(convention, v) : v)) ?? [];
  const unit = detail?.by === 'distance' ? unitWord(convention) : 'px for a metre';
  return [
    ...(only?.detail ? [`only in detail ${only.detail.map((k) => k + 1).join(', ')}`] : []),
    ...(only?.edge === undefined ? [] : [only.edge ? 'only at the edge of the frame' : 'not at the edge of the frame']),
    ...(only?.merged === undefined ? [] : [only.merged ? 'only standing for several' : 'only standing for itself']),
    ...(detail ? [`details from ${numbers(bounds)} ${unit}, back nearer by ${detail.leaveShare * 100} %`] : []),
    ...(many?.mergePx === undefined ? [] : [`merged with its kind within ${many.mergePx} px`]),
    ...(many?.most ? [`the nearest ${many.most.count} of ${many.most.among === 'all' ? 'all' : 'those shown'}`] : []),
  ];
}

function showsOf(element: Element, document: Document, convention: Convention): string {
  const { show } = element;
  const forms = formsOf(element, convention);
  if (!show) return forms.join('; ') || 'always';
  const phases = Object.entries(show.phases).map(([id, how]) => `${document.phases[id]?.name ?? id}: ${how}`);
  const conditions = show.conditions.length ? [`${show.need} of ${JSON.stringify(show.conditions)}`] : [];
  return [...phases, ...conditions, ...forms, ...(show.lingerS ? [`lingers ${show.lingerS} s`] : [])].join('; ') || 'always';
}

type Sizes = Pick<SheetRow, 'widthPx' | 'heightPx' | 'width' | 'height' | 'widthArcmin' | 'heightArcmin'>;
const UNSIZED: Sizes = { widthPx: null, heightPx: null, width: null, height: null, widthArcmin: null, heightArcmin: null };

/** What floats is laid out in em of its text, or in its own design pixels; how large one of those is, its size says. */
function floatingSize(convention: Convention, [w, h]: readonly [number, number], { size }: Element): Sizes {
  const by = (of: number, k: number): number => Number((of * k).toFixed(4));
  if (!w && !h) return UNSIZED;
  if (size.rule === 'screen') return { ...UNSIZED, widthPx: by(w, size.emPx), heightPx: by(h, size.emPx) };
  if (size.rule === 'angle') return { ...UNSIZED, widthArcmin: by(w, size.emArcmin), heightArcmin: by(h, size.emArcmin) };
  return { ...UNSIZED, width: by(w, lengthOut(convention, size.emM)), height: by(h, lengthOut(convention, size.emM)) };
}

function sizeOf(c: Convention, a: Arranged, row: number, element: Element): Sizes {
  const box = [a.boxes[row * 4 + 2] as number, a.boxes[row * 4 + 3] as number];
  const own = [a.tree.natural[row * 2] as number, a.tree.natural[row * 2 + 1] as number];
  const [w, h] = (box[0] || box[1] ? box : own) as [number, number];
  if (element.mount.kind === 'floating') return floatingSize(c, [w, h], element);
  const px = w || h ? { widthPx: Number(w.toFixed(2)), heightPx: Number(h.toFixed(2)) } : { widthPx: null, heightPx: null };
  if (!isOnPanel(element.mount)) return { ...UNSIZED, ...px };
  const [width, height] = element.mount.sizeM.map((m) => lengthOut(c, m)) as [number, number];
  return { ...UNSIZED, ...px, width, height };
}

/** Where its box and its pin are in what it lies in, at the design size. */
function frameOf(
  { glass }: Document,
  c: Compiled,
  a: Arranged,
  row: number,
  mount: Element['mount'],
): Pick<SheetRow, 'leftPx' | 'topPx' | 'frame' | 'pinPx'> {
  const of = (from: Float64Array, at: number, k: number) => Number((from[at + k] as number).toFixed(2));
  if (row >= 0 && mount.kind === 'glass') {
    const [leftPx, topPx] = [of(a.boxes, row * 4, 0), of(a.boxes, row * 4, 1)];
    return { leftPx, topPx, frame: [glass.widthPx, glass.heightPx], pinPx: [of(a.pins, row * 2, 0), of(a.pins, row * 2, 1)] };
  }
  const up = row < 0 ? -1 : (c.parent[row] as number);
  if (mount.kind !== 'inside' || up < 0) return { leftPx: null, topPx: null, frame: null, pinPx: null };
  // Boxes inside of the whole are told from its top left, which its own box is not.
  const [groupX, groupY] = up === c.root[row] ? [0, 0] : [of(a.boxes, up * 4, 0), of(a.boxes, up * 4, 1)];
  const frame = [of(a.boxes, up * 4, 2), of(a.boxes, up * 4, 3)] as const;
  const group = c.elements[up];
  const pinIn = (padPx: readonly number[], axis: 0 | 1): number => {
    const [before, after] = [padPx[axis] as number, padPx[axis + 2] as number];
    return within(before + (mount.pin[axis] as number) * (frame[axis] - before - after));
  };
  const within = (v: number): number => Number(v.toFixed(2));
  return {
    leftPx: within(of(a.boxes, row * 4, 0) - groupX),
    topPx: within(of(a.boxes, row * 4, 1) - groupY),
    frame,
    pinPx:
      group?.kind === 'group' && group.layout.direction === 'free' ? [pinIn(group.layout.padPx, 0), pinIn(group.layout.padPx, 1)] : null,
  };
}

function rowOf(document: Document, convention: Convention, c: Compiled, a: Arranged, id: string): SheetRow {
  const element = document.elements[id] as Element;
  const row = c.sources.indexOf(id);
  const { mount, place, range, pointer, press, motion } = element;
  const anchored = isAnchored(mount);
  const at = anchored && row >= 0 && row < c.anchoredCount && !c.lost[row] ? (c.elementAnchor[row] as number) : -1;
  const world: Vec3 | null =
    at < 0 ? null : [c.anchorWorld[at * 3] as number, c.anchorWorld[at * 3 + 1] as number, c.anchorWorld[at * 3 + 2] as number];
  const on = anchored ? document.anchors[mount.anchor]?.name : mount.kind === 'inside' ? document.elements[mount.group]?.name : undefined;
  const texts = element.kind === 'label' ? { [document.language]: element.text, ...element.translations } : {};
  const action = press?.action ?? pointer?.action ?? null;
  return {
    id,
    name: element.name,
    kind: element.kind,
    mount: mount.kind === 'glass' ? 'HUD' : mount.kind,
    on: on ?? '',
    place: world && pointOut(convention, world),
    ...(row < 0 ? UNSIZED : sizeOf(convention, a, row, element)),
    ...frameOf(document, c, a, row, mount),
    group: mount.kind === 'inside' ? mount.group : null,
    pin: isPinned(mount) ? numbers(mount.pin) : '',
    ownPoint: numbers(place.ownPoint),
    offsetPx: numbers(place.offsetPx, 1),
    order: element.order,
    rank: place.rank ?? 0,
    range: range ? numbers([lengthOut(convention, range.enterM), lengthOut(convention, range.leaveM)]) : '',
    shows: showsOf(element, document, convention),
    motion: motion ? JSON.stringify(motion) : '',
    sends: action === null ? '' : (document.actions?.[action]?.name ?? action),
    paint: paintOf(element),
    texts,
  };
}

export interface Sheet {
  project: string;
  convention: Convention;
  /** The screen that design pixels are of. */
  design: { widthPx: number; heightPx: number };
  languages: string[];
  rows: SheetRow[];
}

/** @param viewer the one whose boxes are told, by id: the design's own size is taken in place of its resolution. */
export function sheetOf(document: Document, level: Level | null, text: TextShaper, convention: Convention): Sheet {
  const viewer = Object.values(document.viewers).find(({ kind }) => kind === 'screen') ?? Object.values(document.viewers)[0];
  const c = compile(document, level);
  const { widthPx, heightPx } = document.glass;
  const a = viewer && arrange(c, { ...viewer, widthPx, heightPx }, text);
  const ids = Object.keys(document.elements).sort((p, q) => {
    const [rowP, rowQ] = [c.sources.indexOf(p), c.sources.indexOf(q)];
    return rowP - rowQ || (p < q ? -1 : 1);
  });
  return {
    project: document.name,
    convention,
    design: { widthPx, heightPx },
    languages: [document.language, ...(document.languages ?? [])],
    rows: a ? ids.map((id) => rowOf(document, convention, c, a, id)) : [],
  };
}

const COLUMNS = [
  'id',
  'name',
  'kind',
  'mount',
  'on',
  'place',
  'widthPx',
  'heightPx',
  'width',
  'height',
  'widthArcmin',
  'heightArcmin',
  'leftPx',
  'topPx',
  'pin',
  'ownPoint',
  'offsetPx',
  'order',
  'rank',
  'range',
  'shows',
  'motion',
  'sends',
  'paint',
] as const satisfies readonly (keyof SheetRow)[];
const cell = (value: unknown): string => (value === null ? '' : Array.isArray(value) ? numbers(value as number[], 6) : String(value));
// A cell that begins so would be worked out by a spreadsheet.
const csv = (value: string): string => {
  const safe = /^[=+\-@\t\r]/.test(value) && !Number.isFinite(Number(value.split(',')[0])) ? `'${value}` : value;
  return /[",\n\r]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
};

export function sheetCsv({ rows, languages }: Sheet): string {
  const head = [...COLUMNS, ...languages.map((tag) => `text ${tag}`)];
  const lines = rows.map((row) => [...COLUMNS.map((key) => cell(row[key])), ...languages.map((tag) => row.texts[tag] ?? '')]);
  return [head, ...lines]
    .map((line) => line.map(csv).join(','))
    .join('\n')
    .concat('\n');
}

const html = (text: string): string =>
  text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c] as string);

/** Of one world unit, as words. */
export const unitWord = ({ unitsPerMetre }: Convention): string =>
  ({ 1: 'm', 100: 'cm', 1000: 'mm' })[unitsPerMetre] ?? `1/${unitsPerMetre} m`;

/** Width or height in all the units it has; empty where it has none. */
const sizeSays = (px: number | null, units: number | null, arcmin: number | null, unit: string): string =>
  [
    ...(px ? [`${Number(px.toFixed(1))} px`] : []),
    ...(units ? [`${Number(units.toFixed(3))} ${unit}`] : []),
    ...(arcmin ? [`${Number(arcmin.toFixed(1))} arcmin`] : []),
  ].join(', ');
const saysOf = (row: SheetRow, unit: string): [string, string] => [
  sizeSays(row.widthPx, row.width, row.widthArcmin, unit),
  sizeSays(row.heightPx, row.height, row.heightArcmin, unit),
];
/** What has no size in pixels is drawn so high, beside its offset in pixels. */
const NOMINAL_PX = 30;

/** The drawing of a row, with what is inside of it. @param rows of the whole sheet. */
function drawn(row: SheetRow, rows: readonly SheetRow[], unit: string): string {
  const { frame, leftPx, topPx, pinPx } = row;
  const [w, h] = [row.widthPx ?? row.width ?? row.widthArcmin ?? 0, row.heightPx ?? row.height ?? row.heightArcmin ?? 0];
  if (!w || !h) return '';
  const scale = row.heightPx === null ? NOMINAL_PX / h : 1;
  const [widthPx, heightPx] = [w * scale, h * scale];
  const ownPoint = pair(row.ownPoint);
  const offset = pair(row.offsetPx);
  // What floats is laid out in design pixels of its own, whatever they are worth in pixels, in the world, or to the eye.
  const inFrame = ([frameW]: readonly [number, number], ...box: [number, number, number, number]) =>
    box.map((v) => (v * widthPx) / frameW) as [number, number, number, number];
  const inside = rows.flatMap((one): (readonly [number, number, number, number])[] =>
    one.group === row.id && one.frame && one.leftPx !== null && one.topPx !== null && one.widthPx && one.heightPx
      ? [inFrame(one.frame, one.leftPx, one.topPx, one.widthPx, one.heightPx)]
      : [],
  );
  const [left, top] =
    leftPx !== null && topPx !== null ? [leftPx, topPx] : [offset[0] - ownPoint[0] * widthPx, offset[1] - ownPoint[1] * heightPx];
  return drawing({ widthPx, heightPx, says: saysOf(row, unit), frame, left, top, ownPoint, inside, pin: pinPx ?? (frame ? null : [0, 0]) });
}
const pair = (text: string): [number, number] => {
  const [x = 0, y = 0] = text.split(',').map(Number);
  return [x, y];
};

const STYLE = `body{font:14px/1.45 system-ui,sans-serif;margin:2rem auto;max-width:60rem;padding:0 1rem;color:#14202e;background:#fff}
h1{font-size:1.5rem;margin-bottom:.2rem}h2{font-size:1.05rem;margin:1.6rem 0 .3rem;border-top:1px solid #b9c3cd;padding-top:.7rem}
h2 small{font-weight:400;color:#51606f}table{border-collapse:collapse;width:100%}th{text-align:left;font-weight:500;color:#51606f;width:9rem}
th,td{padding:.12rem .6rem .12rem 0;vertical-align:top;overflow-wrap:anywhere}section{break-inside:avoid}svg{display:block;margin:.3rem 0}
svg rect{fill:none;stroke:#9aa8b5}svg .box{fill:#e6eef3;stroke:#28547a}svg .in{stroke:#6f8faa;stroke-dasharray:2 2}svg .frame{fill:#fafbfc}
svg path{stroke:#8a5a00;fill:none}svg .pin{stroke:#b23725;stroke-width:1.4}svg .lead{stroke:#b23725;stroke-dasharray:3 2}svg circle{fill:#28547a}svg text{font-size:9px;fill:#14202e}@media print{body{margin:0;max-width:none}}`;

function page(title: string, body: string): string {
  return `<!doctype html>\n<html lang="en"><meta charset="utf-8"><title>${html(title)}</title><style>${STYLE}</style>\n${body}\n</html>\n`;
}

/** How their world counts, in a sentence. */
export function conventionWords(c: Convention): string {
  return (
    `${isRightHanded(c) ? 'Right' : 'Left'}-handed: ${c.right} to the right, ${c.up} up, ${c.forward} ahead; lengths in ${unitWord(c)}; ` +
    `${c.fov} angle of view, ${c.angles}; quaternions ${c.quaternion.split('').join(', ')}; pixels from the ` +
    `${{ topLeft: 'top left', bottomLeft: 'bottom left', centre: 'centre' }[c.screenOrigin]}, y ${c.screenY}.`
  );
}

export function sheetHtml({ project, convention, design, rows, languages }: Sheet): string {
  const unit = unitWord(convention);
  const lines = (row: SheetRow): [string, string][] => [
    ['Hangs on', row.on],
    [`Anchor, ${unit}`, row.place ? numbers(row.place, 4) : ''],
    ['Size', saysOf(row, unit).filter(Boolean).join(' by ')],
    ['Left, top, px', row.leftPx === null || row.topPx === null ? '' : numbers([row.leftPx, row.topPx], 2)],
    ['Pin', row.pin],
    ['Own point', row.ownPoint],
    ['Offset, px', row.offsetPx === '0, 0' ? '' : row.offsetPx],
    ['Order, rank', `${row.order}, ${row.rank}`],
    [`Range, ${unit}`, row.range],
    ['Shows', row.shows],
    ['Motion', row.motion],
    ['Sends', row.sends],
    ['Paint', row.paint],
    ...languages.map((tag): [string, string] => [`Text, ${tag}`, row.texts[tag] ?? '']),
  ];
  const sections = rows.map(
    (row) =>
      `<section id="${html(row.id)}"><h2>${html(row.name)} <small>${html(`${row.kind}, ${row.mount}`)}</small></h2>${drawn(row, rows, unit)}<table>` +
      lines(row)
        .filter(([, value]) => value !== '')
        .map(([name, value]) => `<tr><th>${html(name)}</th><td>${html(value)}</td></tr>`)
        .join('') +
      '</table></section>',
  );
  return page(
    `${project}: spec sheet`,
    `<h1>${html(project)}</h1><p>${html(conventionWords(convention))} Design pixels are those of ${design.widthPx} x ${design.heightPx}; ` +
      `shares run to the right and down from the top left. In the drawings a cross is the pin or the anchor, a dot the element's own point, dashes what is inside. ${rows.length} elements.</p>${sections.join('\n')}`,
  );
}

/** The contract as a page. */
export function contractHtml({ project, feeds, actions, phases, builtIn, nodes }: Contract): string {
  const table = (head: readonly string[], body: readonly (readonly string[])[]) =>
    `<table><tr>${head.map((h) => `<th>${h}</th>`).join('')}</tr>${body
      .map((row) => `<tr>${row.map((value) => `<td>${html(value)}</td>`).join('')}</tr>`)
      .join('')}</table>`;
  const list = (names: readonly string[]) => names.map((name) => `<code>${html(name)}</code>`).join(', ') || 'none';
  return page(
    `${project}: contract`,
    `<h1>${html(project)}: what the game supplies, and what it hears of</h1>` +
      `<h2>Values the game supplies</h2>${table(
        ['Id', 'Name', 'Kind', 'Unit', 'Range', 'Read by'],
        feeds.map((f) => [
          f.id,
          f.name,
          f.each ? `${f.kind}, of each object` : f.kind,
          f.unit,
          f.range ? f.range.join(' to ') : '',
          f.readers.join(', '),
        ]),
      )}<p>The runtime works out by itself: ${list(builtIn)}.</p>` +
      `<h2>States of the game</h2>${table(
        ['Id', 'Name', 'Takes the input'],
        phases.map((p) => [p.id, p.name, p.takesInput ? 'yes' : '']),
      )}` +
      `<h2>Actions the game hears of</h2>${table(
        ['Id', 'Name', 'Sent by'],
        actions.map((a) => [
          a.id,
          a.name,
          a.senders.map(({ element, target }) => (target ? `${element} at ${target}` : element)).join(', '),
        ]),
      )}` +
      `<h2>Nodes of the level that the interface hangs on</h2><p>${list(nodes)}</p>`,
  );
}
