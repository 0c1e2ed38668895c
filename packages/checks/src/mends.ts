/**
 * Mends: for an element that is shown but not readable, the smallest changes that clear what falls short. Each was solved again
 * for every viewer: whatever was shown is shown still, and nothing of it, nor of any other element, became less readable.
 */
import {
  type Arranged,
  At,
  arrange,
  channels,
  compile,
  type Inputs,
  limitsOf,
  luminance,
  makeSolver,
  measureReadable,
  type Readability,
  type Shortfall,
  type Solver,
  solve,
  type TextShaper,
  Verdict,
} from '@foreshore/core';
import { type Element, type Group, isOnPanel, KINDS, type Label, type PanelMount } from '@foreshore/document';
import { roundDown, roundUp } from './rounding.ts';
import { isWorse, othersWorse, shortfallsAll } from './worse.ts';

/** On which side of its anchor an element lies, by the point of its own that it puts there. */
const SIDES = { left: [1, 0.5], right: [0, 0.5], above: [0.5, 1], below: [0.5, 0] } as const;
export type MendSide = keyof typeof SIDES;

/** What a mend does, as a reader would name it. A size may go with the side of the anchor on which there is room for it. */
export type MendChange =
  /** The same angle at the eye on every screen. */
  | { kind: 'everyScreen'; arcmin: number; side?: MendSide }
  /** Letters of so many design pixels, or that many for a design pixel. */
  | { kind: 'px'; of: 'letters' | 'designPixel'; value: number; side?: MendSide }
  | { kind: 'arcmin'; value: number; side?: MendSide }
  | { kind: 'neverUnder'; of: 'letters' | 'designPixel'; value: number; side?: MendSide }
  | { kind: 'outline' | 'plate'; tone: 'dark' | 'light' }
  | { kind: 'opaque' }
  | { kind: 'stayInside' }
  | { kind: 'atPin' }
  /** Kept in a text box of so many design pixels, shrunk where it needs more. */
  | { kind: 'textBox'; widthPx: number }
  | { kind: 'moreLines' }
  /** The group is as large as its members need; it clips no more. */
  | { kind: 'hug' | 'unclip' }
  /** The panel has so few design pixels a metre: its letters are larger, and there is less room. */
  | { kind: 'density'; pxPerM: number }
  /** The panel is larger with all that is on it. */
  | { kind: 'panelSize'; sizeM: [number, number] }
  | { kind: 'facing'; facing: 'upright' | 'full' };

export interface Mend {
  kind: Shortfall['kind'];
  change: MendChange;
  /** The element that changes, and its fields that take on other values. */
  element: string;
  part: Partial<Element>;
  /** The viewers at which it clears what fell short, by their ids. */
  clears: string[];
}

export interface AskedMends {
  /** One for each viewer, by its id. */
  arranged: Readonly<Record<string, Arranged>>;
  /** As the frame was solved. */
  inputs: Inputs;
  /** The row's id. */
  row: string;
  text: TextShaper;
}

/** What one viewer gets of the row: null where it is not shown; and what falls short of all else. */
interface Measured {
  solver: Solver;
  row: number;
  read: Readability | null;
  others: Map<string, readonly Shortfall[]>;
}
function measured(arranged: Arranged, inputs: Inputs, id: string): Measured {
  const solver = makeSolver(arranged);
  // With whatever covers it: that is told by the order in which things are painted.
  solve(solver, { ...inputs, stands: true, depthOrder: true });
  const row = arranged.compiled.ids.indexOf(id);
  const shown = row >= 0 && solver.f.failed[row] === Verdict.Shown;
  return { solver, row, read: shown ? measureReadable(solver, row) : null, others: shortfallsAll(solver) };
}

/** All mends, the smallest first; those that clear more viewers before those that clear fewer. */
export function mends(asked: AskedMends): Mend[] {
  const before = Object.entries(asked.arranged).map(([viewer, arranged]) => ({
    viewer,
    arranged,
    ...measured(arranged, asked.inputs, asked.row),
  }));
  const out: Mend[] = [];
  const tried = new Set<string>();
  const found = new Set<string>();
  // A size that just falls short of what it should be is followed by one a little larger, and by other sides of the anchor.
  for (const one of before)
    for (const fault of one.read?.faults ?? [])
      for (const tries of changesFor(one.solver, one.row, one.read as Readability, fault))
        for (const { element, change, part } of tries) {
          const [what, exact] = [JSON.stringify([element, change]), JSON.stringify([element, part])];
          if (found.has(what)) break;
          if (tried.has(exact)) continue;
          tried.add(exact);
          const clears = clearedBy(asked, before, fault.kind, element, part);
          if (!clears.includes(one.viewer)) continue;
          found.add(what);
          out.push({ kind: fault.kind, change, element, part, clears });
          break;
        }
  return out.sort((a, b) => b.clears.length - a.clears.length);
}

/** The viewers at which a change clears a kind of fault; none if it makes anything worse anywhere. */
function clearedBy(
  { inputs, row, text }: AskedMends,
  before: readonly ({ viewer: string; arranged: Arranged } & Measured)[],
  kind: Shortfall['kind'],
  id: string,
  part: Partial<Element>,
): string[] {
  const clears: string[] = [];
  const first = before[0]?.arranged.compiled;
  const element = first?.document.elements[id];
  if (!first || !element) return [];
  const elements = { ...first.document.elements, [id]: { ...element, ...part } as Element };
  const compiled = compile({ ...first.document, elements }, first.level);
  for (const { viewer, arranged, read, others } of before) {
    const next = arrange(compiled, arranged.viewer, text, arranged.projection, arranged.language, arranged.device);
    const after = measured(next, inputs, row);
    if (othersWorse(others, after.others, row)) return [];
    if (!read) continue;
    if (!after.read || isWorse(read.faults, after.read.faults)) return [];
    const had = read.faults.some((fault) => fault.kind === kind);
    if (had && !after.read.faults.some((fault) => fault.kind === kind)) clears.push(viewer);
  }
  return clears;
}

type Change = { element: string; change: MendChange; part: Partial<Element> };

/** Changes of one setting against a fault, each as small as it may be and then a little larger. */
function changesFor(solver: Solver, row: number, read: Readability, fault: Shortfall): Change[][] {
  switch (fault.kind) {
    case 'small':
      return larger(solver, row, read);
    case 'contrast':
    case 'faint':
      return [...moreOpaque(solver, read.faintest), ...clearer(solver, read.faintest)].map((one) => [one]);
    case 'cut':
      return whole(solver, row, fault).map((one) => [one]);
    // What is empty wants a text, what is covered another place, what is swift another route.
    case 'empty':
    case 'covered':
    case 'glyphs':
    case 'speed':
    // What the level covers wants another place, and what is out of reach a longer ray.
    case 'behindLevel':
    case 'reach':
      return [];
  }
}

/** What ISO 9241-303 prefers for reading at length lies at 20 to 22 arcmin. */
const COMFORTABLE_ARCMIN = 20;
/** A larger box reaches farther toward the screen's edges, where letters are smaller at the eye. */
const GROWTH = [1, 1.02, 1.05, 1.1, 1.2];
const SIDE_GROWTH = 1.05;

/** Of what floats, its own size; on the HUD, that of the text. */
function larger({ c, a, f }: Solver, row: number, { capArcmin, capPx, smallest }: Readability): Change[][] {
  const { leastArcmin, leastPx } = limitsOf(c.document);
  const by = Math.max(leastArcmin / capArcmin, leastPx / capPx);
  const top = c.root[row] as number;
  const panel = c.elements[top]?.mount;
  if (isOnPanel(panel)) return largerPanel(c.definitions[top] as string, panel, by);
  const sized = top < c.anchoredCount ? top : smallest;
  const element = c.elements[sized];
  // What stands in a template is changed there, not here.
  if (!element || (sized !== top && c.parameters[sized])) return [];
  const { size } = element;
  const id = c.definitions[sized] as string;
  const isText = KINDS[element.kind].size === 'em';
  const of = isText ? 'letters' : 'designPixel';
  const step = isText ? 0.5 : 0.01;
  const { place } = element;
  // Where a larger one would lie over another, there may be room on another side.
  const sides = sized === top && top < c.anchoredCount ? (Object.keys(SIDES) as MendSide[]) : [];
  const isThere = (side: MendSide) => SIDES[side].every((v, k) => v === place.ownPoint[k]);
  type Sized = Extract<MendChange, { side?: MendSide }>;
  const grown = (make: (growth: number) => { change: Sized; size: Element['size'] }): Change[] => [
    ...GROWTH.map((growth) => {
      const { change, size: next } = make(growth);
      return { element: id, change, part: { size: next } };
    }),
    ...sides
      .filter((side) => !isThere(side))
      .map((side) => {
        const { change, size: next } = make(SIDE_GROWTH);
        return {
          element: id,
          change: { ...change, side },
          part: { size: next, place: { ...place, ownPoint: [...SIDES[side]] } } as Partial<Element>,
        };
      }),
  ];
  if (size.rule === 'screen') {
    const { hideBelowPx, leavePx } = size;
    // The same to the eye on every screen, comfortably: larger where pixels are small, and no larger than that elsewhere.
    const comfortable = Math.max(COMFORTABLE_ARCMIN, leastArcmin);
    const emNow = (size.emPx * (a.fits[sized] as number)) / a.pixelsPerArcmin;
    return [
      grown((growth) => ({
        change: { kind: 'everyScreen', arcmin: comfortable },
        size: {
          rule: 'angle',
          emArcmin: roundUp(emNow * Math.max(comfortable / capArcmin, leastPx / capPx) * growth, 0.05),
          hideBelowPx,
          leavePx,
        },
      })),
      grown((growth) => {
        const emPx = roundUp(size.emPx * by * growth, step);
        return { change: { kind: 'px', of, value: emPx }, size: { ...size, emPx } };
      }),
    ];
  }
  if (size.rule === 'angle')
    return [
      grown((growth) => {
        const emArcmin = roundUp(size.emArcmin * by * growth, step);
        return { change: { kind: 'arcmin', value: emArcmin }, size: { ...size, emArcmin } };
      }),
    ];
  const head = f.viewCount > 1 ? f.viewCount * f.count : 0;
  const now = (f.places[(head + sized) * At.Stride + At.UnitPx] as number) / (a.fits[sized] as number);
  return [
    grown((growth) => {
      const leastEmPx = roundUp(now * by * growth, step);
      const next = { ...size, leastPx: leastEmPx, greatestPx: Math.max(size.greatestPx, leastEmPx) };
      return { change: { kind: 'neverUnder', of, value: leastEmPx }, size: next };
    }),
  ];
}

/** What makes letters on a panel larger to the eye: fewer design pixels a metre, a larger panel, or one that turns to the viewer. */
function largerPanel(id: string, mount: PanelMount, by: number): Change[][] {
  const one = (change: MendChange, part: Partial<PanelMount>): Change => ({
    element: id,
    change,
    part: { mount: { ...mount, ...part } as PanelMount },
  });
  const grown = (make: (by: number) => Change): Change[] => GROWTH.map((growth) => make(by * growth));
  const out = [
    grown((more) => {
      const pxPerM = roundDown(mount.pxPerM / more, 1);
      return one({ kind: 'density', pxPerM }, { pxPerM });
    }),
    grown((more) => {
      const sizeM = mount.sizeM.map((v) => roundUp(v * more, 0.01)) as [number, number];
      return one({ kind: 'panelSize', sizeM }, { sizeM, pxPerM: mount.pxPerM * (mount.sizeM[0] / sizeM[0]) });
    }),
  ];
  if (mount.kind === 'standing' && mount.facing === 'fixed')
    out.push(...(['upright', 'full'] as const).map((facing) => [one({ kind: 'facing', facing }, { facing, turnDeg: 0, tiltDeg: 0 })]));
  return out;
}

const DARK = '#15233BE6';
const LIGHT = '#FBF8F0E6';
const PLATE: NonNullable<Label['paint']['plate']> = { colour: DARK, padEm: [0.5, 0.25], radiusEm: 0.25 };

/** Opaque again: the text, or a group around it. */
function moreOpaque({ c }: Solver, text: number): Change[] {
  const out: Change[] = [];
  for (let at = text; at >= 0; at = c.parent[at] as number) {
    const id = c.definitions[at] as string;
    const element = c.document.elements[id];
    if (!element || element.paint.opacity >= 1) continue;
    out.push({ element: id, change: { kind: 'opaque' }, part: { paint: { ...element.paint, opacity: 1 } } as Partial<Element> });
  }
  return out;
}

/** A plate behind it, or an outline about its letters, of the other brightness. */
function clearer({ c }: Solver, faintest: number): Change[] {
  const label = c.elements[faintest];
  if (label?.kind !== 'label' || c.parameters[faintest]) return [];
  const element = c.definitions[faintest] as string;
  const [r, g, b] = channels(label.paint.colour);
  const isLight = luminance([r, g, b]) > 0.18;
  const [colour, tone] = isLight ? [DARK, 'dark' as const] : [LIGHT, 'light' as const];
  const { paint } = label;
  const out: Change[] = [];
  if (!paint.outline)
    out.push({
      element,
      change: { kind: 'outline', tone },
      part: { paint: { ...paint, outline: { colour: colour.slice(0, 7), widthEm: 0.12 } } } as Partial<Element>,
    });
  out.push({
    element,
    change: { kind: 'plate', tone },
    part: { paint: { ...paint, plate: { ...(paint.plate ?? PLATE), colour } } } as Partial<Element>,
  });
  return out;
}

/** What keeps it from being cut off: where that happens at the edge of the screen, in a group that clips, or in its text box. */
function whole({ c, a }: Solver, row: number, fault: Extract<Shortfall, { kind: 'cut' }>): Change[] {
  const top = c.root[row] as number;
  const out: Change[] = [];
  const change = (at: number, mend: MendChange, part: Partial<Element>) =>
    out.push({ element: c.definitions[at] as string, change: mend, part });
  const element = c.elements[row] as Element;
  if (fault.at === 'group') {
    const by = c.ids.indexOf(fault.by);
    const group = c.elements[by] as Group;
    const layout = (part: Partial<Group['layout']>) => ({ layout: { ...group.layout, ...part } }) as Partial<Element>;
    change(by, { kind: 'hug' }, layout({ widthPx: null, heightPx: null, greatestPx: null }));
    if (group.layout.clip && !group.layout.scroll) change(by, { kind: 'unclip' }, layout({ clip: false }));
    return out;
  }
  // The text that is cut off, of a group the one that is.
  const text = element.kind === 'label' ? row : (c.members[row] ?? []).find((member) => c.elements[member]?.kind === 'label');
  const label = text === undefined ? undefined : c.elements[text];
  if (fault.at === 'textBox') {
    if (label?.kind !== 'label' || !label.room || text === undefined) return out;
    change(text, { kind: 'moreLines' }, { room: { ...label.room, lines: null } } as Partial<Element>);
    change(text, { kind: 'textBox', widthPx: label.room.widthPx }, {
      room: { ...label.room, over: 'shrink', leastShare: 0.5 },
    } as Partial<Element>);
    return out;
  }
  const { place, mount } = c.elements[top] as Element;
  if (isOnPanel(mount)) return out;
  if (place.stay === 'free') change(top, { kind: 'stayInside' }, { place: { ...place, stay: 'inside' } });
  if (row !== top && element.place.offsetPx.some((v) => v !== 0))
    change(row, { kind: 'atPin' }, { place: { ...element.place, offsetPx: [0, 0] } });
  if (label?.kind === 'label' && text !== undefined && top >= c.anchoredCount && !label.room) {
    const widthPx = Math.floor((a.safe.right - a.safe.left) / (a.fits[top] as number));
    change(text, { kind: 'textBox', widthPx }, {
      room: { widthPx, lines: null, over: 'shrink', leastShare: 0.5 },
      place: { ...label.place, stay: 'inside' },
    } as Partial<Element>);
  }
  return out;
}
