/** Pictures of the moments of findings, for the page that a check writes. */
import { arrangedFor, type CheckPart, type CheckRun, type Finding, replayOf } from '@foreshore/checks';
import { compile } from '@foreshore/core';
import { momentSvg, rowsShown } from '@foreshore/paint';
import { type Opened, shaperOf } from './open.ts';

/** So many pictures: a page of some megabytes can still be opened and sent. */
const MOST_PICTURES = 40;

/** The worst of each kind at each element, the worst first: SVG by the finding's key. */
export function picturesOf(project: Opened, run: CheckRun, findings: readonly Finding[]): Map<string, string> {
  const { document, level, picture } = project;
  const seen = new Set<string>();
  const meant = findings
    .filter(({ kind, element, route }) => route !== null && !seen.has(`${kind} ${element}`) && seen.add(`${kind} ${element}`))
    .slice(0, MOST_PICTURES);
  const of = (part: CheckPart): Finding[] =>
    meant
      .filter(
        ({ route, viewer, language, variant }) =>
          route === part.route && viewer === part.viewer && language === part.language && variant === part.variant,
      )
      .sort((a, b) => a.atS - b.atS);
  const types = new Map(Object.values(document.pictures ?? {}).map(({ hash, type }) => [hash, type]));
  const address = (hash: string): string | undefined => {
    const type = types.get(hash);
    const bytes = type?.startsWith('image/') ? picture(hash) : undefined;
    return bytes && `data:${type};base64,${Buffer.from(bytes).toString('base64')}`;
  };
  const text = shaperOf(project);
  const compiled = compile(document, level);
  const out = new Map<string, string>();
  for (const part of run.parts) {
    const moments = of(part);
    if (moments.length === 0) continue;
    const replay = replayOf(arrangedFor(compiled, part, text), part);
    for (const { key, atS, element } of moments) {
      replay.at(atS);
      out.set(key, momentSvg(replay.solver, replay.pose(atS), rowsShown(replay.solver, element), address));
    }
  }
  return out;
}
