/** `foreshore solve`: one frame of one viewer, as numbers and as a picture of the overlay. */
import { writeFileSync } from 'node:fs';
import { Replay } from '@foreshore/checks';
import {
  arrange,
  compile,
  drawList,
  makeSolver,
  opacityOf,
  type Pose,
  placeLevel,
  placeOf,
  readValues,
  routeDurationS,
  type Solver,
  STEPS,
  solve,
  Verdict,
} from '@foreshore/core';
import { paintSvg } from '@foreshore/paint';
import { shippedShaper } from '@foreshore/text/node';
import { openProject } from './open.ts';
import { parsePose } from './pose.ts';
import { UsageError } from './usage.ts';

export interface SolveOptions {
  viewer: string;
  route?: string;
  at?: string;
  pose?: string;
  json?: boolean;
  svg?: string;
  language?: string;
}

const among = (collection: object): string => Object.keys(collection).join(', ') || 'none';

export async function solveCommand(file: string, options: SolveOptions): Promise<string> {
  if (options.pose !== undefined && options.route !== undefined) throw new UsageError('Give either --route with --at, or --pose.');
  if (options.pose === undefined && (options.route === undefined || options.at === undefined))
    throw new UsageError('Say where the camera is: --route ID --at SECONDS, or --pose.');
  if (!options.json && !options.svg) throw new UsageError('Say what to give: --json, --svg FILE, or both.');
  const given = options.pose === undefined ? null : parsePose(options.pose);
  const timeS = options.at === undefined ? 0 : Number(options.at);
  if (!Number.isFinite(timeS) || timeS < 0) throw new UsageError(`--at takes seconds from 0, not "${options.at}".`);

  const { document, level, picture, font } = await openProject(file);
  const viewer = Object.hasOwn(document.viewers, options.viewer) ? document.viewers[options.viewer] : undefined;
  if (!viewer) throw new UsageError(`There is no viewer "${options.viewer}"; there are: ${among(document.viewers)}.`);
  const languages = [document.language, ...(document.languages ?? [])];
  const language = options.language ?? document.language;
  if (!languages.includes(language)) throw new UsageError(`There is no language "${language}"; there are: ${languages.join(', ')}.`);
  const text = shippedShaper();
  for (const { hash, name, weight } of Object.values(document.fonts ?? {})) {
    const bytes = font(hash);
    if (bytes) text.addFont?.(name, weight, bytes);
  }
  const arranged = arrange(compile(document, level), viewer, text, undefined, language);
  let solver: Solver;
  let pose: Pose;
  if (given) {
    pose = given;
    solver = makeSolver(arranged);
    placeLevel(solver.c, null, timeS, pose, {});
    solve(solver, { timeS, head: pose, views: [], depthOrder: true, values: readValues(solver.c, null, timeS, pose, {}) });
  } else {
    const id = options.route as string;
    const route = Object.hasOwn(document.routes, id) ? document.routes[id] : undefined;
    if (!route) throw new UsageError(`There is no route "${id}"; there are: ${among(document.routes)}.`);
    if (timeS > routeDurationS(route)) throw new UsageError(`--at ${timeS}: the route "${id}" ends at ${routeDurationS(route)} s.`);
    const replay = new Replay(arranged, route);
    replay.at(timeS, true);
    solver = replay.solver;
    pose = replay.pose(timeS);
  }
  if (options.svg) {
    const types = new Map(Object.values(document.pictures ?? {}).map(({ hash, type }) => [hash, type]));
    const address = (hash: string) => {
      const bytes = picture(hash);
      return bytes && `data:${types.get(hash)};base64,${Buffer.from(bytes).toString('base64')}`;
    };
    writeFileSync(options.svg, paintSvg(drawList(solver), address));
  }
  if (!options.json) return '';
  const elements = solver.c.ids.map((id, i) => {
    const failed = solver.f.failed[i] as Verdict;
    const { point, depthM, rect } = placeOf(solver.f, i);
    const shown = failed === Verdict.Shown;
    const seen = !Number.isNaN(point[0]) && failed !== Verdict.Attach;
    return {
      id,
      shown,
      failed: shown ? null : STEPS[failed],
      point: seen ? point : null,
      depthM: failed === Verdict.Attach ? null : depthM,
      rect: shown ? rect : null,
      opacity: shown ? opacityOf(solver, i) : 0,
    };
  });
  return `${JSON.stringify({ viewer: options.viewer, timeS, pose, elements }, null, 2)}\n`;
}
