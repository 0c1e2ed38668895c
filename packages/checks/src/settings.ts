/** Changes of one setting of the step that refuses an element, each as small as it may be; whether it helps is for solving again to say. */
import {
  type Fact,
  type FactKind,
  type FactOf,
  factIn,
  type Link,
  type Solver,
  type StepName,
  type Vec3,
  valueIndex,
} from '@foreshore/core';
import { type Anchor, type Comparison, type Condition, type Element, type Feed, isMember, isOnPanel } from '@foreshore/document';
import { meeting } from './game-states.ts';
import type { Setting, SettingOffer, Target } from './offers.ts';
import { roundDown, roundUp } from './rounding.ts';

/** Where the settings of a refusal are: the row that refuses (a group around the element, perhaps), and what the step found there. */
interface Refusal {
  solver: Solver;
  row: number;
  element: Element;
  /** The document's id of the element that the row has its fields from. */
  id: string;
  facts: readonly Fact[];
  /** Pixels of the viewer for one of the row's design pixels. */
  fit: number;
}

type Draft = { setting: Setting; cost: number; target: Target };

/** Strictly more than a bound, for steps that compare so. */
const BEYOND = 1e-6;

/** @param no the link that refuses. */
export function settingsFor(solver: Solver, row: number, no: Link): SettingOffer[] {
  const { c, a } = solver;
  const refusing = no.from === null ? row : c.ids.indexOf(no.from);
  const element = c.elements[refusing];
  if (!element) return [];
  const id = c.definitions[refusing] as string;
  const refusal: Refusal = { solver, row: refusing, element, id, facts: no.facts, fit: a.fits[refusing] as number };
  // To go a metre is less than to change what holds everywhere.
  return BY_STEP[no.step](refusal).map(({ setting, cost, target }) => ({
    kind: 'setting',
    cost: 1 + cost,
    step: no.step,
    setting,
    target,
  }));
}

const inElement = ({ id }: Refusal, part: Partial<Element>): Target => ({ in: 'elements', id, part });
const fact = <K extends FactKind>({ facts }: Refusal, kind: K): FactOf<K> | undefined => factIn(facts, kind);

const BY_STEP: Record<StepName, (refusal: Refusal) => Draft[]> = {
  attach: otherAnchor,
  phase: phaseSettings,
  range: rangeSettings,
  view: viewSettings,
  size: sizeSettings,
  sightline: sightlineSettings,
  claim: claimSettings,
  place: placeSettings,
  paint: paintSettings,
  // It refuses nothing.
  readable: () => [],
};

/** How many letters must be changed, put in or left out to make one word of another (Levenshtein 1966). */
function editDistance(a: string, b: string): number {
  let row = Array.from({ length: b.length + 1 }, (_, j) => j);
  for (let i = 1; i <= a.length; i++) {
    const next = [i];
    for (let j = 1; j <= b.length; j++)
      next.push(Math.min((row[j] as number) + 1, (next[j - 1] as number) + 1, (row[j - 1] as number) + (a[i - 1] === b[j - 1] ? 0 : 1)));
    row = next;
  }
  return row[b.length] as number;
}
const MOST_NODES = 20000;

/** The names most like one that is not there, the likest first. */
const likest = (name: string, all: readonly string[]): string[] =>
  all
    .slice(0, MOST_NODES)
    .map((other) => ({ other, far: editDistance(name.slice(0, 80).toLowerCase(), other.slice(0, 80).toLowerCase()) }))
    .sort((p, q) => p.far - q.far || (p.other < q.other ? -1 : 1))
    .slice(0, 3)
    .map(({ other }) => other);

/** The anchor is nowhere: the node whose name is most like the one that is missing, or an event of the document. */
function otherAnchor({ solver, row }: Refusal): Draft[] {
  const { c } = solver;
  const gate = c.gateOfRow[row] as number;
  const at = row < c.anchoredCount ? (c.elementAnchor[row] as number) : gate >= 0 ? (c.gateAnchor[gate] as number) : -1;
  const id = c.anchorIds[at]?.split('@')[0];
  const anchor = id === undefined ? undefined : c.document.anchors[id];
  if (!anchor || id === undefined) return [];
  const target = (part: Partial<Anchor>): Target => ({ in: 'anchors', id, part });
  if (anchor.kind === 'event')
    return Object.entries(c.document.feeds).flatMap(([feed, { kind }]): Draft[] =>
      kind === 'event' && feed !== anchor.feed
        ? [{ setting: { field: 'event', feed }, cost: 1, target: target({ feed } as Partial<Anchor>) }]
        : [],
    );
  const names = c.level?.nodeIds ?? [];
  if (anchor.kind === 'nodes')
    return likest(anchor.pattern.replace(/[*?]/g, ''), names).map((node) => ({
      setting: { field: 'node', node },
      cost: 1,
      target: target({ pattern: node } as Partial<Anchor>),
    }));
  const wanted = 'node' in anchor ? anchor.node : null;
  if (wanted === null) return [];
  return likest(wanted, names).map((node) => ({ setting: { field: 'node', node }, cost: 1, target: target({ node } as Partial<Anchor>) }));
}

const TURNED = { below: 'above', atMost: 'atLeast', above: 'below', atLeast: 'atMost', equals: 'equals', differs: 'differs' } as const;

/** The bound with which a comparison holds (or with `never` does not) for a value: seen from the value, a bound lies the other way. */
const boundFor = (condition: Comparison, now: number | boolean | string, feed: Feed, never: boolean) =>
  meeting({ ...condition, is: TURNED[condition.is], value: now }, { ...feed, range: undefined } as Feed, never);

function phaseSettings(refusal: Refusal): Draft[] {
  const { solver, element } = refusal;
  const { show } = element;
  const { phase } = solver.f;
  const other = fact(refusal, 'otherForm');
  if (other) {
    const { [other.because]: _, ...rest } = other.only;
    const only = Object.keys(rest).length > 0 ? rest : undefined;
    return [{ setting: { field: 'form', because: other.because }, cost: 1, target: inElement(refusal, { only }) }];
  }
  if (!show) return [];
  if (phase !== null && show.phases[phase] === 'hidden') {
    const { [phase]: _, ...phases } = show.phases;
    return [{ setting: { field: 'phase', phase }, cost: 1, target: inElement(refusal, { show: { ...show, phases } }) }];
  }
  return conditionChanges(refusal, show.conditions, show.need === 'none').map(({ setting, cost, conditions }) => ({
    setting,
    cost,
    target: inElement(refusal, { show: { ...show, conditions } }),
  }));
}

/** One condition after the other with its bound moved so far that what is now is enough, or left out; those in groups, too. */
function conditionChanges(
  refusal: Refusal,
  conditions: readonly Condition[],
  never: boolean,
): { setting: Setting; cost: number; conditions: Condition[] }[] {
  const { c, f } = refusal.solver;
  const put = (k: number, ...next: Condition[]): Condition[] => [...conditions.slice(0, k), ...next, ...conditions.slice(k + 1)];
  return conditions.flatMap((condition, k) => {
    if (condition.kind === 'group')
      return conditionChanges(refusal, condition.conditions, condition.need === 'none').map((inner) => ({
        ...inner,
        conditions: inner.conditions.length ? put(k, { ...condition, conditions: inner.conditions }) : put(k),
      }));
    const { feed: id } = condition;
    const without = { setting: { field: 'condition' as const, feed: id }, cost: 1.5, conditions: put(k) };
    const feed = c.document.feeds[id];
    const now = f.values[valueIndex(c, id, refusal.row)];
    const isPlain = typeof now === 'number' || typeof now === 'boolean' || typeof now === 'string';
    if (condition.kind !== 'compare' || !feed || !isPlain) return [without];
    const value = boundFor(condition, now, feed, never);
    if (value === null || typeof value !== typeof condition.value) return [without];
    const moved = { ...condition, value: value as Comparison['value'] };
    return [{ setting: { field: 'bound' as const, feed: id, is: condition.is, value }, cost: 1, conditions: put(k, moved) }, without];
  });
}

function rangeSettings(refusal: Refusal): Draft[] {
  const { range } = refusal.element;
  const found = fact(refusal, 'distance');
  if (!range || !found) return [];
  const value = roundUp(found.distanceM, 0.1);
  const part = { range: { ...range, enterM: value, leaveM: Math.max(range.leaveM, roundUp(value * 1.15, 0.1)) } };
  return [{ setting: { field: 'enterM', value }, cost: value / Math.max(range.enterM, 0.5) - 1, target: inElement(refusal, part) }];
}

const CONE_LEAVE_DEG = 5;

function viewSettings(refusal: Refusal): Draft[] {
  const { look, view } = refusal.element;
  const out: Draft[] = [];
  const outside = fact(refusal, 'outside');
  if (outside) {
    const value = roundUp(outside.outPx / refusal.fit + BEYOND, 1);
    out.push({
      setting: { field: 'outsidePx', value },
      cost: Math.abs(value - view.outsidePx) / 200,
      target: inElement(refusal, { view: { ...view, outsidePx: value } }),
    });
  }
  const { mount } = refusal.element;
  if (fact(refusal, 'backOfPanel') && isOnPanel(mount)) {
    if (mount.kind === 'standing' && mount.facing === 'fixed')
      out.push({
        setting: { field: 'upright' },
        cost: 0.8,
        target: inElement(refusal, { mount: { ...mount, facing: 'upright', turnDeg: 0, tiltDeg: 0 } }),
      });
    out.push({ setting: { field: 'bothSides' }, cost: 1, target: inElement(refusal, { mount: { ...mount, sides: 'both' } }) });
  }
  const cone = fact(refusal, 'cone');
  if (look?.by === 'cone' && cone) {
    const value = Math.min(180, roundUp(cone.angleDeg, 1));
    const leaveDeg = Math.min(180, Math.max(look.leaveDeg, value + CONE_LEAVE_DEG));
    out.push({
      setting: { field: 'halfDeg', value },
      cost: value / look.halfDeg - 1,
      target: inElement(refusal, { look: { ...look, halfDeg: value, leaveDeg } }),
    });
  }
  const aimed = fact(refusal, 'aimed');
  if (look?.by === 'aim' && aimed) {
    const value = roundUp(aimed.distanceM, 0.1);
    out.push({
      setting: { field: 'reachM', value },
      cost: value / look.reachM - 1,
      target: inElement(refusal, { look: { ...look, reachM: value } }),
    });
  }
  const missed = fact(refusal, 'notAimed') ?? fact(refusal, 'aimBlocked');
  if (look?.by === 'aim' && missed) {
    const value = Math.min(180, roundUp(missed.kind === 'notAimed' ? missed.missDeg : 1, 1));
    const next = { by: 'cone', halfDeg: value, leaveDeg: Math.min(180, value + CONE_LEAVE_DEG), dwellS: look.dwellS } as const;
    out.push({ setting: { field: 'cone', value }, cost: 1 + value / 30, target: inElement(refusal, { look: next }) });
  }
  return out;
}

function sizeSettings(refusal: Refusal): Draft[] {
  const { size } = refusal.element;
  const found = fact(refusal, 'belowFloor');
  if (!found) return [];
  const value = Math.max(0, roundDown(found.px / refusal.fit, 0.1));
  const part = { size: { ...size, hideBelowPx: value, leavePx: Math.min(size.leavePx, value) } } as Partial<Element>;
  return [{ setting: { field: 'hideBelowPx', value }, cost: 1 - value / Math.max(size.hideBelowPx, 1), target: inElement(refusal, part) }];
}

function sightlineSettings(refusal: Refusal): Draft[] {
  const { sightline, mount } = refusal.element;
  if (mount.kind === 'trailing' && fact(refusal, 'trails'))
    return [
      { setting: { field: 'nearer' }, cost: 0.5, target: inElement(refusal, { mount: { ...mount, blocked: 'nearer' } }) },
      { setting: { field: 'through' }, cost: 1, target: inElement(refusal, { mount: { ...mount, blocked: 'show' } }) },
    ];
  const found = fact(refusal, 'sight');
  if (!sightline || !found) return [];
  const out: Draft[] = [];
  const value = roundDown(found.freeShare, 0.01);
  if (value > 0 && value < sightline.share)
    out.push({
      setting: { field: 'share', value },
      cost: 1 - value / sightline.share,
      target: inElement(refusal, { sightline: { ...sightline, share: value, leaveShare: Math.min(sightline.leaveShare, value) } }),
    });
  out.push({ setting: { field: 'through' }, cost: 1.5, target: inElement(refusal, { sightline: { ...sightline, answer: 'through' } }) });
  return out;
}

function claimSettings(refusal: Refusal): Draft[] {
  const { claim } = refusal.element;
  const found = fact(refusal, 'lostTo');
  if (!claim || !found) return [];
  // Nobody holds the claim where it is decided anew: what counts is how far the scores are apart without the bonus.
  const value = Math.min(100, roundUp(claim.priority + Math.max(0, found.byWithout) + BEYOND, 0.05));
  return [
    {
      setting: { field: 'priority', value },
      cost: value - claim.priority,
      target: inElement(refusal, { claim: { ...claim, priority: value } }),
    },
  ];
}

function placeSettings(refusal: Refusal): Draft[] {
  const { element, solver } = refusal;
  const { place, mount } = element;
  const out: Draft[] = [];
  if (!isMember(mount) && !isOnPanel(mount) && place.stay === 'free')
    out.push({ setting: { field: 'stay' }, cost: 0.5, target: inElement(refusal, { place: { ...place, stay: 'inside' } }) });
  if (place.offsetPx.some((v) => v !== 0))
    out.push({ setting: { field: 'offset' }, cost: 0.8, target: inElement(refusal, { place: { ...place, offsetPx: [0, 0] } }) });
  const taken = fact(refusal, 'noRoom');
  if (taken) {
    // One more than what has its place; where that stays, nothing goes before it.
    const value = (solver.c.elements[solver.c.ids.indexOf(taken.by)]?.place.rank ?? 0) + 1;
    out.push({ setting: { field: 'rank', value }, cost: 0.6, target: inElement(refusal, { place: { ...place, rank: value } }) });
    out.push({ setting: { field: 'free' }, cost: 1.1, target: inElement(refusal, { place: { ...place, apart: 'free' } }) });
  }
  const { many } = place;
  const beyond = fact(refusal, 'beyondNearest');
  if (many?.most && beyond) {
    const most = { ...many.most, count: beyond.nth };
    out.push({
      setting: { field: 'most', value: beyond.nth },
      cost: 0.8,
      target: inElement(refusal, { place: { ...place, many: { ...many, most } } }),
    });
  }
  const merged = fact(refusal, 'mergedInto');
  if (many && merged) {
    const { mergePx: _, ...rest } = many;
    const value = (solver.c.elements[solver.c.ids.indexOf(merged.into)]?.place.rank ?? 0) + 1;
    out.push({ setting: { field: 'rank', value }, cost: 0.6, target: inElement(refusal, { place: { ...place, rank: value } }) });
    out.push({
      setting: { field: 'unmerged' },
      cost: 0.9,
      target: inElement(refusal, { place: { ...place, many: rest.most ? rest : undefined } }),
    });
  }
  const clipped = fact(refusal, 'clippedAway');
  const row = clipped ? solver.c.ids.indexOf(clipped.group) : -1;
  const group = solver.c.elements[row];
  if (group?.kind !== 'group') return out;
  const id = solver.c.definitions[row] as string;
  const layout = (part: Partial<typeof group.layout>): Target => ({
    in: 'elements',
    id,
    part: { layout: { ...group.layout, ...part } } as Partial<Element>,
  });
  out.push({ setting: { field: 'hug' }, cost: 1, target: layout({ widthPx: null, heightPx: null, greatestPx: null }) });
  if (group.layout.clip && !group.layout.scroll) out.push({ setting: { field: 'clip' }, cost: 1.2, target: layout({ clip: false }) });
  if (group.layout.scroll) {
    const { scroll: _, ...rest } = group.layout;
    out.push({
      setting: { field: 'scroll' },
      cost: 1.4,
      target: { in: 'elements', id, part: { layout: { ...rest, clip: false } } as Partial<Element> },
    });
  }
  return out;
}

/** Opaque again: what it is itself, or the template that it is an instance of. */
function paintSettings(refusal: Refusal): Draft[] {
  const { c } = refusal.solver;
  const found = fact(refusal, 'transparent');
  const row = found ? c.ids.indexOf(found.row) : -1;
  if (row < 0) return [];
  const own = c.definitions[row] as string;
  const described = c.document.elements[own];
  const ids = [own, ...(described?.kind === 'instance' ? [described.of] : [])];
  return ids.flatMap((id): Draft[] => {
    const element = c.document.elements[id];
    if (element?.paint.opacity !== 0) return [];
    const part = { paint: { ...element.paint, opacity: 1 } } as Partial<Element>;
    return [{ setting: { field: 'opacity' }, cost: 0.5, target: { in: 'elements', id, part } }];
  });
}

/** The place of an anchor, or null where it has none. */
export function placeOfAnchor({ c }: Pick<Solver, 'c'>, anchor: number): Vec3 | null {
  if (anchor < 0 || c.anchorFault[anchor]) return null;
  return [...c.anchorWorld.subarray(anchor * 3, anchor * 3 + 3)] as Vec3;
}
