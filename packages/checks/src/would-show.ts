/**
 * Would show: for a hidden element, the smallest single change of place, of direction or of one setting that shows it. Every
 * offer was solved again, with the change made and with empty memory, and then showed it; a hysteresis that would help is not
 * counted on.
 */
import {
  type Arranged,
  arrange,
  type Compiled,
  compile,
  explain,
  formatValue,
  headingOf,
  type Inputs,
  initialValues,
  lookingPose,
  Memory,
  makeHit,
  makeSolver,
  type Pose,
  poseTowards,
  type Solver,
  type StepName,
  solve,
  type TextShaper,
  type Vec3,
  Verdict,
} from '@foreshore/core';
import type { Comparison, Condition, Element, Feed, FeedValue } from '@foreshore/document';
import { meeting, type State, statesToTry } from './offered-states.ts';

export type Offer =
  /** Stand or look otherwise. */
  | { kind: 'place' | 'turn'; says: string; cost: number; pose: Pose }
  /** Another state of the game. */
  | { kind: 'state'; says: string; cost: number; state: { feed: string; value: FeedValue } | { phase: string } }
  /** Fields of the element that take on other values. */
  | { kind: 'setting'; says: string; cost: number; step: StepName; part: Partial<Element> };

export interface Asked {
  arranged: Arranged;
  /** As the frame was solved in which the element is hidden. */
  inputs: Inputs;
  /** The row's id. */
  row: string;
  text: TextShaper;
  /** Places the level and reads the feeds with some more of them held, and gives what to solve with then; `{}` puts all back. */
  holding?: (held: Readonly<Record<string, FeedValue>>) => Inputs;
}

const FARTHEST_M = 12;
const WAYS = 24;
/** A turn by so many degrees costs as much as a metre. */
const DEG_PER_M = 30;

/** Whether a row shows with a head somewhere. */
function showsAt(solver: Solver, row: number, inputs: Inputs, head: Pose): boolean {
  // Empty memory: what would come in.
  solver.m.restore(new Memory(solver.m.counts));
  solve(solver, { ...inputs, head, stands: true, depthOrder: false });
  return solver.f.failed[row] === Verdict.Shown;
}

/** All offers, the smallest first; none where no single change shows the element. */
export function wouldShow(asked: Asked): Offer[] {
  const { arranged, inputs, row: id } = asked;
  const solver = makeSolver(arranged);
  const row = arranged.compiled.ids.indexOf(id);
  if (row < 0) return [];
  showsAt(solver, row, inputs, inputs.head);
  const links = explain(solver, row);
  const step = links.find(({ state }) => state === 'no')?.step;
  if (!step) return [];
  // Read off the frame as it is, before other places are tried.
  const changes = settings(solver, row, step);
  const offers: (Offer | null)[] = [
    smallestTurn(solver, row, inputs),
    smallestStep(solver, row, inputs),
    ...changes.map((offer) => (showsWith(asked, offer) ? offer : null)),
  ];
  for (const state of statesToTry(arranged.compiled, row, step, solver.f.values)) {
    const before = offers.findIndex((o) => o?.kind === 'state' && sameState(o.state, state));
    if (before < 0 && showsIn(asked, state)) offers.push({ kind: 'state', says: state.says, cost: state.cost, state: stateOf(state) });
  }
  return offers.filter((offer) => offer !== null).sort((a, b) => a.cost - b.cost);
}

const words = (amount: number, unit: string, way: string): string => `${amount.toFixed(amount < 10 ? 1 : 0)} ${unit} ${way}`;

/** Where an element's anchor is, or null. */
function anchorOf({ c }: Solver, row: number): Vec3 | null {
  const top = c.root[row] as number;
  const gate = c.gateOfRow[top] as number;
  const anchor = gate >= 0 ? (c.gateAnchor[gate] as number) : top < c.floatingCount ? (c.elementAnchor[top] as number) : -1;
  if (anchor < 0 || c.anchorFault[anchor]) return null;
  return [...c.anchorWorld.subarray(anchor * 3, anchor * 3 + 3)] as Vec3;
}

/** The least turn towards its anchor after which it shows: halved down from the whole turn. */
function smallestTurn(solver: Solver, row: number, inputs: Inputs): Offer | null {
  const target = anchorOf(solver, row);
  if (!target) return null;
  const { position, rotation } = inputs.head;
  const from = headingOf(rotation);
  const to = headingOf(poseTowards(position, target).rotation);
  const yaw = ((((to.yawDeg - from.yawDeg) % 360) + 540) % 360) - 180;
  const pitch = to.pitchDeg - from.pitchDeg;
  const turned = (share: number): Pose => lookingPose([...position], from.yawDeg + yaw * share, from.pitchDeg + pitch * share);
  if (!showsAt(solver, row, inputs, turned(1))) return null;
  let [low, high] = [0, 1];
  for (let k = 0; k < 12; k++) {
    const middle = (low + high) / 2;
    if (showsAt(solver, row, inputs, turned(middle))) high = middle;
    else low = middle;
  }
  const degrees = high * Math.hypot(yaw, pitch);
  const way = Math.abs(yaw) >= Math.abs(pitch) ? (yaw > 0 ? 'to the left' : 'to the right') : pitch > 0 ? 'up' : 'down';
  return { kind: 'turn', says: words(degrees, 'deg', way), cost: degrees / DEG_PER_M, pose: turned(high) };
}

const hit = makeHit();
const DOWN: Vec3 = [0, -1, 0];

/** Where one stands after so many metres straight on over the ground from a place; null where a wall or a drop is before it. */
function standingAt({ c }: Solver, eye: Vec3, x: number, z: number): Vec3 | null {
  const { eyeHeightM, stepM, radiusM } = c.document.body;
  const { level } = c;
  if (!level) return [eye[0] + x, eye[1], eye[2] + z];
  const length = Math.hypot(x, z);
  const at: Vec3 = [...eye];
  const pieces = Math.max(1, Math.ceil(length / 0.4));
  for (let k = 1; k <= pieces; k++) {
    const feet = at[1] - eyeHeightM;
    const knee: Vec3 = [at[0], feet + stepM + 0.1, at[2]];
    if (level.castRay(knee, [x / length, 0, z / length], length / pieces + radiusM, hit)) return null;
    at[0] += x / pieces;
    at[2] += z / pieces;
    if (!level.castRay([at[0], feet + stepM, at[2]], DOWN, 2 * stepM + 0.1, hit)) return null;
    at[1] = hit.position[1] + eyeHeightM;
  }
  return at;
}

const WORDS = ['ahead', 'left and ahead', 'left', 'left and back', 'back', 'right and back', 'right', 'right and ahead'];

/** The shortest way on foot after which it shows, looking as before: rings of growing radius, then halved along the way found. */
function smallestStep(solver: Solver, row: number, inputs: Inputs): Offer | null {
  const { position, rotation } = inputs.head;
  const { yawDeg } = headingOf(rotation);
  const poseAt = (way: number, distanceM: number): Pose | null => {
    const angle = ((yawDeg + (way * 360) / WAYS) * Math.PI) / 180;
    const at = standingAt(solver, [...position], -Math.sin(angle) * distanceM, -Math.cos(angle) * distanceM);
    return at && { position: at, rotation };
  };
  let before = 0;
  for (let distance = 0.2; distance <= FARTHEST_M; distance += distance < 2 ? 0.2 : distance < 5 ? 0.5 : 1) {
    for (let k = 0; k < WAYS; k++) {
      // Straight on first, then to both sides.
      const way = k % 2 ? (k + 1) / 2 : -k / 2;
      const pose = poseAt(way, distance);
      if (!pose || !showsAt(solver, row, inputs, pose)) continue;
      let [low, high] = [before, distance];
      let found = pose;
      for (let halvings = 0; halvings < 6; halvings++) {
        const middle = (low + high) / 2;
        const nearer = poseAt(way, middle);
        if (nearer && showsAt(solver, row, inputs, nearer)) {
          high = middle;
          found = nearer;
        } else low = middle;
      }
      const eighth = ((Math.round((way * 8) / WAYS) % 8) + 8) % 8;
      return { kind: 'place', says: words(Math.max(0.1, high), 'm', WORDS[eighth] as string), cost: high, pose: found };
    }
    before = distance;
  }
  return null;
}

const up = (value: number, step: number): number => Number((Math.ceil(value / step - 1e-9) * step).toFixed(6));
const down = (value: number, step: number): number => Number((Math.floor(value / step + 1e-9) * step).toFixed(6));

const COMPARED = { below: 'below', atMost: 'up to', above: 'above', atLeast: 'from', equals: 'at', differs: 'other than' } as const;
const TURNED = { below: 'above', atMost: 'atLeast', above: 'below', atLeast: 'atMost', equals: 'equals', differs: 'differs' } as const;
/** The bound next to a value with which a comparison holds for it. Seen from the value, a bound lies the other way. */
const boundFor = (condition: Comparison, now: number, feed: Feed, never: boolean): number =>
  Number(meeting({ ...condition, is: TURNED[condition.is], value: now }, { ...feed, range: undefined } as Feed, never));

/** Changes of one setting of the step that says no, each as small as it may be and no smaller. */
function settings(solver: Solver, row: number, step: StepName): Extract<Offer, { kind: 'setting' }>[] {
  const { c } = solver;
  const top = c.root[row] as number;
  const element = c.elements[top] as Element;
  const { range, look, sightline, claim, show, size, place, view } = element;
  const number = (pattern: RegExp): number | null => {
    const says = explain(solver, row).find((link) => link.step === step)?.says ?? '';
    const found = pattern.exec(says)?.[1];
    return found === undefined ? null : Number(found);
  };
  const offer = (says: string, cost: number, part: Partial<Element>): Extract<Offer, { kind: 'setting' }> => ({
    kind: 'setting',
    says,
    // To go a metre is less than to change what holds everywhere.
    cost: 1 + cost,
    step,
    part,
  });
  const out: Extract<Offer, { kind: 'setting' }>[] = [];
  if (step === 'phase' && show && solver.f.phase !== null && show.phases[solver.f.phase] === 'hidden') {
    const { [solver.f.phase]: _, ...phases } = show.phases;
    const name = c.document.phases[solver.f.phase]?.name ?? solver.f.phase;
    out.push(offer(`shown in ${name}`, 1, { show: { ...show, phases } }));
  } else if (step === 'phase' && show)
    // One condition after the other is moved so far that what is now is enough.
    show.conditions.forEach((condition, k) => {
      const feed = condition.kind === 'compare' ? c.document.feeds[condition.feed] : undefined;
      const now = condition.kind === 'compare' ? solver.f.values[c.feedIds.indexOf(condition.feed)] : undefined;
      if (condition.kind !== 'compare' || !feed || typeof now !== 'number' || typeof condition.value !== 'number') return;
      const value = boundFor(condition, now, feed, show.need === 'none');
      const conditions: Condition[] = show.conditions.map((other, j) => (j === k ? { ...condition, value } : other));
      const unit = feed.unit ? ` ${feed.unit}` : '';
      out.push(offer(`${feed.name} ${COMPARED[condition.is]} ${formatValue(value)}${unit}`, 1, { show: { ...show, conditions } }));
    });
  if (step === 'range' && range) {
    const distance = number(/^([\d.]+) of/);
    if (distance !== null) {
      const enterM = up(distance + 0.005, 0.1);
      out.push(
        offer(`within ${enterM} m`, enterM / Math.max(range.enterM, 0.5) - 1, {
          range: { ...range, enterM, leaveM: Math.max(range.leaveM, up(enterM * 1.15, 0.1)) },
        }),
      );
    }
  }
  if (step === 'view' && look?.by === 'cone') {
    const angle = number(/([\d.]+) of [\d.]+ deg/);
    if (angle !== null) {
      const halfDeg = Math.min(180, Math.ceil(angle + 0.5));
      out.push(
        offer(`a cone of ${halfDeg} deg`, halfDeg / look.halfDeg - 1, {
          look: { ...look, halfDeg, leaveDeg: Math.min(180, Math.max(look.leaveDeg, halfDeg + 5)) },
        }),
      );
    }
  }
  if (step === 'view') {
    const outside = number(/^([\d.]+) px outside/);
    if (outside !== null) {
      const outsidePx = Math.ceil(outside / (solver.a.fits[top] as number)) + 1;
      out.push(offer(`${outsidePx} px outside the frame`, outsidePx / 200, { view: { ...view, outsidePx } }));
    }
  }
  if (step === 'size') {
    const natural = number(/text ([\d.]+) px/);
    if (natural !== null) {
      const hideBelowPx = Math.max(0, down(natural / (solver.a.fits[top] as number) - 0.1, 0.5));
      out.push(
        offer(`hidden below ${hideBelowPx} px`, 1 - hideBelowPx / Math.max(size.hideBelowPx, 1), {
          size: { ...size, hideBelowPx } as Element['size'],
        }),
      );
    }
  }
  if (step === 'sightline' && sightline) {
    const covered = number(/covers (\d+) %/) ?? 100;
    // Other nodes may cover more of it; solving again tells.
    const share = down((100 - covered - 1) / 100, 0.05);
    if (share > 0.02 && share < sightline.share)
      out.push(
        offer(`${Math.round(share * 100)} % free is enough`, 1 - share / sightline.share, {
          sightline: { ...sightline, share, leaveShare: Math.min(sightline.leaveShare, share) },
        }),
      );
    out.push(offer('shown through what is in the way', 1.5, { sightline: { ...sightline, answer: 'through' } }));
  }
  if (step === 'claim' && claim) {
    const by = number(/by ([\d.]+)$/);
    if (by !== null) {
      const priority = up(claim.priority + by + 0.01, 0.05);
      out.push(offer(`priority ${priority}`, priority - claim.priority, { claim: { ...claim, priority } }));
    }
  }
  if (step === 'place' && place.stay === 'free') out.push(offer('kept inside the safe area', 0.5, { place: { ...place, stay: 'inside' } }));
  return out;
}

const stateOf = (state: State): { feed: string; value: FeedValue } | { phase: string } =>
  'feed' in state ? { feed: state.feed, value: state.value } : { phase: state.phase };
/** The same feed, or the same phase: the first of them was the smaller change. */
const sameState = (a: { feed: string } | { phase: string }, b: State): boolean =>
  'feed' in a ? 'feed' in b && a.feed === b.feed : 'phase' in b && a.phase === b.phase;

/** Solves again in another state of the game. */
function showsIn({ arranged, inputs, row: id, holding }: Asked, state: State): boolean {
  const { compiled } = arranged;
  let tried: Inputs = inputs;
  if ('phase' in state) tried = { ...inputs, phase: state.phase };
  else if (holding) tried = holding({ [state.feed]: state.value });
  else {
    const values = compiled.feedIds.map((feed, k) => (feed === state.feed ? state.value : (inputs.values ?? initialValues(compiled))[k]));
    tried = { ...inputs, values };
  }
  const solver = makeSolver(arranged);
  solve(solver, { ...tried, stands: true, depthOrder: false });
  const shows = solver.f.failed[compiled.ids.indexOf(id)] === Verdict.Shown;
  if ('feed' in state) holding?.({});
  return shows;
}

/** Solves again with a setting changed. */
function showsWith({ arranged, inputs, row: id, text }: Asked, { part }: { part: Partial<Element> }): boolean {
  const { compiled, viewer, projection, language, device } = arranged;
  const before = compiled.ids.indexOf(id);
  const source = compiled.sources[compiled.root[before] as number] as string;
  const element = compiled.document.elements[source];
  if (!element) return false;
  const document = { ...compiled.document, elements: { ...compiled.document.elements, [source]: { ...element, ...part } as Element } };
  const changed: Compiled = compile(document, compiled.level);
  const solver = makeSolver(arrange(changed, viewer, text, projection, language, device));
  solve(solver, { ...inputs, stands: true, depthOrder: false });
  return solver.f.failed[changed.ids.indexOf(id)] === Verdict.Shown;
}
