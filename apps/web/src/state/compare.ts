/** The open project compared with an earlier revision along its routes: how far that is, what happened, and which change did it. */
import { type CheckPart, type GatheredEffect, gatherEffects, MOST_MOMENTS, type Moment, type RouteEffect } from '@foreshore/checks';
import { type CompareScope, ConflictError, type RevisionAbout, takeBack } from '@foreshore/document';
import { create } from 'zustand';
import { api } from './api.ts';
import { sayFailed } from './notices.ts';
import { change, useProject } from './project.ts';

interface CompareStore {
  project: string | null;
  /** Whether the section is unfolded. */
  opened: boolean;
  /** The earlier revision, as it is chosen. */
  since: number | null;
  /** What the result is of; null before there is one. */
  from: number;
  to: number;
  scope: CompareScope | null;
  results: readonly (CheckPart & { effects: readonly RouteEffect[] })[];
  /** One for each element, the worst first; all that is known so far. */
  effects: readonly GatheredEffect[];
  /** The change that did it, by element, as far as it is known. */
  causes: Readonly<Record<string, RevisionAbout>>;
  /** Of the project as it was then. */
  state: 'none' | 'parts' | 'causes' | 'done' | 'cancelled';
  /** Revisions that were undone since. */
  undone: readonly number[];
}
const none: CompareStore = {
  ...{ project: null, opened: false, since: null, from: 0, to: 0, scope: null, results: [], effects: [], causes: {} },
  ...{ state: 'none', undone: [] },
};
export const useCompare = create<CompareStore>(() => none);
const set = useCompare.setState;

/** So many parts are asked for at once; the server takes them in turns. */
const AT_ONCE = 2;
let going: AbortController | null = null;

/** What was compared of another project is gone. */
export function openCompare(project: string): void {
  if (useCompare.getState().project === project) return;
  going?.abort();
  going = null;
  set({ ...none, project });
}

/** To be compared with: chosen, and shown where that is done. */
export function compareSince(project: string, since: number | null): void {
  openCompare(project);
  set({ since, opened: true });
}

export function cancelCompare(): void {
  going?.abort();
}

async function compareParts(
  project: string,
  between: { from: number; to: number },
  scope: CompareScope,
  stop: AbortController,
): Promise<void> {
  const waiting = [...scope.parts];
  const one = async (): Promise<void> => {
    for (let part = waiting.shift(); part; part = waiting.shift()) {
      const { effects } = await api.comparePart(project, between, part, stop.signal);
      const results = [...useCompare.getState().results, { ...part, effects }];
      const { document } = useProject.getState();
      if (document) set({ results, effects: gatherEffects(document, results) });
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, one));
}

/** What is asked of an effect. */
function momentOf(effect: GatheredEffect): Moment {
  const { element, atS } = effect;
  if (effect.kind === 'short') return { element, atS, kind: effect.kind, short: effect.short };
  return 'px' in effect ? { element, atS, kind: effect.kind, px: effect.px } : { element, atS, kind: effect.kind };
}

/** What happened on one route at one viewer in one language is looked for together. */
async function findCauses(project: string, between: { from: number; to: number }, stop: AbortController): Promise<void> {
  const byPart = new Map<string, GatheredEffect[]>();
  for (const effect of useCompare.getState().effects) {
    const key = `${effect.route} ${effect.viewer} ${effect.language}`;
    byPart.set(key, [...(byPart.get(key) ?? []), effect]);
  }
  for (const effects of byPart.values()) {
    const { route, viewer, language } = effects[0] as GatheredEffect;
    for (let from = 0; from < effects.length; from += MOST_MOMENTS) {
      const moments = effects.slice(from, from + MOST_MOMENTS).map(momentOf);
      const { causes } = await api.compareCauses(project, between, { route, viewer, language }, moments, stop.signal);
      set((s) => ({ causes: { ...s.causes, ...Object.fromEntries(causes.map(({ element, revision }) => [element, revision])) } }));
    }
  }
}

/** Compares the project as it is on the server with the revision that is chosen. */
export async function startCompare(): Promise<void> {
  const { project, since } = useCompare.getState();
  const { revision } = useProject.getState();
  if (!project || since === null || since >= revision) return;
  going?.abort();
  const stop = new AbortController();
  going = stop;
  const between = { from: since, to: revision };
  set({ ...between, scope: null, results: [], effects: [], causes: {}, undone: [], state: 'parts' });
  try {
    const scope = await api.comparison(project, between, stop.signal);
    set({ scope });
    await compareParts(project, between, scope, stop);
    set({ state: 'causes' });
    await findCauses(project, between, stop);
    set({ state: 'done' });
  } catch (error) {
    // Another comparison, or another project, has its place already.
    if (going !== stop) return;
    if (!stop.signal.aborted) sayFailed(`Revision ${since} could not be compared: ${(error as Error).message}`);
    // Whatever else is under way need not be waited for.
    stop.abort();
    set({ state: 'cancelled' });
  } finally {
    if (going === stop) going = null;
  }
}

/** Takes back what one revision changed, in the project as it is; later changes stay. */
export async function undoRevision(number: number): Promise<void> {
  const { project } = useCompare.getState();
  if (!project) return;
  try {
    const [before, after] = await Promise.all([api.revision(project, number - 1), api.revision(project, number)]);
    if (change(`Undo revision ${number}`, (document) => takeBack(document, before, after))) set((s) => ({ undone: [...s.undone, number] }));
  } catch (error) {
    const why = error instanceof ConflictError ? 'what it changed was changed again since.' : (error as Error).message;
    sayFailed(`Revision ${number} cannot be undone by itself: ${why} Look at it among the revisions, or change it by hand.`);
  }
}
