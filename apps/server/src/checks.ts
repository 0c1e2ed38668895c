/**
 * Checks of projects: measured in workers beside the requests, part by part; what an earlier check measured of the same is taken over.
 * One at a time for each project; the last whole one stays whatever becomes of the next.
 */
import { createHash } from 'node:crypto';
import { setMaxListeners } from 'node:events';
import {
  beginRun,
  type CheckPart,
  type CheckRun,
  checkParts,
  chosenOf,
  findingsOf,
  type PartResult,
  partContent,
  partKey,
  type Trial,
  variantsFor,
} from '@foreshore/checks';
import { applyChange, type CheckAbout, type Document, type Patch } from '@foreshore/document';
import type { Live } from './live.ts';
import { Problem } from './problem.ts';
import type { Readers } from './readers.ts';
import type { EndedCheck, Store } from './store.ts';
import type { Turns } from './turns.ts';

interface Going {
  id: number;
  run: CheckRun;
  results: Map<string, PartResult>;
  stop: AbortController;
}

const sha256 = (text: string): string => createHash('sha256').update(text).digest('hex');

/** What each part's result depends on, by part; what is the same for a language is gone through once. */
export function digestsOf(document: Document, parts: readonly CheckPart[]): Record<string, string> {
  const shared = new Map(
    [...new Set(parts.map(({ language }) => language))].map((tag) => [tag, sha256(partContent.shared(document, tag))]),
  );
  return Object.fromEntries(
    parts.map((part) => [partKey(part), sha256(`${shared.get(part.language)} ${partContent.own(document, part)}`)]),
  );
}

/** Results of parts, and by part what each depends on. */
export interface Measured {
  results: PartResult[];
  digests: Record<string, string>;
}

/** How many findings of each kind there are. */
function countsOf(run: CheckRun): Record<string, number> {
  const counts: Record<string, number> = {};
  for (const { kind } of findingsOf(run)) counts[kind] = (counts[kind] ?? 0) + 1;
  return counts;
}

/** A part that is asked for by whoever knows its names. */
type Asked = Omit<CheckPart, 'variant'> & { variant?: string | undefined };

export class Checks {
  private readonly going = new Map<string, Going>();

  constructor(
    private readonly store: Store,
    private readonly readers: Readers,
    private readonly live: Live,
    private readonly turns: Turns,
  ) {}

  /** @throws Problem 409 where one is under way; 422 where there is nothing to check along. */
  start(project: string): CheckAbout {
    if (this.going.has(project)) throw new Problem(409, 'checking', 'This project is being checked already. Wait, or cancel that.');
    const { document, revision } = this.store.read(project);
    const parts = partsOf(document);
    const digests = digestsOf(document, parts);
    const kept = this.known(project, digests);
    const id = this.store.beginCheck({ projectId: project, revision, parts: parts.length, kept: kept.size });
    const digest = sha256(JSON.stringify(document));
    const going = { id, run: beginRun(document, digest, parts), results: kept, stop: new AbortController() };
    this.going.set(project, going);
    // Every part listens whether it is let go.
    setMaxListeners(0, going.stop.signal);
    void this.measure(project, document, going, digests);
    return this.about(project, id);
  }

  /** Results of the last whole check that are of the same content. */
  private known(project: string, digests: Readonly<Record<string, string>>): Map<string, PartResult> {
    const last = this.store.checks(project).find(({ state }) => state === 'done');
    const whole = last && this.store.check(project, last.id);
    return new Map(
      (whole?.run.results ?? []).flatMap((result) => {
        const key = partKey(result);
        return digests[key] !== undefined && digests[key] === whole?.digests[key] ? [[key, result] as const] : [];
      }),
    );
  }

  /** A check that was measured elsewhere: it is kept where it is whole, and of what the project holds now; else it is let go. */
  bring(project: string, { results, digests: measured }: Measured): void {
    const { document, revision } = this.store.read(project);
    const parts = partsOf(document);
    const digests = digestsOf(document, parts);
    const known = new Map(results.map((result) => [partKey(result), result]));
    const found = parts.flatMap((part) => {
      const key = partKey(part);
      return measured[key] === digests[key] ? (known.get(key) ?? []) : [];
    });
    if (found.length < parts.length) return;
    const run = { ...beginRun(document, sha256(JSON.stringify(document)), parts), results: found };
    const id = this.store.beginCheck({ projectId: project, revision, parts: parts.length, kept: 0 });
    this.store.endCheck(id, { state: 'done', counts: countsOf(run), run, digests });
  }

  private async measure(project: string, document: Document, going: Going, digests: Record<string, string>): Promise<void> {
    const { id, run, results, stop } = going;
    const waiting = run.parts.filter((part) => !results.has(partKey(part)));
    const tell = (state: CheckAbout['state'], part: CheckPart | null) =>
      this.live.publishCheck(project, { id, state, done: results.size, of: run.parts.length, part });
    tell('running', null);
    const one = async (): Promise<void> => {
      for (let part = waiting.shift(); part && !stop.signal.aborted; part = waiting.shift()) {
        results.set(partKey(part), await this.measured(document, part, stop.signal));
        tell('running', part);
      }
    };
    let ended: EndedCheck;
    try {
      await Promise.all(Array.from({ length: this.turns.most }, one));
      const whole = { ...run, results: run.parts.flatMap((part) => results.get(partKey(part)) ?? []) };
      ended = stop.signal.aborted ? { state: 'cancelled' } : { state: 'done', counts: countsOf(whole), run: whole, digests };
    } catch (error) {
      ended = stop.signal.aborted ? { state: 'cancelled' } : { state: 'failed', why: (error as Error).message };
      stop.abort();
    }
    this.going.delete(project);
    try {
      this.store.endCheck(id, ended);
    } catch (error) {
      // The disk is full, or the server is being closed: it counts as cut short when it is read again.
      ended = { state: 'failed', why: (error as Error).message };
    }
    tell(ended.state, null);
  }

  /**
   * A part as it is at a revision, and as it would be with a change. What the last check measured of the same is taken over.
   * @throws Problem 404 where there is no such part.
   */
  async trial(
    project: string,
    base: number,
    patch: Patch,
    { route, viewer, language, variant }: Asked,
    signal: AbortSignal,
  ): Promise<Trial> {
    const document = this.store.documentAt(project, base);
    const changed = applyChange(document, patch);
    const of = (one: Document): CheckPart | undefined =>
      checkParts(one, { variants: variantsFor(one) }).find(
        (part) => part.route === route && part.viewer === viewer && part.language === language && part.variant === variant,
      );
    const [part, then] = [of(document), of(changed)];
    if (!part || !then) throw new Problem(404, 'part', `Route ${route} at viewer ${viewer} in ${language} is no part of this project.`);
    const known = this.known(project, digestsOf(document, [part])).get(partKey(part));
    const was = known ?? (await this.measured(document, part, signal));
    return { was, is: await this.measured(changed, part, signal) };
  }

  private async measured(document: Document, part: CheckPart, signal: AbortSignal): Promise<PartResult> {
    const digest = sha256(JSON.stringify(document));
    const { results: [result] = [] } = await this.turns.take(async () => {
      if (signal.aborted) throw new Problem(499, 'cancelled', 'It was let go while it waited.');
      return this.readers.read({ kind: 'check', document, digest, parts: [part], fileName: document.name }, { signal });
    });
    return result as PartResult;
  }

  /** False where none is under way. */
  cancel(project: string): boolean {
    const going = this.going.get(project);
    going?.stop.abort();
    return going !== undefined;
  }

  /** All there are, the newest first. */
  list(project: string): CheckAbout[] {
    return this.store.checks(project);
  }
  about(project: string, id: number): CheckAbout {
    const found = this.store.checks(project).find((one) => one.id === id);
    if (!found) throw new Problem(404, 'not-found', 'There is no such check.');
    return found;
  }

  /** What one measured; of the one under way, so far. @throws Problem 404. */
  read(project: string, id: number): CheckRun {
    const going = this.going.get(project);
    if (going?.id === id) return { ...going.run, results: going.run.parts.flatMap((part) => going.results.get(partKey(part)) ?? []) };
    const whole = this.store.check(project, id);
    if (!whole) throw new Problem(404, 'not-found', 'Of this check nothing is kept.');
    return whole.run;
  }

  close(): void {
    for (const { stop } of this.going.values()) stop.abort();
  }
}

/** @throws Problem 422 where there is nothing to measure. */
function partsOf(document: Document): CheckPart[] {
  const nothing = (why: string) => new Problem(422, 'nothing-to-check', why);
  if (Object.keys(document.routes).length === 0)
    throw nothing('The project has no route: there is nothing to check along. Record one on the bench, or draw one in Plan.');
  const parts = checkParts(document, chosenOf(document));
  if (parts.length === 0)
    throw nothing('Of all that is chosen to be checked nothing is there any more: choose a route, a viewer and a language.');
  const empty = parts.find(({ route }) => document.routes[route]?.poses.length === 0);
  if (empty) throw nothing(`The route "${document.routes[empty.route]?.name}" has no poses: record it anew, or leave it out.`);
  return parts;
}
