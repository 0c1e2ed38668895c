/** What the made-up game does: it walks a route again and again, and its values run as the project simulates them; in the project's convention. */
import { compile, type Level, phaseAt, readValues, routeDurationS, routePose } from '@foreshore/core';
import { type Document, type FeedValue, inOrder, keyAt, partsOfKey } from '@foreshore/document';
import { contractOf } from '@foreshore/handoff/contract';
import { type Convention, fovOut, OWN, pointOut, rotationOut } from '@foreshore/handoff/convention';
import type { Said } from '@foreshore/runtime/connect';

const ASPECT = 16 / 9;
const FOV_DEG = 55;

/** The values of objects, by object. */
function objectsOf(values: Readonly<Record<string, FeedValue | undefined>>): Record<string, Record<string, FeedValue>> {
  const out: Record<string, Record<string, FeedValue>> = {};
  for (const [key, value] of Object.entries(values)) {
    const { id: feed, object } = partsOfKey(key);
    if (object !== null && value !== undefined) (out[object] ??= {})[feed] = value;
  }
  return out;
}

export interface Walk {
  /** All that is so after so many seconds. */
  at(timeS: number): Said;
  /** What happened between two moments. */
  between(fromS: number, toS: number): { feed: string; place: readonly number[] | null }[];
  /** The bench sets a value: the game keeps it. */
  set(feed: string, value: FeedValue, object?: string): void;
  setPhase(phase: string): void;
}

/**
 * @param name of the route; without it the first. @param level for feeds that have a value for each object.
 * @throws Error where there is no route of that name.
 */
export function walkOf(document: Document, name: string | null, level: Level | null = null): Walk {
  const convention: Convention = document.convention ?? OWN;
  const routes = inOrder(document.routes).filter(([, { poses }]) => poses.length > 0);
  const found = name === null ? routes[0] : routes.find(([id, one]) => id === name || one.name === name);
  if (name !== null && !found) throw new Error(`There is no route "${name}"; there are ${routes.map(([id]) => id).join(', ') || 'none'}.`);
  const route = found?.[1] ?? null;
  const compiled = compile(document, level);
  const supplied = contractOf(document).feeds;
  const kept: Record<string, FeedValue> = {};
  let phase: string | null = null;
  const poseAt = (timeS: number) => {
    if (route) return routePose(route, timeS % (routeDurationS(route) || 1));
    // Without a route it turns about where it stands.
    const half = (timeS * Math.PI) / 20;
    return {
      position: [0, document.body.eyeHeightM, 0] as [number, number, number],
      rotation: [0, Math.sin(half), 0, Math.cos(half)] as [number, number, number, number],
    };
  };
  const valuesAt = (timeS: number) => {
    const values = readValues(compiled, route, timeS, poseAt(timeS), kept);
    return Object.fromEntries(compiled.feedIds.map((id, k) => [id, values[k]]));
  };
  return {
    at: (timeS) => {
      const { position, rotation } = poseAt(timeS);
      const values = valuesAt(timeS);
      return {
        timeS,
        camera: { position: pointOut(convention, position), rotation: rotationOut(convention, rotation) },
        lens: { fov: fovOut(convention, FOV_DEG, ASPECT), aspect: ASPECT },
        phase: phase ?? phaseAt(document, route, route ? timeS % (routeDurationS(route) || 1) : timeS),
        feeds: Object.fromEntries(
          supplied.flatMap(({ id, kind }) => (kind === 'event' || values[id] === undefined ? [] : [[id, values[id] as FeedValue]])),
        ),
        objects: objectsOf(values),
      };
    },
    between: (fromS, toS) => {
      const [before, after] = [valuesAt(fromS), valuesAt(toS)];
      return supplied.flatMap(({ id, kind }) => {
        const [was, is] = [before[id], after[id]];
        if (kind !== 'event' || typeof was !== 'object' || typeof is !== 'object' || Array.isArray(was) || Array.isArray(is)) return [];
        return is.number > was.number ? [{ feed: id, place: is.place && pointOut(convention, is.place) }] : [];
      });
    },
    set: (feed, value, object) => {
      kept[keyAt(feed, object ?? null)] = value;
    },
    setPhase: (to) => {
      phase = to;
    },
  };
}
