/**
 * What depends on the viewer, the language and the feeds' values but not on the camera: the lens in pixels, the fit, the
 * text of every element as outlines, the boxes of the glass and of groups, and all settings that steps need of what
 * floats as flat tables in the viewer's own pixels.
 *
 * `settings` has `Setting.Stride` numbers for each set of settings that differs from the others: what is alike, as labels of one
 * style are, shares a row and stays in the cache. `settingsOf` gives each element's; only its extent is its own.
 */
import {
  type ElementKind,
  type ElementOf,
  isAnchored,
  isMember,
  isOnHud,
  isOnPanel,
  KINDS,
  type PanelMount,
} from '@foreshore/document/kinds';
import type { Device, Element, FeedValue, GaugeForm, Key, Label, Viewer } from '@foreshore/document/types';
import { type Compiled, valueIndex } from './compiled.ts';
import { sizeByShare } from './crosshair-share.ts';
import { type Edges, edgesFor } from './edges.ts';
import { sameValue } from './feed-value.ts';
import { withHudOnPanel } from './headset.ts';
import { finished } from './in-parts.ts';
import { actionOfKey, CAP_EM, CAP_PAD, keyLabel, keysOf } from './keys.ts';
import { measure, pinned, place, stretchesOf, type Tree, wanted } from './layout/tree.ts';
import { limitOfTarget } from './reach.ts';
import { type Settings, settingsFor } from './settings.ts';
import { type Projection, pixelsPerMetre } from './spaces/lens.ts';
import { type Box, clampSpan, type EyePoint, fitScale, scaleForAngle } from './spaces/screen.ts';
import { type EyeView, ownPart, type Sight, sightOf } from './spaces/sight.ts';
import { directionOf, messageFor, type TextBlock, type TextRequest, type TextShaper, translationIn } from './text.ts';
import { initialValues, type Values } from './values.ts';

/** Columns of `extents`: the whole box, plate included, in em (a label) or its own design pixels (all others). */
export enum Extent {
  W = 0,
  H = 1,
  Stride = 2,
}

/** What something that floats does about others that do. */
export enum Apart {
  /** Nothing: it may lie over them. */
  Off = 0,
  /** It makes room for those that go before it, or is hidden. */
  Moves = 1,
  /** It stays, and they make room. */
  Stays = 2,
}

export interface Arranged extends Edges {
  /** What is arranged; for a headset, with the HUD on a panel. */
  readonly compiled: Compiled;
  /** What was to be arranged. */
  readonly given: Compiled;
  readonly viewer: Viewer;
  /** Which part of a split screen; 0 of all others. */
  readonly part: number;
  /** The head's. */
  readonly projection: Projection;
  /** The eyes of a headset, left and right. */
  readonly eyes: readonly EyeView[];
  /** Pixels of the viewer for one design pixel. */
  readonly fit: number;
  /** The same by the fit of each row's own root. */
  readonly fits: Float64Array;
  /** The language texts are in. */
  readonly language: string;
  /** What the player uses. */
  readonly device: Device;
  /** In the middle of the screen. */
  readonly pixelsPerArcmin: number;
  /** Where the player's eye is, for angles. */
  readonly eye: EyePoint;
  readonly safe: Box;
  readonly settings: Float64Array;
  /** One a floating row: where its settings begin in `settings`. */
  readonly settingsOf: Int32Array;
  readonly extents: Float64Array;
  /** One a panel: how much larger all that is on it is laid out than it says, so that a hand's ray hits it. */
  readonly rayScale: Float64Array;
  /** One a floating row: what it does about others, and how far it goes before them. */
  readonly apart: Uint8Array;
  readonly rank: Float64Array;
  readonly anyApart: boolean;
  /** While time stands, the places of all are chosen together. */
  readonly patient: boolean;
  /** Whether any row has its em by angle. */
  readonly anyByAngle: boolean;
  /** The shaped text of labels, as its values stand; undefined for all others. */
  readonly blocks: (TextBlock | undefined)[];
  /** What a label said last, and how that was fitted: where it says the same again nothing is shaped. */
  readonly said: ({ text: string; asked: number; fitted: Fitted } | undefined)[];
  /** What a label says before values are put in; undefined for all others. */
  readonly wordings: (Wording | undefined)[];
  /** Boxes in design pixels, four numbers a row: on the glass from the screen's top left, members from their root's. */
  readonly boxes: Float64Array;
  /** The em of a label in design pixels; of all others how many design pixels one of their own takes, 1 for groups; of rows that do not float over an anchor of their own. */
  readonly ems: Float64Array;
  /** Where the pin of a row is, design pixels from the screen's top left; of rows on the glass and inside of it. */
  readonly pins: Float64Array;
  readonly tree: Tree;
  /** Rows of the groups that scroll. */
  readonly scrolling: Int32Array;
  /** By how much the text of a label that is kept in a room does not fit it, design pixels. */
  readonly overflow: Float64Array;
  readonly text: TextShaper;
  /** The feeds that a label's message names; the rows of labels that name a feed. */
  readonly users: readonly (readonly number[])[];
  /** 1 where a member is not there in the form its group stands in; how many each outermost row stands for, as its texts say it. */
  readonly absent: Uint8Array;
  readonly standsFor: Int32Array;
  /** One a row of `Compiled.formed`: the form it is laid out in; −1: none yet. */
  readonly forms: Int32Array;
  /** Feed values as last put into texts. */
  readonly seen: Values;
  /** Rows of every tree, by its root, a group before its members; trees that need laying out anew. */
  readonly treeRows: ReadonlyMap<number, readonly number[]>;
  readonly dirty: Set<number>;
  /** How many texts were formatted and trees laid out since the beginning, for benchmarks. */
  readonly made: { texts: number; trees: number };
}

/** What is taken over of an earlier arrangement. */
export interface TakenOver {
  /** 1 where a row is as it was. */
  taken: Uint8Array;
  settings: Settings;
  /** Takes over a row, where it is as it was. */
  row(a: Arranged, i: number): boolean;
}
/** Given what an arrangement is made of; null where nothing can be taken over. */
export type TakesOver = (
  compiled: Compiled,
  sight: Sight,
  viewer: Viewer,
  text: TextShaper,
  projection: Projection | undefined,
  language: string,
  device: Device,
  part: number,
) => TakenOver | null;

// Text is shaped in em, so one block serves every viewer and every later frame; an edited element is a new object.
let shaped = new WeakMap<TextShaper, WeakMap<Element, Map<string, Fitted>>>();
/** Texts with running values never end: after so many, of all labels together, all are let go. */
const MOST_SHAPED = 10_000;
let shapedCount = 0;

/** A text in its room: how large its em is, design pixels, and by how much it does not fit. */
export interface Fitted {
  block: TextBlock;
  em: number;
  overflow: number;
}

/** What a label says in a language, before values are put in. */
export interface Wording {
  message: string;
  language: string;
  names: readonly string[];
  /** It says the same whatever feeds and nodes say. */
  isPlain: boolean;
}
function wordingOf(text: TextShaper, label: Label, ...languages: [string, string]): Wording {
  const wording = messageFor(label, ...languages);
  return { ...wording, names: text.argumentsOf(wording.message), isPlain: !/[{']/.test(wording.message) };
}

/**
 * @param projection stands in for the viewer's own lens, for instance while the bench looks from outside.
 * @param language of the texts; without it, the one the document is written in.
 * @param device that the player uses, for keys.
 * @param part of a split screen; without it, one's own.
 * @param before what another state of the document was arranged as: what was not changed since is taken over (`takenFrom`).
 */
export const arrange = (...args: Parameters<typeof arrangeInParts>): Arranged => finished(arrangeInParts(...args));

/** So many elements are laid out between two pauses. */
const A_PART = 100;

/** The same in parts of some milliseconds, for whoever must not be silent meanwhile. */
export function* arrangeInParts(
  given: Compiled,
  viewer: Viewer,
  text: TextShaper,
  projection?: Projection,
  language: string = given.document.language,
  device: Device = 'keyboard',
  part = ownPart(viewer),
  before: TakesOver | null = null,
): Generator<void, Arranged, void> {
  const sight = sightOf(viewer, part);
  const seen = projection ?? sight.projection;
  const compiled = viewer.kind === 'headset' ? withHudOnPanel(given) : given;
  const { elements, members, count, root, feedIds } = compiled;
  const { glass } = compiled.document;
  const like = before?.(compiled, sight, viewer, text, projection, language, device, part);
  const natural = new Float64Array(count * 2);
  const boxes = new Float64Array(count * 4);
  const treeRows = new Map<number, number[]>();
  for (let i = 0; i < count; i++) {
    const top = root[i] as number;
    const list = treeRows.get(top);
    if (list) list.push(i);
    else treeRows.set(top, [i]);
  }
  const users: number[][] = feedIds.map(() => []);
  const wordings = elements.map((element, i) => {
    if (element.kind !== 'label' || like?.taken[i]) return undefined;
    const wording = wordingOf(text, element, language, compiled.document.language);
    for (const name of wording.names) users[valueIndex(compiled, feedNamed(compiled, i, name), i)]?.push(i);
    return wording;
  });
  // A panel is laid out in its own design pixels, whatever the screen.
  const fit = fitScale(glass, viewer, glass.fit, seen);
  const fits = Float64Array.from(root, (top) => {
    const own = elements[top] as Element;
    return isOnPanel(own.mount) ? 1 : own.fit ? fitScale(glass, viewer, own.fit, seen) : fit;
  });
  const a: Arranged = {
    compiled,
    given,
    viewer,
    part,
    projection: seen,
    eyes: sight.eyes,
    fit,
    fits,
    language,
    device,
    pixelsPerArcmin: sight.pixelsPerDegree / 60,
    eye: sight.eye,
    safe: sight.safe,
    ...(like?.settings ?? settingsFor(compiled, viewer, sight, seen)),
    extents: new Float64Array(compiled.anchoredCount * Extent.Stride),
    rayScale: new Float64Array(compiled.panels.length).fill(1),
    ...apartOf(compiled),
    anyByAngle: elements.some(({ size }) => size.rule === 'angle'),
    blocks: new Array(count).fill(undefined),
    said: new Array(count).fill(undefined),
    wordings,
    boxes,
    ems: new Float64Array(count).fill(1),
    pins: new Float64Array(count * 2),
    tree: { elements, members: [...members], natural, boxes, surplus: new Float64Array(count), stretch: stretchesOf(elements) },
    scrolling: Int32Array.from(elements.flatMap((e, i) => (e.kind === 'group' && e.layout.scroll ? [i] : []))),
    overflow: new Float64Array(count),
    ...edgesFor(compiled, viewer, seen, sight.eyes),
    text,
    users,
    absent: new Uint8Array(count),
    standsFor: new Int32Array(count).fill(1),
    forms: new Int32Array(compiled.formed.length).fill(-1),
    seen: initialValues(compiled),
    treeRows,
    dirty: new Set(treeRows.keys()),
    made: { texts: 0, trees: 0 },
  };
  for (let i = 0; i < count; i++) {
    if (like?.row(a, i)) continue;
    if (i % A_PART === A_PART - 1) yield;
    writeExtent(a, i);
  }
  layOutDirty(a);
  for (let panel = 0; panel < compiled.panels.length; panel++) sizeForRay(a, panel);
  return a;
}

/** Writes how large a row wants to be. */
function writeExtent(a: Arranged, i: number): void {
  const element = a.compiled.elements[i] as Element;
  if (element.kind === 'label') {
    writeText(a, i, element);
    return;
  }
  if (KINDS[element.kind].resizes !== 'layout') a.ems[i] = designPixel(a, i, element);
  sizeByShare(a, i, element, panelAround(a, i));
  const [w, h] = element.kind === 'key' ? keyExtent(a, i, element) : extentOf(element);
  a.tree.natural.set([w * (a.ems[i] as number), h * (a.ems[i] as number)], i * 2);
}

/** What is pressed, and what says so, stays where it is. */
function apartOf({ document, elements, floatingCount }: Compiled): Pick<Arranged, 'apart' | 'rank' | 'anyApart' | 'patient'> {
  const apart = new Uint8Array(floatingCount);
  const rank = new Float64Array(floatingCount);
  for (let i = 0; i < floatingCount; i++) {
    const { place, press } = elements[i] as Element;
    rank[i] = place.rank ?? 0;
    if (!document.labels?.apart) continue;
    const does = place.apart ?? (press ? 'stays' : 'moves');
    apart[i] = does === 'free' ? Apart.Off : does === 'stays' ? Apart.Stays : Apart.Moves;
  }
  return { apart, rank, anyApart: apart.includes(Apart.Moves), patient: document.labels?.patient === true };
}

/** Paddings do not grow with what they are about, so that the size is approached. */
const RAY_PASSES = 4;
/** Larger than this nothing is made for a ray: the panel is too small or too far away for it. */
const MOST_RAY_SCALE = 8;

/** Lays a panel out anew, larger, until the smallest of what acts on it is large enough for a hand's ray from where it is read. */
function sizeForRay(a: Arranged, panel: number): void {
  const { compiled, boxes } = a;
  const top = compiled.panels[panel] as number;
  const mount = compiled.elements[top]?.mount;
  if (!isOnPanel(mount) || !mount.raySized) return;
  const rows = a.treeRows.get(top) ?? [];
  const acts = rows.filter((row) => row !== top && actsOnPointer(compiled.elements[row] as Element));
  const needed = limitOfTarget(compiled.document);
  const far = mount.readM * mount.pxPerM;
  const middle = [(mount.sizeM[0] * mount.pxPerM) / 2, (mount.sizeM[1] * mount.pxPerM) / 2] as const;
  /** The angle of a row's smaller side, from straight before the panel's middle. */
  const angleOf = (row: number): number => {
    const pad = compiled.elements[row]?.pointer?.padPx ?? 0;
    const side = (axis: 0 | 1): number => {
      const [from, length] = [boxes[row * 4 + axis] as number, boxes[row * 4 + 2 + axis] as number];
      const other = 1 - axis;
      const aside = (boxes[row * 4 + other] as number) + (boxes[row * 4 + 2 + other] as number) / 2 - (middle[other] as number);
      const away = Math.hypot(far, aside);
      const [least, most] = [from - pad - middle[axis], from + length + pad - middle[axis]];
      return ((Math.atan(most / away) - Math.atan(least / away)) * 180) / Math.PI;
    };
    return Math.min(side(0), side(1));
  };
  for (let pass = 0; pass < RAY_PASSES; pass++) {
    const smallest = acts.reduce((least, row) => Math.min(least, angleOf(row)), Number.POSITIVE_INFINITY);
    const now = a.rayScale[panel] as number;
    if (smallest >= needed || now >= MOST_RAY_SCALE) return;
    a.rayScale[panel] = Math.min(MOST_RAY_SCALE, now * Math.max(1.001, (needed / Math.max(1e-3, smallest)) * 1.001));
    for (const row of rows) writeExtent(a, row);
    a.dirty.add(top);
    layOutDirty(a);
  }
}

const actsOnPointer = ({ kind, pointer, press }: Element): boolean => (pointer?.takes ?? (press ? 'acts' : KINDS[kind].takes)) === 'acts';

/** The same for another document: the viewer, its part, the lens, the language and the device stay. */
export const arrangedLike = ({ viewer, text, projection, language, device, part }: Arranged, compiled: Compiled): Arranged =>
  arrange(compiled, viewer, text, projection, language, device, part);

/** Takes over feed values: only texts that name a changed feed are formatted, and only trees whose content changed its size laid out. */
export function refresh(a: Arranged, values: Values): void {
  for (let k = 0; k < values.length; k++) {
    if (sameValue(a.seen[k], values[k])) continue;
    a.seen[k] = values[k];
    const rows = a.users[k] as readonly number[];
    for (let u = 0; u < rows.length; u++) {
      const row = rows[u] as number;
      writeText(a, row, a.compiled.elements[row] as Label);
    }
  }
  if (a.dirty.size > 0) layOutDirty(a);
}

/** Formats and shapes the text of a label anew; where its size is another, its tree is to be laid out anew. */
export function writeText(a: Arranged, row: number, label: Label): void {
  const before = a.blocks[row];
  const { block, em, overflow } = blockOf(a, row, label);
  if (block === before && a.ems[row] === em) return;
  a.blocks[row] = block;
  a.ems[row] = em;
  a.overflow[row] = overflow;
  const [padX, padY] = label.paint.plate?.padEm ?? [0, 0];
  const [w, h] = [label.room ? label.room.widthPx : (block.widthEm + 2 * padX) * em, (block.heightEm + 2 * padY) * em];
  if (before && a.tree.natural[row * 2] === w && a.tree.natural[row * 2 + 1] === h) return;
  a.tree.natural[row * 2] = w;
  a.tree.natural[row * 2 + 1] = h;
  a.dirty.add(a.compiled.root[row] as number);
}

/** A key is a square; where a word stands on its cap, it is as wide as that needs. */
function keyExtent(a: Arranged, row: number, { heightPx }: Key): [number, number] {
  const { keyboard, pictures } = keysOf(a.compiled.document, actionOfKey(a.compiled, row));
  let widthPx = heightPx;
  if (a.device === 'keyboard' && !keyboard.startsWith('Pointer') && !pictures?.keyboard) {
    const block = a.text.shape({ text: keyLabel(keyboard), weight: 700, align: 'centre', lineHeight: 1.25, wrapEm: null });
    a.blocks[row] = block;
    widthPx = Math.max(heightPx, heightPx * (block.widthEm * CAP_EM + 2 * CAP_PAD));
  }
  return [widthPx, heightPx];
}

/** The box that a row of the HUD is pinned in, pixels. */
const pinBox = ({ safe, projection }: Arranged, within: 'safe' | 'screen'): Box =>
  within === 'safe' ? safe : { left: 0, top: 0, right: projection.widthPx, bottom: projection.heightPx };

/** How much larger an em by angle is where an outermost element is pinned than in the screen's middle. */
function scaleAtPin(a: Arranged, top: number): number {
  const mount = a.compiled.elements[top]?.mount;
  if (!isOnHud(mount)) return 1;
  const box = pinBox(a, mount.within);
  return scaleForAngle(a.eye, box.left + mount.pin[0] * (box.right - box.left), box.top + mount.pin[1] * (box.bottom - box.top));
}

/** The panel that a row lies on, or null. */
const panelAround = ({ compiled }: Arranged, row: number): PanelMount | null => {
  const { mount } = compiled.elements[compiled.root[row] as number] as Element;
  return isOnPanel(mount) ? mount : null;
};

/** A size in a panel's design pixels: so many of them, so many metres, or as large as an angle is at the distance from which the panel is read. */
function onPanel(a: Arranged, row: number, { size }: Element, { pxPerM, readM }: PanelMount): number {
  const scale = a.rayScale[a.compiled.panelOf[row] as number] as number;
  if (size.rule === 'screen') return size.emPx * scale;
  return (size.rule === 'world' ? size.emM : size.emArcmin * arcminM(a, readM)) * pxPerM * scale;
}

/** How long one arcmin at the player's eye is at a distance in the world, seen square on in the middle of the picture, metres. */
export const arcminM = ({ pixelsPerArcmin, projection }: Pick<Arranged, 'pixelsPerArcmin' | 'projection'>, distanceM: number): number =>
  pixelsPerArcmin / pixelsPerMetre(projection, distanceM);

/** How many design pixels one of an element's own takes, by its size; 1 for what floats by itself, which is laid out in its own. */
function designPixel(a: Arranged, row: number, element: Element): number {
  const { size, mount } = element;
  const panel = panelAround(a, row);
  if (panel) return onPanel(a, row, element, panel);
  if (isAnchored(mount) || size.rule === 'world') return 1;
  if (size.rule === 'screen') return size.emPx;
  return (size.emArcmin * a.pixelsPerArcmin * scaleAtPin(a, a.compiled.root[row] as number)) / (a.fits[row] as number);
}

/** The em of a label where it is laid out in design pixels. A label that floats by itself is laid out in em: 1. */
function designEm(a: Arranged, row: number, label: Label): number {
  const { size, mount } = label;
  const panel = panelAround(a, row);
  if (panel) return onPanel(a, row, label, panel);
  if (isAnchored(mount)) return 1;
  if (size.rule === 'angle')
    return (size.emArcmin * a.pixelsPerArcmin * scaleAtPin(a, a.compiled.root[row] as number)) / (a.fits[row] as number);
  return size.rule === 'screen' ? size.emPx : 1;
}

function blockOf(a: Arranged, row: number, label: Label): Fitted {
  const { text: shaper } = a;
  const { message, language, names, isPlain } = a.wordings[row] as Wording;
  const em = designEm(a, row, label);
  const before = a.said[row];
  let text = message;
  if (!isPlain) {
    a.made.texts++;
    const values: Record<string, FeedValue | undefined> = {};
    for (const name of names) values[name] = namedValue(a, row, name);
    text = shaper.format(message, language, values).text;
  }
  // One that was shrunk into its room has an em of its own.
  if (before?.text === text && before.asked === em) return before.fitted;
  let blocks = shaped.get(shaper);
  if (!blocks) shaped.set(shaper, (blocks = new WeakMap()));
  let known = blocks.get(label);
  if (!known) blocks.set(label, (known = new Map()));
  // An em by angle depends on the viewer; without a room it changes no line.
  const key = `${shaper.fonts ?? 0} ${language} ${label.room ? em : ''} ${text}`;
  let fitted = known.get(key);
  if (!fitted) {
    if (++shapedCount % MOST_SHAPED === 0) shaped = new WeakMap();
    known.set(key, (fitted = fitText(shaper, label, text, em, language)));
  }
  if (!label.room) fitted = { ...fitted, em };
  a.said[row] = { text, asked: em, fitted };
  return fitted;
}

/** Shrinking looks this many times for the largest em that fits. */
const SHRINK_STEPS = 8;

/** Shapes a text, in its room where it has one: as it is, or shrunk, or cut. */
function fitText(shaper: TextShaper, { paint, room }: Label, text: string, em: number, language: string): Fitted {
  const { weight, align, lineHeight, wrapEm, plate, font } = paint;
  const base: TextRequest = {
    text,
    weight,
    align,
    lineHeight,
    wrapEm,
    direction: directionOf(language),
    ...(font !== undefined && { font }),
  };
  if (!room) return { block: shaper.shape(base), em, overflow: 0 };
  const padEm = 2 * (plate?.padEm[0] ?? 0);
  const at = (size: number, cut: boolean): Fitted => {
    const widthEm = Math.max(0.1, room.widthPx / size - padEm);
    const block = shaper.shape({ ...base, wrapEm: widthEm, ...(cut && { cutAfter: room.lines ?? 1e6 }) });
    const tooWide = (block.widthEm - widthEm) * size;
    const tooHigh = room.lines === null ? 0 : (block.lines.length - room.lines) * lineHeight * size;
    // A hundredth of a pixel of rounding is no overflow.
    return { block, em: size, overflow: Math.max(tooWide, tooHigh) > 0.01 ? Math.max(tooWide, tooHigh) : 0 };
  };
  const whole = at(em, room.over === 'cut');
  if (room.over !== 'shrink' || whole.overflow === 0) return whole;
  let best = at(em * room.leastShare, false);
  if (best.overflow > 0) return best;
  let [low, high] = [room.leastShare, 1];
  for (let k = 0; k < SHRINK_STEPS; k++) {
    const middle = (low + high) / 2;
    const tried = at(em * middle, false);
    if (tried.overflow > 0) high = middle;
    else {
      low = middle;
      best = tried;
    }
  }
  return best;
}

/** The feed that a name in a text stands for: a parameter's, or its own. */
function feedNamed({ parameters }: Compiled, row: number, name: string): string {
  const own = parameters[row];
  return own?.feeds.has(name) ? String(own.values[name]) : name;
}

/** What a text names to say how many its element stands for, where labels of its kind are merged. */
export const MERGED = 'merged';

/**
 * The value of a name in a text: of a feed, or what the node carries that this row stands at; `node` is the node's name, `merged` how
 * many it stands for.
 */
function namedValue({ compiled, seen, standsFor, language }: Arranged, row: number, name: string): FeedValue | undefined {
  const own = compiled.parameters[row];
  const value = own?.values[name];
  if (own && value !== undefined && value !== null && !own.feeds.has(name)) return translationIn(own.translations[name], language) ?? value;
  const feed = valueIndex(compiled, feedNamed(compiled, row, name), row);
  if (feed >= 0) return seen[feed];
  if (name === MERGED) return standsFor[compiled.root[row] as number];
  const node = compiled.nodeOf[row] as number;
  return name === 'node' ? compiled.level?.nodeIds[node] : compiled.level?.nodeProperties[node]?.[name];
}

/** Width and height of a gauge, design pixels. */
export function gaugeExtent(form: GaugeForm): [number, number] {
  if (form.kind === 'bar') return [form.widthPx, form.heightPx];
  if (form.kind === 'ring') return [form.diameterPx, form.diameterPx];
  if (form.kind === 'picture' || form.kind === 'stages') return [form.widthPx, form.heightPx];
  const length = form.count * form.sizePx + (form.count - 1) * form.gapPx;
  return form.vertical ? [form.sizePx, length] : [length, form.sizePx];
}

const boxExtent = ({ widthPx, heightPx }: { widthPx: number; heightPx: number }): [number, number] => [widthPx, heightPx];
/** Without members a group has no extent; what has a text is as large as that. */
const none = (): [number, number] => [0, 0];
const EXTENTS: { [K in ElementKind]: (element: ElementOf<K>) => [number, number] } = {
  label: none,
  group: none,
  instance: none,
  screenPaint: none,
  gauge: ({ form }) => gaugeExtent(form),
  picture: boxExtent,
  page: boxExtent,
  toggle: boxExtent,
  slider: boxExtent,
  key: ({ heightPx }) => [heightPx, heightPx],
  crosshair: ({ sizePx }) => [sizePx, sizePx],
  direction: ({ sizePx }) => [sizePx, sizePx],
};

/** Width and height of an element that has neither text nor members, in its own design pixels. */
export const extentOf = (element: Element): [number, number] => EXTENTS[element.kind](element as never);

/** Lays out all trees that are to be. */
export function layOutDirty(a: Arranged): void {
  for (const top of a.dirty) layOut(a, top);
  a.dirty.clear();
}

function layOut(a: Arranged, top: number): void {
  const { tree, compiled, safe } = a;
  const fit = a.fits[top] as number;
  const rows = a.treeRows.get(top) ?? [];
  a.made.trees++;
  measure(tree, rows);
  const element = compiled.elements[top] as Element;
  const { mount } = element;
  if (isOnPanel(mount)) {
    place(tree, top, 0, 0, mount.sizeM[0] * mount.pxPerM, mount.sizeM[1] * mount.pxPerM);
    for (const row of rows) if (row !== top) writePin(a, row, 0, 0);
    return;
  }
  if (!isOnHud(mount)) {
    const [w, h] = [wanted(tree, top, 0), wanted(tree, top, 1)];
    place(tree, top, 0, 0, w, h);
    if (top < compiled.anchoredCount) {
      a.extents[top * Extent.Stride + Extent.W] = w;
      a.extents[top * Extent.Stride + Extent.H] = h;
    }
    return;
  }
  const box = pinBox(a, mount.within);
  const [roomX, roomY] = [(box.right - box.left) / fit, (box.bottom - box.top) / fit];
  let [x, y, w, h] = pinned(tree, top, roomX, roomY);
  x += box.left / fit;
  y += box.top / fit;
  if (element.place.stay === 'inside') {
    x = clampSpan(x, w, safe.left / fit, safe.right / fit);
    y = clampSpan(y, h, safe.top / fit, safe.bottom / fit);
  }
  place(tree, top, 0, 0, w, h);
  tree.boxes[top * 4] = x;
  tree.boxes[top * 4 + 1] = y;
  a.pins[top * 2] = box.left / fit + mount.pin[0] * roomX;
  a.pins[top * 2 + 1] = box.top / fit + mount.pin[1] * roomY;
  for (const row of rows) if (row !== top) writePin(a, row, x, y);
}

/** Where the pin of a member is: a point of what its group has inside its padding. */
function writePin(a: Arranged, row: number, originX: number, originY: number): void {
  const { compiled, boxes } = a;
  const up = compiled.parent[row] as number;
  const group = compiled.elements[up];
  const mount = compiled.elements[row]?.mount;
  if (group?.kind !== 'group' || !isMember(mount)) return;
  const { padPx } = group.layout;
  const ofRoot = up === compiled.root[row];
  for (let axis = 0; axis < 2; axis++) {
    const origin = (axis === 0 ? originX : originY) + (ofRoot ? 0 : (boxes[up * 4 + axis] as number));
    const inside = (boxes[up * 4 + 2 + axis] as number) - (padPx[axis] as number) - (padPx[axis + 2] as number);
    a.pins[row * 2 + axis] = origin + (padPx[axis] as number) + (mount.pin[axis] as number) * inside;
  }
}
