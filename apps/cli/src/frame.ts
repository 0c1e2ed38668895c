/** What the commands about one frame share: a project, a viewer, and where its camera is. */
import { Replay } from '@foreshore/checks';
import {
  type Arranged,
  arrange,
  compile,
  type Inputs,
  makeSolver,
  type Pose,
  partCount,
  phaseAt,
  placeLevel,
  readValues,
  routeDurationS,
  type Solver,
  solve,
  type TextShaper,
} from '@foreshore/core';
import { DEVICES, type Device, type FeedValue, type Route, type Viewer } from '@foreshore/document';
import { type Opened, openProject, shaperOf } from './open.ts';
import { parsePose } from './pose.ts';
import { UsageError } from './usage.ts';

export interface FrameOptions {
  viewer: string;
  route?: string;
  at?: string;
  pose?: string;
  language?: string;
  device?: string;
  phase?: string;
  player?: string;
}

export interface OneFrame extends Opened {
  solver: Solver;
  arranged: Arranged;
  pose: Pose;
  timeS: number;
  text: TextShaper;
  /** Places the level and reads the feeds with some more of them held, and gives what the frame is solved with then. */
  holding: (held: Readonly<Record<string, FeedValue>>) => Inputs;
  /** Of a frame on a route: what it was replayed with. */
  replayed: { route: Route; held: Readonly<Record<string, FeedValue>>; phase: string | null } | null;
}

export const among = (collection: object): string => Object.keys(collection).join(', ') || 'none';
const oneOf = <T>(what: string, collection: Record<string, T>, id: string): T => {
  if (!Object.hasOwn(collection, id)) throw new UsageError(`There is no ${what} "${id}"; there are: ${among(collection)}.`);
  return collection[id] as T;
};

/** The part of a split screen that a player sits before, counted from 1; without one, one's own. */
function partOf(viewer: Viewer, player: string | undefined): number | undefined {
  if (player === undefined) return undefined;
  const count = partCount(viewer);
  const part = Number(player) - 1;
  if (!Number.isInteger(part) || part < 0 || part >= count)
    throw new UsageError(`--player takes 1 to ${count} at this viewer, not "${player}".`);
  return part;
}

export async function frameOf(file: string, options: FrameOptions): Promise<OneFrame> {
  if (options.pose !== undefined && options.route !== undefined) throw new UsageError('Give either --route with --at, or --pose.');
  if (options.pose === undefined && (options.route === undefined || options.at === undefined))
    throw new UsageError('Say where the camera is: --route ID --at SECONDS, or --pose.');
  const given = options.pose === undefined ? null : parsePose(options.pose);
  const timeS = options.at === undefined ? 0 : Number(options.at);
  if (options.at?.trim() === '' || !Number.isFinite(timeS) || timeS < 0)
    throw new UsageError(`--at takes seconds from 0, not "${options.at}".`);
  const device = (options.device ?? 'keyboard') as Device;
  if (!DEVICES.includes(device)) throw new UsageError(`There is no device "${device}"; there are: ${DEVICES.join(', ')}.`);

  const opened = await openProject(file);
  const { document, level } = opened;
  const viewer = oneOf('viewer', document.viewers, options.viewer);
  const languages = [document.language, ...(document.languages ?? [])];
  const language = options.language ?? document.language;
  if (!languages.includes(language)) throw new UsageError(`There is no language "${language}"; there are: ${languages.join(', ')}.`);
  if (options.phase !== undefined) oneOf('phase', document.phases, options.phase);
  const text = shaperOf(opened);
  const compiled = compile(document, level);
  const arranged = arrange(compiled, viewer, text, undefined, language, device, partOf(viewer, options.player));
  const route = options.route === undefined ? null : oneOf('route', document.routes, options.route);
  if (route && timeS > routeDurationS(route))
    throw new UsageError(`--at ${timeS}: the route "${options.route}" ends at ${routeDurationS(route)} s.`);
  let solver: Solver;
  let pose: Pose;
  const holding = (held: Readonly<Record<string, FeedValue>>): Inputs => {
    placeLevel(compiled, route, timeS, pose, held);
    const values = readValues(compiled, route, timeS, pose, held);
    const phase = options.phase ?? phaseAt(document, route, timeS);
    return { timeS, head: pose, depthOrder: true, values, phase };
  };
  if (route) {
    const replay = new Replay(arranged, route, { phase: options.phase ?? null });
    replay.at(timeS);
    solver = replay.solver;
    pose = replay.pose(timeS);
  } else {
    pose = given as Pose;
    solver = makeSolver(arranged);
    solve(solver, holding({}));
  }
  const replayed = route && { route, held: {}, phase: options.phase ?? null };
  return { ...opened, solver, arranged, pose, timeS, text, holding, replayed };
}
