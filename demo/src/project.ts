/** The demo project: more than sixty labelled things in Low Water, the glass in front of them, and three routes past them. */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { poseTowards, type Vec3 } from '@foreshore/core';
import {
  type Anchor,
  type Document,
  EDGE,
  type Element,
  type Label,
  makeDocument,
  makeHeadset,
  makeLabel,
  type Route,
  SPAN,
  type Viewer,
  viewerAs,
} from '@foreshore/document';
import { beforeOf } from './before.ts';
import { callAnchors, callFeeds, calls } from './calls.ts';
import { actions, feeds, glass, phases } from './glass.ts';
import { hungFirst } from './panels.ts';
import { pictureFiles, pictures } from './pictures.ts';
import { clips, promptActions, promptAnchors, promptFeeds, prompts } from './prompts.ts';
import { scopeFeeds } from './scope.ts';
import { STAKE_COMES_LOOSE, stakeFeeds, stakes } from './stakes.ts';
import { CAUSEWAY_TOP_M, causewayAt, groundHeight } from './terrain.ts';

const LEVEL_FILE = 'low-water.glb';
const EYE_M = 1.65;

type Look = (label: Label) => Label;

/** Main things: a paper plate and a leader. */
const plate: Look = (label) => label;
/** As if painted on the thing: larger from near, read from where it is large enough. */
const painted: Look = (label) => ({
  ...label,
  size: { rule: 'world', emM: 0.34, leastPx: 8, greatestPx: 64, hideBelowPx: 0, leavePx: 0 },
});
/** Small fittings: a dark plate close to the thing. */
const fitting: Look = (label) => ({
  ...label,
  size: { rule: 'world', emM: 0.16, leastPx: 18, greatestPx: 34, hideBelowPx: 6, leavePx: 1 },
  place: { ...label.place, offsetPx: [0, -14], leader: { widthPx: 1.5, colour: '#FBF8F0' } },
  paint: { ...label.paint, colour: '#FBF8F0', plate: { colour: '#12445AE6', padEm: [0.45, 0.22], radiusEm: 0.2 } },
});
/** What a warden must find again: at the edge of the picture while it is out of view. */
const marked: Look = (label) => {
  const plated = plate(label);
  return { ...plated, place: { ...plated.place, edge: { ...EDGE, insetPx: [64, 150, 64, 150] } } };
};
/** Below the thing, where a prompt over it has room. */
const hanging: Look = (label) => {
  const fitted = fitting(label);
  return { ...fitted, place: { ...fitted.place, ownPoint: [0.5, 0], offsetPx: [0, 14] } };
};
/** As on a chart, without a plate, gone when far off. */
const numeral: Look = (label) => ({
  ...label,
  size: { rule: 'world', emM: 0.42, leastPx: 15, greatestPx: 40, hideBelowPx: 9, leavePx: 1.5 },
  place: { ...label.place, offsetPx: [0, -6], leader: null },
  paint: { ...label.paint, weight: 700, colour: '#15233B', plate: null, outline: { colour: '#FBF8F0', widthEm: 0.14 } },
});

interface Thing {
  id: string;
  text: string;
  node?: string;
  offset?: Vec3;
  between?: [string, string];
  /** One definition for every node that matches. */
  nodes?: string;
  /** Its node jitters. */
  steady?: NonNullable<Anchor['steady']>;
  look: Look;
}

const THINGS: Thing[] = [
  ...[1, 2, 3].map(
    (n): Thing => ({
      id: `sluice-${n}-wheel`,
      text: `Gate ${n}\n{gate${n}, select, 0 {shut} 1 {open} other {moving}}`,
      node: `Sluice ${n}`,
      offset: [0, 1, 1.54],
      look: hanging,
    }),
  ),
  ...[1, 2, 3].map((n): Thing => ({ id: `sluice-${n}`, text: `Sluice ${n}`, node: `Sluice ${n}`, offset: [0, 3.1, 1.75], look: plate })),
  { id: 'pump-house', text: 'Pump house', node: 'Pump house', offset: [0, 5.1, 0], look: plate },
  { id: 'pump-house-door', text: 'Door', node: 'Pump house door', offset: [0.98, 1.15, 0.08], look: fitting },
  { id: 'control-board', text: 'Control board', node: 'Control board', offset: [0, 1.15, 0.1], look: fitting },
  { id: 'boat-shed', text: 'Boat shed', node: 'Boat shed', offset: [0, 4.6, 0], look: plate },
  { id: 'slipway', text: 'Slipway', node: 'Slipway', offset: [0, 0.4, 12], look: plate },
  { id: 'lamp-mast', text: 'Lamp mast\nLit from dusk', node: 'Lamp', offset: [0, 1.3, 0], look: marked },
  { id: 'tide-board', text: 'Tide board', node: 'Tide board', offset: [0, 2.75, 0], look: painted },
  { id: 'notice', text: 'Causeway closes\nat half tide', node: 'Notice', offset: [0, 1.75, 0.1], look: fitting },
  ...[1, 2, 3, 4].map(
    (n): Thing => ({ id: `mooring-${n}`, text: `Mooring ${n}`, node: `Mooring posts ${n}`, offset: [0, 1.6, 0], look: fitting }),
  ),
  { id: 'dinghy', text: 'Dinghy', node: 'Dinghy', offset: [0, 0.7, 0], look: marked },
  { id: 'wader-1', text: 'Curlew', node: 'Wader 1', offset: [0, 0.6, 0], look: numeral },
  { id: 'wader-5', text: 'Godwit', node: 'Wader 5', offset: [0, 0.6, 0], look: numeral },
  { id: 'gull-1', text: 'Gull', node: 'Gull 1', offset: [0, 0.7, 0], steady: { cutoffHz: 1, perMps: 2 }, look: numeral },
  { id: 'painter', text: 'Between mooring and dinghy', between: ['mooring-4', 'dinghy'], look: numeral },
  { id: 'middle-span', text: 'Middle span', between: ['sluice-1', 'sluice-2'], look: numeral },
  { id: 'stakes', text: 'Stakes', nodes: 'Stake *', offset: [0, 2.5, 0], look: numeral },
];

const at = (x: number, z: number, lift = EYE_M): Vec3 => [x, Math.max(groundHeight(x, z), 0) + lift, z];

function route(
  name: string,
  order: string,
  durationS: number,
  place: (t: number) => Vec3,
  target: (t: number) => Vec3,
  phase = 'roaming',
  feeds: Route['feeds'] = [],
): Route {
  const steps = Math.round(durationS * 2);
  const round = (v: number) => Number(v.toFixed(4));
  const poses = Array.from({ length: steps + 1 }, (_, i) => {
    const t = i / steps;
    const { position, rotation } = poseTowards(place(t), target(t));
    return {
      timeS: i / 2,
      position: position.map(round) as Vec3,
      rotation: rotation.map((v) => Number(v.toFixed(6))) as [number, number, number, number],
    };
  });
  return { name, order, poses, feeds, phases: [{ timeS: 0, phase }] };
}

const onCauseway = (t: number): Vec3 => {
  const { x, z } = causewayAt(t);
  return [x, CAUSEWAY_TOP_M + EYE_M, z];
};

/** A place in the pump house's own space: its door is at +z, its screen at −x. */
const inHouse = ([x, y, z]: Vec3): Vec3 => {
  const [cos, sin] = [Math.cos(-0.12), Math.sin(-0.12)];
  return [-44 + x * cos + z * sin, Math.max(groundHeight(-44, -30), 0) + y, -30 - x * sin + z * cos];
};

/** Where two of the wheels are. */
const WHEEL_1: Vec3 = [-22.37, 1.55, -5.46];
const WHEEL_2: Vec3 = [1.71, 1.55, 5.52];
const mixed = (from: Vec3, to: Vec3, share: number): Vec3 => from.map((v, k) => v + share * ((to[k] as number) - v)) as Vec3;

/** As it is recorded where somebody opens it: in 1.4 s, a value each tenth of a second. */
const doorOpens = (fromS: number): Route['feeds'] =>
  Array.from({ length: 15 }, (_, k) => ({ timeS: Number((fromS + k / 10).toFixed(1)), feed: 'door', value: Number((k / 14).toFixed(4)) }));

const routes = (): Document['routes'] => ({
  'out-to-the-lamp': route(
    'Out to the lamp',
    'a0',
    40,
    (t) => onCauseway(0.02 + 0.9 * t),
    (t) => {
      const [x, y, z] = onCauseway(0.02 + 0.9 * t + 0.12);
      return [x + 3 * Math.sin(t * 14), y - 0.5 - 0.4 * Math.cos(t * 9), z + 3 * Math.sin(t * 11)];
    },
    'roaming',
    STAKE_COMES_LOOSE,
  ),
  'down-the-slipway': route(
    'Down the slipway',
    'a1',
    26,
    (t) => at(-16 + 9 * t, -27 + 26 * t),
    (t) => [-12 + 6 * t, 1.4, -14 + 28 * t],
  ),
  'into-the-pump-house': route(
    'Into the pump house',
    'a3',
    14,
    (t) => inHouse(t < 0.5 ? [0.4, 1.82, 7 - 11 * t] : [0.4 - 2.6 * (t - 0.5), 1.82, 1.5 - 1.6 * (t - 0.5)]),
    (t) => inHouse(t < 0.45 ? [0.2 - 2 * t, 1.75, -3] : [-3.4, 1.75, 0.2]),
    'roaming',
    doorOpens(2.6),
  ),
  'with-the-scope': route(
    'With the scope',
    'a4',
    16,
    (t) => (t < 0.25 ? mixed([5.25, 2.38, 6.75], onCauseway(0.55), t / 0.25) : onCauseway(0.55 - 0.27 * Math.max(0, (t - 0.4) / 0.6))),
    (t) => mixed(WHEEL_2, WHEEL_1, Math.min(1, Math.max(0, (t - 0.25) / 0.12))),
    'scope',
  ),
  'over-the-flats': route(
    'Over the flats',
    'a2',
    36,
    (t) => [58 * Math.cos(0.5 + 3.6 * t), 9 + 7 * Math.sin(Math.PI * t), 6 + 40 * Math.sin(0.5 + 3.6 * t)],
    (t) => [-6 + 12 * t, 0.5, -6 + 8 * t],
    'cinematic',
  ),
});

/** Where panels stand: each before a face of its node. */
const panelAnchors: Record<string, Anchor> = {
  'pump-screen': { kind: 'node', name: 'Pump screen', order: 'b04', node: 'Pump screen', offset: [0, 0, 0.04] },
  'tide-table': { kind: 'node', name: 'By the screen', order: 'b07', node: 'Pump screen', offset: [-1.6, 0, 0.02] },
  'brass-plate': { kind: 'node', name: 'Rail of sluice 2', order: 'b05', node: 'Sluice 2', offset: [1.7, 2.04, -1.35] },
  'folding-notice': { kind: 'node', name: 'Folding notice', order: 'b06', node: 'Notice', offset: [0, 1.45, 0.12] },
};

/** Besides the screens: two wardens on one television, of whom the second comes down the slipway, and a headset. */
const viewers = (screens: Document['viewers']): Document['viewers'] => {
  const couch = viewerAs({ ...(screens.television as Viewer), name: 'Split screen', order: 'a5' }, 'split');
  return {
    ...screens,
    couch: { ...(couch as Extract<Viewer, { kind: 'split' }>), players: [{ route: null }, { route: 'down-the-slipway' }] },
    headset: makeHeadset('Headset', 'a6'),
  };
};

export function demoDocument(): Document {
  const document = makeDocument('Low Water');
  const anchors: Record<string, Anchor> = {};
  const elements: Record<string, Element> = {};
  THINGS.forEach((thing, i) => {
    const order = `a${String.fromCharCode(65 + Math.floor(i / 26))}${String.fromCharCode(97 + (i % 26))}`;
    const name = thing.nodes ? 'Stakes' : (thing.text.split('\n')[0] ?? thing.text);
    anchors[thing.id] = thing.between
      ? { kind: 'midpoint', name, order, first: thing.between[0], second: thing.between[1] }
      : thing.nodes
        ? { kind: 'nodes', name, order, pattern: thing.nodes, property: null, offset: thing.offset ?? [0, 0, 0] }
        : {
            kind: 'node',
            name,
            order,
            node: thing.node ?? name,
            offset: thing.offset ?? [0, 0, 0],
            ...(thing.steady && { steady: thing.steady }),
          };
    if (thing.nodes) Object.assign(elements, stakes(order));
    else elements[thing.id] = { ...thing.look(makeLabel(thing.id, thing.text, order)), name };
  });
  // Where the water comes in, for as long as it is news.
  anchors.surge = { kind: 'event', name: 'Surge', order: 'aZ', feed: 'surge', offset: [0, 1.2, 0] };
  elements.surge = {
    ...plate(makeLabel('surge', 'Surge', 'aZ')),
    show: { phases: {}, need: 'all', conditions: [{ kind: 'changed', feed: 'surge', withinS: 5 }], lingerS: 0 },
  };
  // How far the dinghy lies from its mooring: the text at the middle of the line, whatever of it is seen.
  const line = makeLabel('mooring-4', '{mooringM, number, ::.0} m', 'aY');
  elements['mooring-line'] = {
    ...line,
    name: 'Mooring to dinghy',
    place: { ...line.place, ownPoint: [0.5, 0.5], offsetPx: [0, 0], leader: null, rank: 1, span: { ...SPAN, to: 'dinghy' } },
  };
  return {
    ...document,
    viewers: viewers(document.viewers),
    labels: { apart: true },
    // Everything that can point is switched on; what cannot be used with one of them is found.
    ray: { reachM: 10, sources: ['aim', 'left', 'right', 'head'] },
    level: { file: LEVEL_FILE, hash: null, metresPerUnit: 1, upAxis: 'y', clips: clips() },
    anchors: { ...anchors, ...promptAnchors(), ...panelAnchors, ...callAnchors() },
    elements: glass({ ...elements, ...prompts(), ...calls() }),
    routes: routes(),
    feeds: {
      ...feeds(),
      ...promptFeeds(),
      ...scopeFeeds(),
      ...callFeeds(),
      ...stakeFeeds(),
      mooringM: {
        ...{ name: 'Mooring to dinghy', order: 'aZ9', kind: 'number', unit: 'm', initial: 0, range: [0, 60] },
        source: { kind: 'between', first: 'mooring-4', second: 'dinghy', along: 'space' },
      },
    },
    phases: phases(),
    actions: { ...actions(), ...promptActions() },
    pictures: pictures(),
    languages: ['de', 'ar'],
    // What goes wrong, and why: the wheel's prompt is hidden, a post is in the way.
    opening: { route: 'out-to-the-lamp', timeS: 8, selection: 'prompt-wheel', pose: poseTowards([5.25, 2.38, 6.75], [0.2, 1.75, 5.35]) },
    checks: { accepted: ACCEPTED },
    cursor: { picture: 'needle', overActing: 'needle-lit', hotSpot: [0.083, 0.083], sizePx: 44 },
  };
}

const byMarit = { by: 'Marit', on: '2026-11-20' };
const PAUSED = 'Shown while the game is paused, which no route does.';
const STRANDED = 'Shown once the tide has cut the warden off, which no route waits for.';
/** What a check finds, and is as it should be. */
const ACCEPTED: NonNullable<Document['checks']>['accepted'] = [
  { kind: 'neverShown', element: 'pause-veil', reason: PAUSED, ...byMarit },
  { kind: 'neverShown', element: 'stranded-veil', reason: STRANDED, ...byMarit },
  { kind: 'neverShown', element: 'stranded-sight', reason: STRANDED, ...byMarit },
  { kind: 'unmeasured', element: 'tide-table', reason: 'A page: its letters are measured where it runs, on the bench.', ...byMarit },
];

const fileOf = (name: string): Uint8Array =>
  new Uint8Array(readFileSync(createRequire(import.meta.url).resolve(`@foreshore/demo/${name}`)));

/** What the server seeds. */
export const demo = {
  document: demoDocument,
  /** As it was before its latest revision, and what the two are called. */
  first: () => hungFirst(demoDocument()),
  revisions: ['Brass plate, one side', 'Brass plate, both sides'],
  /** The same place with five faults. */
  before: () => beforeOf(demoDocument()),
  level: () => fileOf('low-water.glb'),
  fileName: LEVEL_FILE,
  pictures: pictureFiles,
  /** A check of it as it is; `npm run demo:measure` takes it anew. */
  lastRun: () => fileOf('last-run.json.gz'),
  /** As the bench drew them; `npm run screenshots` takes them anew. */
  shelf: (which: 'now' | 'before' = 'now') => fileOf(which === 'now' ? 'shelf.jpg' : 'shelf-before.jpg'),
};
