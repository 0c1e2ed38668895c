/**
 * Would show: for a hidden element, the smallest single change of place, of direction, of the game's state or of one setting
 * that shows it. Every offer was solved again with the change made, and showed it: with empty memory, or, on a route, by
 * replaying the route up to the moment. A hysteresis that would help is not counted on.
 */
import {
  type Arranged,
  arrangedLike,
  compile,
  explain,
  headingOf,
  type Inputs,
  initialValues,
  inputsFor,
  type Link,
  lookingPose,
  makeSolver,
  type Pose,
  poseTowards,
  type Solver,
  solve,
  type Vec3,
  Verdict,
} from '@foreshore/core';
import type { Anchor, Document, Element, FeedValue, Route } from '@foreshore/document';
import { statesToTry } from './game-states.ts';
import { walkedTo } from './ground.ts';
import type { GameState, Offer, Target } from './offers.ts';
import { Replay } from './replay.ts';
import { placeOfAnchor, settingsFor } from './settings.ts';

export interface Asked {
  arranged: Arranged;
  /** As the frame was solved in which the element is hidden. */
  inputs: Inputs;
  /** The row's id. */
  row: string;
  /** Places the level and reads the feeds with some more of them held, and gives what to solve with then; `{}` puts all back. */
  holding?: (held: Readonly<Record<string, FeedValue>>) => Inputs;
  /** The frame is one of a route, replayed from its start, with what is held by hand and the phase chosen by hand. */
  replayed?: { route: Route; held: Readonly<Record<string, FeedValue>>; phase: string | null };
}

const FARTHEST_M = 12;
const WAYS = 24;
/** A turn by so many degrees costs as much as a metre. */
const DEG_PER_M = 30;

/** Whether a row shows with a head somewhere, as if it had come there just now. */
function showsAt(solver: Solver, row: number, inputs: Inputs, head: Pose): boolean {
  solve(solver, { ...inputs, head, stands: true, depthOrder: false });
  return solver.f.failed[row] === Verdict.Shown;
}

/** All offers, the smallest first; none where no single change shows the element. */
export function wouldShow(asked: Asked): Offer[] {
  const { arranged, inputs, row: id } = asked;
  const solver = makeSolver(arranged);
  const row = arranged.compiled.ids.indexOf(id);
  if (row < 0) return [];
  const present = asked.replayed ? replayedTo(arranged, asked) : solver;
  if (!asked.replayed) showsAt(solver, row, inputs, inputs.head);
  const no = explain(present, row).find(({ state }) => state === 'no');
  if (!no) return [];
  // Read off the frame as it is, before other places are tried.
  const settings = settingsFor(present, row, no);
  const states = statesToTry(arranged.compiled, row, no.step, [...present.f.values], inputs.forced);
  const offers: (Offer | null)[] = [
    smallestTurn(solver, row, inputs),
    smallestStep(solver, row, inputs),
    ...settings.map((offer) => (showsWith(asked, offer.target) ? offer : null)),
  ];
  for (const { state, cost } of states) {
    // The same feed, or a phase once more: the first of them was the smaller change.
    const isKnown = offers.some((o) => o?.kind === 'state' && subjectOf(o.state) === subjectOf(state));
    if (!isKnown && showsIn(asked, state)) offers.push({ kind: 'state', cost, state });
  }
  return offers.filter((offer) => offer !== null).sort((a, b) => a.cost - b.cost);
}

const subjectOf = (state: GameState): string =>
  'feed' in state ? `feed ${state.feed}` : 'phase' in state ? `phase ${state.phase}` : state.released;

/** The link that refuses a row in a frame; for tests and for those who count. */
export const refusalOf = (solver: Solver, row: number): Link | undefined => explain(solver, row).find(({ state }) => state === 'no');

/** Where what an element is about is, or null. */
function anchorPlace(solver: Solver, row: number): Vec3 | null {
  const { c } = solver;
  const top = c.root[row] as number;
  const gate = c.gateOfRow[top] as number;
  return placeOfAnchor(solver, gate >= 0 ? (c.gateAnchor[gate] as number) : top < c.anchoredCount ? (c.elementAnchor[top] as number) : -1);
}

/** The least turn towards its anchor after which it shows: halved down from the whole turn. */
function smallestTurn(solver: Solver, row: number, inputs: Inputs): Offer | null {
  const target = anchorPlace(solver, row);
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
  return {
    kind: 'turn',
    cost: (high * Math.hypot(yaw, pitch)) / DEG_PER_M,
    pose: turned(high),
    leftDeg: yaw * high,
    upDeg: pitch * high,
  };
}

/** The shortest way on foot after which it shows, looking as before: rings of growing radius, then halved along the way found. */
function smallestStep(solver: Solver, row: number, inputs: Inputs): Offer | null {
  const { position, rotation } = inputs.head;
  const { level, document } = solver.c;
  const { yawDeg } = headingOf(rotation);
  const poseAt = (way: number, distanceM: number): Pose | null => {
    const angle = ((yawDeg + (way * 360) / WAYS) * Math.PI) / 180;
    const at = walkedTo(level, document.body, [...position], -Math.sin(angle) * distanceM, -Math.cos(angle) * distanceM);
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
      return { kind: 'place', cost: high, pose: found, distanceM: high, wayDeg: (-way * 360) / WAYS };
    }
    before = distance;
  }
  return null;
}

/** A solver brought to the moment that is asked about by replaying the route. */
function replayedTo(arranged: Arranged, { inputs, replayed }: Asked, held = replayed?.held ?? {}, phase = replayed?.phase ?? null): Solver {
  const replay = new Replay(arranged, (replayed as NonNullable<Asked['replayed']>).route, { held, phase });
  if (inputs.forced) replay.forced = inputs.forced;
  if (inputs.scrolled) replay.scrolled = inputs.scrolled;
  replay.at(inputs.timeS);
  return replay.solver;
}

/** Solves again in another state of the game. */
function showsIn(asked: Asked, state: GameState): boolean {
  const { arranged, inputs, row: id, holding, replayed } = asked;
  const { compiled } = arranged;
  const row = compiled.ids.indexOf(id);
  const { forced = {} } = inputs;
  const left = 'released' in state ? Object.fromEntries(Object.entries(forced).filter(([other]) => other !== state.released)) : forced;
  if (replayed) {
    const held = 'feed' in state ? { ...replayed.held, [state.feed]: state.value } : replayed.held;
    const phase = 'phase' in state ? state.phase : replayed.phase;
    return replayedTo(arranged, { ...asked, inputs: { ...inputs, forced: left } }, held, phase).f.failed[row] === Verdict.Shown;
  }
  let tried: Inputs = { ...inputs, forced: left };
  if ('phase' in state) tried = { ...tried, phase: state.phase };
  else if ('feed' in state && holding) tried = { ...holding({ [state.feed]: state.value }), forced: left };
  else if ('feed' in state) {
    const values = compiled.feedIds.map((key, k) =>
      key === state.feed || compiled.feedOf[k] === state.feed ? state.value : (inputs.values ?? initialValues(compiled))[k],
    );
    tried = { ...tried, values };
  }
  const solver = makeSolver(arranged);
  solve(solver, { ...tried, stands: true, depthOrder: false });
  if ('feed' in state) holding?.({});
  return solver.f.failed[row] === Verdict.Shown;
}

/** The document with a setting changed. */
export function withTarget(document: Document, { in: collection, id, part }: Target): Document {
  const before = document[collection][id];
  if (!before) return document;
  if (collection === 'anchors') return { ...document, anchors: { ...document.anchors, [id]: { ...before, ...part } as Anchor } };
  return { ...document, elements: { ...document.elements, [id]: { ...before, ...part } as Element } };
}

/** Solves again with a setting changed. */
function showsWith(asked: Asked, target: Target): boolean {
  const { arranged, row: id, replayed } = asked;
  const { given, compiled } = arranged;
  const next = arrangedLike(arranged, compile(withTarget(given.document, target), given.level));
  const changed = next.compiled;
  const inputs = inputsFor(asked.inputs, given, changed);
  const row = changed.ids.indexOf(id);
  if (row < 0) {
    // An anchor that matches other nodes gives its rows other names: one of them must show.
    const source = compiled.sources[compiled.ids.indexOf(id)];
    const rows = changed.sources.flatMap((other, k) => (other === source ? [k] : []));
    const solver = makeSolver(next);
    solve(solver, { ...inputs, stands: true, depthOrder: false });
    return rows.some((one) => solver.f.failed[one] === Verdict.Shown);
  }
  if (replayed) return replayedTo(next, asked).f.failed[row] === Verdict.Shown;
  const solver = makeSolver(next);
  solve(solver, { ...inputs, stands: true, depthOrder: false });
  return solver.f.failed[row] === Verdict.Shown;
}
