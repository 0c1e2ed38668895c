/** Checks of the open project: those there are, what the newest whole one found, and how one that runs gets on. */
import { type CheckPart, type CheckRun, type FindingMend, MEASURING, measuresAlike, type PartResult, partKey } from '@foreshore/checks';
import type { CheckAbout, CheckProgress, Document } from '@foreshore/document';
import { create } from 'zustand';
import { api } from './api.ts';
import { sayFailed } from './notices.ts';

interface ChecksStore {
  project: string | null;
  list: readonly CheckAbout[] | null;
  /** The check that is shown, and what it measured; of one that runs, so far. */
  shown: number | null;
  run: CheckRun | null;
  /** The project as a check has measured it, where it has been seen so. */
  measured: { check: number; document: Document } | null;
  /** The one it is compared with. */
  against: number | null;
  before: CheckRun | null;
  progress: CheckProgress | null;
  /** Mends that were taken since, by the keys of the findings. */
  mended: Readonly<Record<string, FindingMend>>;
}
const none: ChecksStore = {
  ...{ project: null, list: null, shown: null, run: null, measured: null, against: null, before: null, progress: null },
  mended: {},
};
export const useChecks = create<ChecksStore>(() => none);
const set = useChecks.setState;
const isOpen = (project: string): boolean => useChecks.getState().project === project;

/** While one runs, what it has measured is asked for no more often than this. */
const PARTIAL_MS = 1500;
let askedMs = 0;

/** Shows what a check measured. */
export async function showCheck(id: number | null): Promise<void> {
  const { project } = useChecks.getState();
  if (!project) return;
  if (id === null) return set({ shown: null, run: null });
  try {
    const run = await api.check(project, id);
    if (isOpen(project)) set(({ shown, mended }) => ({ shown: id, run, mended: shown === id ? mended : {} }));
  } catch (error) {
    if (isOpen(project)) sayFailed((error as Error).message);
  }
}
/** Compares with another one; null: with none. */
export async function compareWith(id: number | null): Promise<void> {
  const { project } = useChecks.getState();
  if (!project) return;
  if (id === null) return set({ against: null, before: null });
  try {
    const before = await api.check(project, id);
    if (isOpen(project)) set({ against: id, before });
  } catch (error) {
    if (isOpen(project)) sayFailed((error as Error).message);
  }
}

export async function openChecks(project: string): Promise<void> {
  if (!isOpen(project)) set({ ...none, project });
  try {
    const { checks } = await api.checks(project);
    if (!isOpen(project)) return;
    const [newest] = checks;
    const runs = newest?.state === 'running' ? newest : null;
    set({ list: checks, progress: runs && { id: runs.id, state: 'running', done: runs.kept, of: runs.parts, part: null } });
    const whole = runs ?? checks.find(({ state }) => state === 'done');
    await showCheck(whole?.id ?? null);
  } catch (error) {
    if (isOpen(project)) sayFailed((error as Error).message);
  }
}

/** How the project is at a revision: if it is the one that the check that is shown has measured, what is asked about its findings need not measure it. */
export const tellState = (document: Document, revision: number): void =>
  set(({ shown, list, measured }) => {
    const about = list?.find(({ id }) => id === shown);
    return about?.revision === revision && measured?.check !== about.id ? { measured: { check: about.id, document } } : {};
  });

/** What the check that is shown has measured of some parts, if it was of this state of the project. */
export function knownOf(document: Document, parts: readonly CheckPart[]): PartResult[] {
  const { run, shown, measured } = useChecks.getState();
  if (!run || run.measuring !== MEASURING || measured?.check !== shown || !measuresAlike(measured.document, document)) return [];
  const keys = new Set(parts.map(partKey));
  return run.results.filter((result) => keys.has(partKey(result)));
}

/** Findings were mended in the document, by their keys; they are measured with the next check. */
export const tellMended = (mends: Readonly<Record<string, FindingMend>>): void =>
  set(({ mended }) => ({ mended: { ...mended, ...mends } }));

export async function startCheck(): Promise<void> {
  const { project } = useChecks.getState();
  if (!project) return;
  try {
    const about = await api.startCheck(project);
    if (!isOpen(project)) return;
    const { progress } = useChecks.getState();
    set((s) => ({
      list: [about, ...(s.list ?? []).filter(({ id }) => id !== about.id)],
      progress: progress?.id === about.id ? progress : { id: about.id, state: 'running', done: about.kept, of: about.parts, part: null },
    }));
  } catch (error) {
    sayFailed((error as Error).message);
  }
}
export async function cancelCheck(): Promise<void> {
  const { project } = useChecks.getState();
  if (project) await api.cancelCheck(project).catch((error: Error) => sayFailed(error.message));
}

/** What the live line tells. */
export function toldCheck(project: string, progress: CheckProgress): void {
  if (!isOpen(project)) return;
  if (progress.state !== 'running') {
    set({ progress: null });
    if (progress.state === 'failed')
      void api.checks(project).then(({ checks }) => sayFailed(checks.find(({ id }) => id === progress.id)?.why ?? 'The check failed.'));
    void openChecks(project);
    return;
  }
  set({ progress });
  const nowMs = performance.now();
  if (progress.part && nowMs - askedMs > PARTIAL_MS) {
    askedMs = nowMs;
    void api.check(project, progress.id).then(
      (run) => isOpen(project) && useChecks.getState().progress?.id === progress.id && set({ shown: progress.id, run }),
      () => undefined,
    );
  }
}
