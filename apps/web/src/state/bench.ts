/** What the bench is looking at and doing. The address carries what a link should restore. */
import { type Link, type Pose, type RaySource, type Shortfall, STEPS, type StepName } from '@foreshore/core';
import type { Device } from '@foreshore/document';
import { useEffect } from 'react';
import { create } from 'zustand';
import { useShallow } from 'zustand/react/shallow';

export type Mode = 'look' | 'place' | 'try';

/** One viewer's verdict on the selection in the present frame. */
export interface Verdict {
  viewer: string;
  shown: boolean;
  /** The link that said no; null where it is shown. */
  no: Link | null;
  /** What of it falls short, where it is shown; how high its letters are at the eye, 0 where it has none. */
  faults: readonly Shortfall[];
  capArcmin: number;
}

/** What the surface under the pointer is, while placing. */
export interface Hover {
  x: number;
  y: number;
  position: [number, number, number];
  normal: [number, number, number];
  node: string;
  moves: boolean;
  distanceM: number;
}

/** What the present frame came to, for whoever shows it in words. */
export interface FrameInfo {
  /** The row that the selection's chain is of, by its id: of the many that an element may stand for, one. */
  row: string | null;
  /** Where an element stands at many nodes: the node that the chain is of, and how many there are. */
  node: { name: string; of: number } | null;
  links: Link[];
  verdicts: Verdict[];
  shownCount: number;
  /** What every other viewer shows now: the elements, by viewer. */
  others: readonly { viewer: string; shown: ReadonlySet<string> }[];
  /** Of the selection, in the viewer's pixels; null where it is not in front. */
  point: [number, number] | null;
  rect: [number, number, number, number] | null;
  selectionShown: boolean;
  pose: Pose;
}

export interface BenchStore {
  viewer: string;
  route: string;
  timeS: number;
  selection: string | null;
  /** Of the many nodes that the selection stands at, the one that is spoken of; null: the one that came farthest in the chain. */
  node: string | null;
  /** Selected besides, in the order in which they were. */
  also: readonly string[];
  mode: Mode;
  outside: boolean;
  /** All that the viewer sees is shown at once: both eyes, or every player. */
  whole: boolean;
  playing: boolean;
  recording: boolean;
  flying: boolean;
  /** The free camera; null while the camera rides on the route. */
  pose: Pose | null;
  openStep: StepName | null;
  /** Rows of the strip: one, many, or all at once. */
  strip: 'one' | 'rows' | 'all';
  hover: Hover | null;
  /** What is placed on a surface is tied to the node there, or to the world. */
  tie: 'node' | 'world';
  /** While trying: the acting element that the pointer is on, and the one being pressed. */
  pointed: string | null;
  pressed: string | null;
  /** Outline what is hidden, where it would be. */
  ghosts: boolean;
  /** What lies in the middle of the view is told. */
  aim: boolean;
  /** Show the places that a label which keeps apart could have, while its Place step is open. */
  choices: boolean;
  /** Show what takes the pointer where. */
  areas: boolean;
  /** What the rail shows of the elements: the selected one, all in their order, or the viewer looked through. */
  rail: 'content' | 'order' | 'viewer';
  /** All feeds are held at these ends, and what goes wrong there is listed. */
  extreme: 'least' | 'greatest' | null;
  /** The language texts are shown in; null: the one they are written in. */
  language: string | null;
  /** Where the selection can be read from is drawn: for the chosen viewer, or for all. */
  area: 'off' | 'viewer' | 'all';
  /** Whose area: that of the element it was switched on for; null: the selection's. */
  areaOf: string | null;
  /** What the player uses; while trying, the one used last. */
  device: Device;
  /** While trying: in a headset that the browser offers. */
  immersed: boolean;
  /** While trying: what the mouse stands for: itself, the middle of the view, a hand that it leads, or the head. */
  pointWith: RaySource;
  /** Whether there are graphics to draw the level with. */
  graphics: 'there' | 'lost';
  /** While trying: where the pointer is, as shares of the picture; how far groups are scrolled, design pixels, by row. */
  cursor: [number, number] | null;
  scrolled: Readonly<Record<string, number>>;
  /** The element whose text is being typed in the picture. */
  typing: string | null;
  info: FrameInfo | null;
}

export const useBench = create<BenchStore>(() => ({
  viewer: '',
  route: '',
  timeS: 0,
  selection: null,
  node: null,
  also: [],
  mode: 'look',
  outside: false,
  whole: false,
  playing: false,
  recording: false,
  flying: false,
  pose: null,
  openStep: null,
  strip: 'rows',
  graphics: 'there',
  hover: null,
  tie: 'node',
  pointed: null,
  pressed: null,
  ghosts: false,
  aim: false,
  choices: false,
  areas: false,
  rail: 'content',
  extreme: null,
  language: null,
  area: 'off',
  areaOf: null,
  device: 'keyboard',
  pointWith: 'mouse',
  immersed: false,
  cursor: null,
  scrolled: {},
  typing: null,
  info: null,
}));

/** Some of it: whoever asks is made anew only when one of these changes, not with every picture. */
export const useBenchPart = <K extends keyof BenchStore>(...keys: K[]): Pick<BenchStore, K> =>
  useBench(useShallow((s) => Object.fromEntries(keys.map((key) => [key, s[key]])) as Pick<BenchStore, K>));

/** Selects one alone, at one of the nodes that it stands at; or with those selected before: then once more lets it go again. */
export function select(id: string | null, besides = false, node: string | null = null): void {
  const { selection, also } = useBench.getState();
  if (!besides || id === null || selection === null) {
    useBench.setState({ selection: id, also: [] });
    // One after the other: another selection lets the node go, even where both stand at the same.
    if (useBench.getState().node !== node) useBench.setState({ node });
    return;
  }
  const all = [selection, ...also];
  const next = all.includes(id) ? all.filter((one) => one !== id) : [...all, id];
  useBench.setState({ selection: next[0] ?? null, also: next.slice(1) });
}

// Whoever selects one without saying more selects that one alone, at none of its nodes in particular.
useBench.subscribe((now, before) => {
  if (now.selection !== before.selection && now.node === before.node && now.node !== null) useBench.setState({ node: null });
  if (now.selection !== before.selection && now.also === before.also && now.also.length > 0) useBench.setState({ also: [] });
});

/** Back to looking about, whatever was going on. */
export const LOOK = { mode: 'look', hover: null, pointed: null, pressed: null, cursor: null } as const;

const round = (v: number, places: number): string => String(Number(v.toFixed(places)));

/** The state as a query; the same state always gives the same one. */
export function toQuery(s: BenchStore): string {
  const query = new URLSearchParams();
  if (s.viewer) query.set('viewer', s.viewer);
  if (s.route) query.set('route', s.route);
  query.set('t', round(s.timeS, 2));
  if (s.selection) query.set('sel', s.selection);
  if (s.selection && s.node) query.set('node', s.node);
  if (s.language) query.set('lang', s.language);
  if (s.whole) query.set('see', 'all');
  if (s.pose) query.set('pose', [...s.pose.position.map((v) => round(v, 3)), ...s.pose.rotation.map((v) => round(v, 5))].join(','));
  return query.toString();
}

/** What a query says; what it says wrongly is left out. */
export function fromQuery(text: string): Partial<BenchStore> {
  const query = new URLSearchParams(text);
  const out: Partial<BenchStore> = {};
  const [viewer, route, selection, node, t, pose, language] = ['viewer', 'route', 'sel', 'node', 't', 'pose', 'lang'].map((key) =>
    query.get(key),
  );
  if (language) out.language = language;
  if (query.get('see') === 'all') out.whole = true;
  // Links to a moment open a step; it is not kept.
  const step = query.get('step');
  if (step && (STEPS as readonly string[]).includes(step)) out.openStep = step as StepName;
  if (viewer) out.viewer = viewer;
  if (route) out.route = route;
  if (selection) out.selection = selection;
  if (selection && node) out.node = node;
  if (t && Number.isFinite(Number(t)) && Number(t) >= 0) out.timeS = Number(t);
  const numbers = (pose ?? '').split(',').map(Number);
  if (numbers.length === 7 && numbers.every(Number.isFinite)) {
    const [px, py, pz, qx, qy, qz, qw] = numbers as [number, number, number, number, number, number, number];
    const length = Math.hypot(qx, qy, qz, qw);
    if (length > 1e-6) out.pose = { position: [px, py, pz], rotation: [qx / length, qy / length, qz / length, qw / length] };
  }
  return out;
}

const ADDRESS_MS = 250;

/** Keeps the address telling what is seen, without filling the history. */
export function useAddress(): void {
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | undefined;
    const write = () => {
      timer = undefined;
      window.history.replaceState(window.history.state, '', `${window.location.pathname}?${toQuery(useBench.getState())}`);
    };
    const stop = useBench.subscribe((now, before) => {
      if (
        now.viewer === before.viewer &&
        now.route === before.route &&
        now.timeS === before.timeS &&
        now.selection === before.selection &&
        now.node === before.node &&
        now.language === before.language &&
        now.pose === before.pose
      )
        return;
      timer ??= setTimeout(write, ADDRESS_MS);
    });
    return () => {
      stop();
      clearTimeout(timer);
    };
  }, []);
}
