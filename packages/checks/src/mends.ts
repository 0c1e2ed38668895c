/**
 * Mends: for an element that is shown but not readable, the smallest changes that clear what falls short. Each was solved again
 * for every viewer: whatever was shown is shown still, and nothing of it, nor of any other element, became less readable.
 */
import {
  type Arranged,
  At,
  arrangedLike,
  channels,
  compile,
  HEADSET_HUD,
  HUD_PANEL,
  type Inputs,
  inputsFor,
  limitsOf,
  luminance,
  makeSolver,
  measureReadable,
  type Readability,
  type Shortfall,
  type Solver,
  screenBox,
  solve,
  Verdict,
} from '@foreshore/core';
import {
  type Crosshair,
  type Document,
  type Element,
  type Group,
  isOnPanel,
  KINDS,
  type Label,
  type PanelMount,
} from '@foreshore/document';
import type { FindingKind } from './check.ts';
import { roundDown, roundUp } from './rounding.ts';
import { shortfallsAll, worseOf, worseOther } from './worse.ts';

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
  /** What takes presses that are meant for others, called so, lets them through. */
  | { kind: 'passes'; name: string }
  /** It takes presses that went through it to the world. */
  | { kind: 'blocks' }
  /** Its action has another key of the keyboard, by its place (UI Events `code`). */
  | { kind: 'key'; code: string }
  /** In a phase that is to be quiet. */
  | { kind: 'hiddenIn'; name: string }
  | { kind: 'facing'; facing: 'upright' | 'full' }
  /** All on the panel is laid out so large that a hand's ray hits it. */
  | { kind: 'raySized' }
  /** The ray with which panels are used reaches so far, metres. */
  | { kind: 'rayReach'; value: number }
  /** The panel trails, or lies off its surface, so far, metres. */
  | { kind: 'trails' | 'lift'; value: number }
  /** It lies so far from where it lay, design pixels: right and down. */
  | { kind: 'moved'; byPx: [number, number] }
  /** What floats in the project keeps apart; or the element does, as others do. */
  | { kind: 'allApart' | 'makesRoom' }
  /** The panel is read from behind, too. */
  | { kind: 'bothSides' }
  /** In a headset the HUD is so far before the head, metres, as wide as before; or so wide, degrees. */
  | { kind: 'hudDistance'; value: number }
  | { kind: 'hudWide'; value: number };

/** What of the whole project a mend may change. */
export type ProjectPart = Partial<Pick<Document, 'ray' | 'glass' | 'labels' | 'actions'>>;

export interface Mend {
  kind: Shortfall['kind'];
  change: MendChange;
  /** The element that changes, and its fields that take on other values; null where the project changes. */
  element: string | null;
  part: Partial<Element>;
  project: ProjectPart;
  /** The viewers at which it clears what fell short, by their ids. */
  clears: string[];
}

/** The document with a mend made. */
export function withMend(document: Document, { element, part, project }: Pick<Mend, 'element' | 'part' | 'project'>): Document {
  const one = element === null ? undefined : document.elements[element];
  const elements = one && element !== null ? { ...document.elements, [element]: { ...one, ...part } as Element } : document.elements;
  return { ...document, ...project, elements };
}

export interface AskedMends {
  /** One for each viewer, by its id. */
  arranged: Readonly<Record<string, Arranged>>;
  /** As the frame was solved. */
  inputs: Inputs;
  /** The row's id. */
  row: string;
  /** What is to be cleared; all that falls short, without one. */
  kind?: FindingKind;
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

/** What stands in the way of a change: an element, by its id, that falls short with it, or is gone; at a viewer. */
export interface Obstacle {
  element: string;
  viewer: string;
  /** What falls short; null where it is not shown any more. */
  shortfall: Shortfall | null;
  /** It is what was to be cleared. */
  stays: boolean;
}
/** A change that was tried, and does not do. */
export interface Refused {
  kind: Shortfall['kind'];
  change: MendChange;
  obstacle: Obstacle;
}

/** All mends, the smallest first; those that clear more viewers before those that clear fewer. */
export const mends = (asked: AskedMends): Mend[] => tryMends(asked).mends;

/** All mends, and what was tried beside them: one of each change, as large as it first was. */
export function tryMends(asked: AskedMends): { mends: Mend[]; refused: Refused[] } {
  const before = Object.entries(asked.arranged).map(([viewer, arranged]) => ({
    viewer,
    arranged,
    ...measured(arranged, asked.inputs, asked.row),
  }));
  // The fewest pixels that any viewer has for an arcmin: what is as large to the eye everywhere has to have pixels enough there, too.
  const coarsest = Math.min(...before.map(({ arranged }) => arranged.pixelsPerArcmin));
  const out: Mend[] = [];
  const refused = new Map<string, Refused>();
  const tried = new Set<string>();
  const found = new Set<string>();
  // A size that just falls short of what it should be is followed by one a little larger, and by other sides of the anchor.
  for (const one of before)
    for (const fault of (one.read?.faults ?? []).filter(({ kind }) => asked.kind === undefined || kind === asked.kind))
      for (const tries of changesFor(one.solver, one.row, one.read as Readability, fault, coarsest))
        for (const { element, change, part, project = {} } of tries) {
          const [what, exact] = [JSON.stringify([element, change]), JSON.stringify([element, part, project])];
          if (found.has(what)) break;
          if (tried.has(exact)) continue;
          tried.add(exact);
          const { clears, left, obstacle } = clearedBy(asked, before, fault, { element, part, project });
          if (!clears.includes(one.viewer)) {
            const of = `${fault.kind} ${element} ${change.kind}`;
            const shortfall = left.get(one.viewer) ?? fault;
            const stays = { element: idOf(one.arranged, asked.row), viewer: one.viewer, shortfall, stays: true };
            if (!refused.has(of)) refused.set(of, { kind: fault.kind, change, obstacle: obstacle ?? stays });
            continue;
          }
          found.add(what);
          out.push({ kind: fault.kind, change, element, part, project, clears });
          break;
        }
  return { mends: out.sort((a, b) => b.clears.length - a.clears.length), refused: [...refused.values()] };
}

/** The element of a row. */
const idOf = ({ compiled }: Arranged, row: string): string => compiled.sources[compiled.ids.indexOf(row)] ?? row;

/** The viewers at which a change clears a kind of fault, and what is left of it at others; none, and what stands in the way, if it makes anything worse anywhere. */
function clearedBy(
  { inputs, row }: AskedMends,
  before: readonly ({ viewer: string; arranged: Arranged } & Measured)[],
  { kind }: Shortfall,
  change: Pick<Mend, 'element' | 'part' | 'project'>,
): { clears: string[]; left: Map<string, Shortfall>; obstacle: Obstacle | null } {
  const clears: string[] = [];
  const left = new Map<string, Shortfall>();
  const first = before[0]?.arranged.given;
  if (!first || (change.element !== null && !first.document.elements[change.element])) return { clears, left, obstacle: null };
  const compiled = compile(withMend(first.document, change), first.level);
  for (const { viewer, arranged, read, others } of before) {
    const after = measured(arrangedLike(arranged, compiled), inputsFor(inputs, first, compiled), row);
    const refuse = (of: string, shortfall: Shortfall | null, stays = false) => ({
      ...{ clears: [], left },
      obstacle: { element: idOf(arranged, of), viewer, shortfall, stays },
    });
    const other = worseOther(others, after.others, row);
    if (other) return refuse(other.row, other.shortfall);
    if (!read) continue;
    if (!after.read) return refuse(row, null);
    const own = worseOf(read.faults, after.read.faults);
    if (own) return refuse(row, own, own.kind === kind);
    if (!read.faults.some((fault) => fault.kind === kind)) continue;
    const still = after.read.faults.find((fault) => fault.kind === kind);
    if (still) left.set(viewer, still);
    else clears.push(viewer);
  }
  return { clears, left, obstacle: null };
}

type Change = { element: string | null; change: MendChange; part: Partial<Element>; project?: ProjectPart };

/** Changes of one setting against a fault, each as small as it may be and then a little larger. */
function changesFor(solver: Solver, row: number, read: Readability, fault: Shortfall, coarsest: number): Change[][] {
  switch (fault.kind) {
    case 'small':
      return larger(solver, row, read, coarsest);
    case 'contrast':
      return [...moreOpaque(solver, read.faintest), ...clearer(solver, read.faintest)].map((one) => [one]);
    case 'cut':
      return whole(solver, row, fault).map((one) => [one]);
    case 'covered':
    case 'overlaps':
      return elsewhere(solver, row, fault);
    // What is empty wants a text, what is swift another route.
    case 'empty':
    case 'unmeasured':
    case 'glyphs':
    case 'speed':
    // What the level covers wants another place.
    case 'behindLevel':
      return [];
    case 'reach':
      return nearer(solver, row, fault);
    case 'target':
      return largerTarget(solver, row, fault);
    case 'tooNear':
    case 'tooFar':
    case 'vergence':
      return atDepth(solver, row, fault);
  }
}

/** What ISO 9241-303 prefers for reading at length lies at 20 to 22 arcmin. */
const COMFORTABLE_ARCMIN = 20;
/** A larger box reaches farther toward the screen's edges, where letters are smaller at the eye. */
const GROWTH = [1, 1.02, 1.05, 1.1, 1.2];
const SIDE_GROWTH = 1.05;

/** Of what floats, its own size; on the HUD, that of the text. */
function larger({ c, a, f }: Solver, row: number, { capArcmin, capPx, smallest }: Readability, coarsest: number): Change[][] {
  const { leastArcmin, leastPx } = limitsOf(c.document);
  const by = Math.max(leastArcmin / capArcmin, leastPx / capPx);
  const top = c.root[row] as number;
  const panel = c.elements[top]?.mount;
  const hud = c.ids[top] === HUD_PANEL ? largerHud(c.document, by) : [];
  if (isOnPanel(panel) && hud.length === 0) return largerPanel(c.definitions[top] as string, panel, by);
  const sized = top < c.anchoredCount ? top : smallest;
  const element = c.elements[sized];
  // What stands in a template is changed there, not here.
  if (!element || (sized !== top && c.parameters[sized])) return hud;
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
    const everywhere = Math.max(comfortable, roundUp(leastPx / coarsest, 1));
    const emNow = (size.emPx * (a.fits[sized] as number)) / a.pixelsPerArcmin;
    return [
      [...new Set([comfortable, everywhere])].flatMap((arcmin) =>
        grown((growth) => ({
          change: { kind: 'everyScreen', arcmin },
          size: {
            rule: 'angle',
            emArcmin: roundUp(emNow * Math.max(arcmin / capArcmin, leastPx / capPx) * growth, 0.05),
            hideBelowPx,
            leavePx,
          },
        })),
      ),
      grown((growth) => {
        const emPx = roundUp(size.emPx * by * growth, step);
        return { change: { kind: 'px', of, value: emPx }, size: { ...size, emPx } };
      }),
      ...hud,
    ];
  }
  if (size.rule === 'angle')
    return [
      grown((growth) => {
        const emArcmin = roundUp(size.emArcmin * by * growth, step);
        return { change: { kind: 'arcmin', value: emArcmin }, size: { ...size, emArcmin } };
      }),
      ...hud,
    ];
  const now = (f.places[sized * At.Stride + At.UnitPx] as number) / (a.fits[sized] as number);
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

/** The HUD of a headset, wider. */
function largerHud({ glass }: Document, by: number): Change[][] {
  const hud = glass.headset ?? HEADSET_HUD;
  return [
    GROWTH.map((growth) => {
      const half = Math.atan(Math.tan((hud.wideDeg * Math.PI) / 360) * by * growth);
      const value = roundUp((half * 360) / Math.PI, 1);
      return {
        element: null,
        change: { kind: 'hudWide', value },
        part: {},
        project: { glass: { ...glass, headset: { ...hud, wideDeg: value } } },
      };
    }),
  ];
}

type Fault<K extends Shortfall['kind']> = Extract<Shortfall, { kind: K }>;

/** Who stands still sways by so much. */
const SWAY_M = 0.05;

/** Of what is out of reach: a longer ray, or the panel nearer. */
function nearer({ c }: Solver, row: number, { value, bound }: Fault<'reach'>): Change[][] {
  const top = c.root[row] as number;
  const id = c.definitions[top] as string;
  const { mount } = c.elements[top] as Element;
  const reachM = roundUp(value + SWAY_M, 0.1);
  const out: Change[][] = [
    [{ element: null, change: { kind: 'rayReach', value: reachM }, part: {}, project: { ray: { ...c.document.ray, reachM } } }],
  ];
  const short = value - bound;
  if (mount.kind === 'trailing') {
    const distanceM = roundDown(mount.distanceM - short, 0.1);
    if (distanceM > 0)
      out.push([{ element: id, change: { kind: 'trails', value: distanceM }, part: { mount: trailingAt(mount, distanceM) } }]);
  }
  if (mount.kind === 'standing')
    out.push(
      GROWTH.map((growth) => {
        const liftM = roundUp(mount.liftM + short * growth, 0.05);
        return { element: id, change: { kind: 'lift', value: liftM }, part: { mount: { ...mount, liftM } } };
      }),
    );
  return out;
}

/** Another distance from the head, as large at the eye as before. */
function trailingAt(mount: Extract<PanelMount, { kind: 'trailing' }>, distanceM: number): PanelMount {
  const by = distanceM / mount.distanceM;
  return {
    ...mount,
    distanceM,
    readM: mount.readM * by,
    leastM: Math.min(mount.leastM, distanceM),
    sizeM: mount.sizeM.map((v) => v * by) as [number, number],
    pxPerM: mount.pxPerM / by,
  };
}

/** Of what is too small for a hand's ray: all on its panel larger, or the panel with it. */
function largerTarget({ c }: Solver, row: number, { value, bound }: Fault<'target'>): Change[][] {
  const top = c.root[row] as number;
  const id = c.definitions[top] as string;
  const { mount } = c.elements[top] as Element;
  if (!isOnPanel(mount)) return [];
  if (c.ids[top] === HUD_PANEL) return largerHud(c.document, bound / value);
  const sized: Change[] = mount.raySized
    ? []
    : [{ element: id, change: { kind: 'raySized' }, part: { mount: { ...mount, raySized: true } as PanelMount } }];
  return [sized, ...largerPanel(id, mount, bound / value)].filter((tries) => tries.length > 0);
}

/** Of what is at a depth that is hard on two eyes: before the head, another distance. */
function atDepth({ c, a }: Solver, row: number, fault: Fault<'tooNear' | 'tooFar' | 'vergence'>): Change[][] {
  const top = c.root[row] as number;
  const { mount } = c.elements[top] as Element;
  const [left, right] = a.eyes;
  if (mount.kind !== 'trailing' || !left || !right) return [];
  const { farthestM } = limitsOf(c.document);
  // The eyes turn by 2·atan(e/2d); by `bound` more than that to what is looked at, at most.
  const eyesM = right.rightM - left.rightM;
  const half = fault.kind === 'vergence' ? Math.atan(eyesM / (2 * fault.lookedAtM)) + (fault.bound * Math.PI) / 360 : 0;
  const distance = fault.kind === 'vergence' ? eyesM / (2 * Math.tan(half)) : fault.bound;
  // Off the middle of a panel it is farther than its plane.
  const scale = mount.distanceM / ('distanceM' in fault ? fault.distanceM : fault.value);
  return [
    GROWTH.map((growth) => {
      const wanted = fault.kind === 'tooFar' ? (distance * scale) / growth : distance * scale * growth;
      const value = fault.kind === 'tooFar' ? roundDown(wanted, 0.1) : Math.min(farthestM, roundUp(wanted, 0.1));
      if (c.ids[top] !== HUD_PANEL)
        return { element: c.definitions[top] as string, change: { kind: 'trails', value }, part: { mount: trailingAt(mount, value) } };
      const { glass } = c.document;
      const headset = { ...(glass.headset ?? HEADSET_HUD), distanceM: value };
      return { element: null, change: { kind: 'hudDistance', value }, part: {}, project: { glass: { ...glass, headset } } };
    }),
  ];
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
  if (label?.kind === 'crosshair') return outlined(label, c.definitions[faintest] as string);
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

/** An outline of the other brightness about a crosshair's strokes. */
function outlined({ paint }: Crosshair, element: string): Change[] {
  const [r, g, b] = channels(paint.colour);
  const [colour, tone] = luminance([r, g, b]) > 0.18 ? [DARK, 'dark' as const] : [LIGHT, 'light' as const];
  const outline = { colour: colour.slice(0, 7), widthPx: paint.outline?.widthPx ?? OUTLINE_PX };
  return [{ element, change: { kind: 'outline', tone }, part: { paint: { ...paint, outline } } as Partial<Element> }];
}
const OUTLINE_PX = 1.5;

/** Between what lay on one another, design pixels. */
const BETWEEN_PX = 4;

/** What takes it out from under another: it makes room by itself, where it floats; or lies farther along, the shortest way first. */
function elsewhere(ctx: Solver, row: number, { by }: { by: string }): Change[][] {
  const { c, a } = ctx;
  const [top, other] = [c.root[row] as number, c.ids.indexOf(by)];
  const { mount, place, press } = c.elements[top] as Element;
  const element = c.definitions[top] as string;
  // Within one group, and on a panel, its place is that of its neighbours, too.
  if (other < 0 || c.root[other] === top || isOnPanel(mount)) return [];
  const out: Change[][] = [];
  const { labels } = c.document;
  if (top < c.floatingCount) {
    if (!labels?.apart)
      out.push([{ element: null, change: { kind: 'allApart' }, part: {}, project: { labels: { ...labels, apart: true } } }]);
    else if ((place.apart ?? (press ? 'stays' : 'moves')) !== 'moves')
      out.push([{ element, change: { kind: 'makesRoom' }, part: { place: { ...place, apart: 'moves' } } }]);
  }
  const [x, y, w, h] = screenBox(ctx, top);
  const [atX, atY, wide, high] = screenBox(ctx, other);
  const px = (screenPx: number): number => Math.sign(screenPx) * Math.ceil(Math.abs(screenPx) / (a.fits[top] as number) + BETWEEN_PX);
  const ways: [number, number][] = [
    [px(atX + wide - x), 0],
    [px(atX - x - w), 0],
    [0, px(atY + high - y)],
    [0, px(atY - y - h)],
  ];
  const far = ([right, down]: [number, number]): number => Math.abs(right) + Math.abs(down);
  for (const byPx of ways.filter((way) => Number.isFinite(far(way))).sort((one, two) => far(one) - far(two))) {
    const offsetPx: [number, number] = [place.offsetPx[0] + byPx[0], place.offsetPx[1] + byPx[1]];
    out.push([{ element, change: { kind: 'moved', byPx }, part: { place: { ...place, offsetPx } } }]);
  }
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
