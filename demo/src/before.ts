/**
 * Low Water, before: a first draft of the same place with five deliberate faults, each of another kind. A check finds them, and each is
 * mended by one change.
 */
import { type Document, type Element, type Group, insideOf, type Label, makeText, onGlass } from '@foreshore/document';
import { button } from './pieces.ts';

const SEEN = ['lamp-mast', 'sluice-2', 'middle-span'] as const;
const VIEWERS = ['desk', 'television', 'ultrawide'] as const;

const pick = <T>(from: Readonly<Record<string, T>>, ids: readonly string[]): Record<string, T> =>
  Object.fromEntries(ids.map((id) => [id, from[id] as T]));

/** The way out for eight seconds, without the values that the route recorded; there the warden stops, and steps to and fro. */
function pacing({ poses, ...route }: Document['routes'][string]): Document['routes'][string] {
  const [near, far] = [poses.find(({ timeS }) => timeS === 7.5), poses.find(({ timeS }) => timeS === 8.5)];
  if (!near || !far) throw new Error('The route is shorter than the warden walks.');
  const steps = [far, near, far, near].map((pose, k) => ({ ...pose, timeS: 9 + k }));
  const way = [...poses.filter(({ timeS }) => timeS <= 8), ...steps, { ...far, timeS: 16 }];
  return { ...route, name: 'A stop on the causeway', poses: way, feeds: [] };
}

/** As large to the eye on every screen: capitals of 20 arcmin. */
const SIZE = { rule: 'angle', emArcmin: 30, hideBelowPx: 0, leavePx: 0 } as const;

export function beforeOf(low: Document): Document {
  const seen = Object.fromEntries(
    SEEN.map((id) => {
      const { translations: _, ...label } = low.elements[id] as Label;
      return [id, { ...label, text: label.text.split('\n')[0] as string, size: SIZE } as Label];
    }),
  ) as Record<(typeof SEEN)[number], Label>;
  const text = (at: [number, number], words: string, order: string, offset: [number, number] = [0, 0]): Label => ({
    ...makeText(onGlass(at, offset), words, order),
    size: SIZE,
  });
  const { paint } = seen['sluice-2'];
  const slate = low.elements.slate as Group;
  const elements: Record<string, Element> = {
    ...seen,
    // Too little contrast: sand on sand.
    'sluice-2': { ...seen['sluice-2'], paint: { ...paint, colour: '#C9B48E', plate: null, outline: null } },
    // It flickers: it goes as far off as it comes, and just there somebody steps to and fro.
    'middle-span': {
      ...seen['middle-span'],
      range: { from: 'eye', enterM: 15, leaveM: 15, dwellS: 0 },
      // Beside the sluice's name, not on it.
      place: { ...seen['middle-span'].place, ownPoint: [1, 0.5], offsetPx: [-40, 0] },
    },
    // Beyond reach: the slate is carried farther off than the ray reaches.
    slate: {
      ...slate,
      order: 'b05',
      show: { phases: {}, need: 'all', conditions: [], lingerS: 0 },
      layout: { ...slate.layout, align: 'centre' },
      ...(slate.mount.kind === 'trailing' && {
        mount: { ...slate.mount, sizeM: [0.4, 0.17], pxPerM: 850, rightDeg: 0, upDeg: -14, deadDeg: 0 },
      }),
    },
    ...button(insideOf('slate'), 'open-gate', 'Open gate 3', 'open', 'b04'),
    tide: text([0.5, 0.06], 'Low tide at seven', 'b01'),
    // Too small on every screen.
    warmth: { ...text([0.16, 0.9], 'Warm for now', 'b02'), size: { rule: 'screen', emPx: 8, hideBelowPx: 0, leavePx: 0 } },
    // Cut off by the right edge.
    post: text([1, 0.9], 'Post 14', 'b03', [30, 0]),
  };
  const { cursor: _, checks: __, ...rest } = low;
  return {
    ...rest,
    name: 'Low Water, before',
    elements,
    anchors: pick(low.anchors, [...SEEN, 'sluice-1']),
    routes: { out: pacing(low.routes['out-to-the-lamp'] as Document['routes'][string]) },
    viewers: pick(low.viewers, VIEWERS),
    ...{ languages: [], pictures: {}, feeds: pick(low.feeds, ['gate3']) },
    actions: { open: { name: 'Open the gate', order: 'a0', reactions: [{ kind: 'set', when: [], feed: 'gate3', value: 1 }] } },
    ray: { reachM: 0.6, sources: ['aim'] },
    labels: { apart: false },
    level: low.level && { ...low.level, clips: {} },
    opening: { route: 'out', timeS: 8 },
  };
}
