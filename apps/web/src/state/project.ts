/** The open project: its document, what has been done to it, and how saving stands. */
import { applyChange, type Document, DocumentError, diff, forced, type Patch } from '@foreshore/document';
import { create } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import { pause } from '../level/pause.ts';
import { sayFailed } from '../state/notices.ts';
import { api, clientId } from './api.ts';
import { toldCheck } from './checks.ts';
import { resetLive } from './live.ts';
import { type SaveState, Sync } from './sync.ts';
import { asideOf, dropAside, holdTab, type SetAside } from './unsent.ts';

interface Done {
  what: string;
  patch: Patch;
  inverse: Patch;
}

interface ProjectStore {
  id: string | null;
  document: Document | null;
  /** A change under way (a drag, a colour being chosen): shown everywhere, not yet made. */
  draft: Document | null;
  revision: number;
  save: SaveState;
  waiting: number;
  failed: string | null;
  undoable: Done[];
  redoable: Done[];
  /** Own changes that lost against others, until somebody says what becomes of them. */
  aside: SetAside[];
}

const closed: ProjectStore = {
  id: null,
  document: null,
  draft: null,
  revision: 0,
  save: 'saved',
  waiting: 0,
  failed: null,
  undoable: [],
  redoable: [],
  aside: [],
};
export const useProject = create<ProjectStore>(() => closed);
const set = useProject.setState;

/** Some of it: what shows these alone is made anew when they change. */
export const useProjectPart = <K extends keyof ProjectStore>(...keys: K[]): Pick<ProjectStore, K> =>
  useProject(useShallow((s) => Object.fromEntries(keys.map((key) => [key, s[key]])) as Pick<ProjectStore, K>));
let sync: Sync | null = null;

const isOpen = (id: string): boolean => useProject.getState().id === id;

/** Opens a project, unless it is open already: going from one view to another keeps what can be undone. */
export async function openProject(id: string): Promise<void> {
  const now = useProject.getState();
  if (now.id === id && now.document) return;
  closeProject();
  resetLive();
  set({ ...closed, id });
  holdTab(clientId);
  try {
    const opened = await api.open(id);
    if (useProject.getState().id !== id) return;
    set({ document: opened.document, revision: opened.revision });
    const own = await Sync.open(opened, {
      changed: (document, revision) => isOpen(id) && set({ document, revision }),
      state: (save, waiting) => isOpen(id) && set({ save, waiting }),
      check: (progress) => toldCheck(id, progress),
      setAside: (aside) => isOpen(id) && set((s) => ({ aside: [...s.aside, aside] })),
      keepsNothing: () =>
        sayFailed('The store of this browser does not answer: until it does, what is not saved yet is lost when the tab is closed.'),
    });
    if (!isOpen(id)) return own.close();
    sync = own;
    const aside = await asideOf(id).catch(() => []);
    set((s) => ({
      aside: [...aside, ...s.aside.filter((one) => !aside.some((known) => known.id === one.id))],
    }));
  } catch (error) {
    if (useProject.getState().id === id) set({ failed: (error as Error).message });
  }
}

export function closeProject(): void {
  sync?.close();
  sync = null;
  set(closed);
}

/** What is shown: the draft where something is under way. */
export const shownDocument = (s: ProjectStore): Document | null => s.draft ?? s.document;

/** Shows a change without making it. */
export const draft = (recipe: (document: Document) => Document): void => {
  const { document } = useProject.getState();
  if (document) set({ draft: recipe(document) });
};
export const dropDraft = (): void => set({ draft: null });

/** Makes a change: one entry of undo, sent to the server. False where nothing changed or it would not be a document. */
export function change(what: string, recipe: (document: Document) => Document): boolean {
  const { document, draft } = useProject.getState();
  if (draft) set({ draft: null });
  if (!document) return false;
  if (!sync) {
    sayFailed(`${what} was not done: the project is still being opened. Do it again in a moment.`);
    return false;
  }
  const patch = diff(document, recipe(document));
  if (patch.length === 0) return false;
  return apply({ what, patch, inverse: [] }, toUndo);
}

const toUndo = (done: Done): void => set(({ undoable }) => ({ undoable: [...undoable.slice(-199), done], redoable: [] }));

/** The same in two turns, judged in the first and shown in the second: a key that is held down keeps the page for neither for long. */
export function changeSoon(what: string, recipe: (document: Document) => Document): void {
  const { id, document, draft } = useProject.getState();
  if (!document || !sync || draft) {
    change(what, recipe);
    return;
  }
  const patch = diff(document, recipe(document));
  if (patch.length === 0) return;
  let judged: Document | undefined;
  try {
    judged = applyChange(document, patch);
  } catch {
    // It is told in the second turn.
  }
  void pause().then(() => {
    const now = useProject.getState();
    if (now.document === document && sync?.document === document && !now.draft && judged)
      apply({ what, patch, inverse: [] }, toUndo, judged);
    // Something else came between: it is done to what there is now, unless that is another project.
    else if (now.id === id && now.document) change(what, recipe);
  });
}

function apply(step: Done, after: (done: Done) => void, judged?: Document): boolean {
  const before = useProject.getState().document;
  if (!before || !sync) return false;
  try {
    sync.push(step.patch, step.what, judged);
    after({ ...step, inverse: diff(sync.document, before) });
    return true;
  } catch (error) {
    sayFailed(
      error instanceof DocumentError
        ? `${step.what} was not done. ${error.message}`
        : `${step.what} cannot be done: it was changed elsewhere since.`,
    );
    return false;
  }
}

export function undo(): void {
  const last = useProject.getState().undoable.at(-1);
  if (!last) return;
  set(({ undoable }) => ({ undoable: undoable.slice(0, -1) }));
  apply({ what: last.what, patch: last.inverse, inverse: last.patch }, () => set(({ redoable }) => ({ redoable: [...redoable, last] })));
}

export function redo(): void {
  const last = useProject.getState().redoable.at(-1);
  if (!last) return;
  set(({ redoable }) => ({ redoable: redoable.slice(0, -1) }));
  apply(last, (done) => set(({ undoable }) => ({ undoable: [...undoable, done] })));
}

async function settle(aside: readonly SetAside[]): Promise<void> {
  const ids = aside.map(({ id }) => id);
  set((s) => ({ aside: s.aside.filter(({ id }) => !ids.includes(id)) }));
  await dropAside(ids);
}

/** Makes changes that lost all the same, over what stands there now; each is one entry of undo. What cannot be made stays in the list. */
export async function takeMine(aside: readonly SetAside[]): Promise<void> {
  const done: SetAside[] = [];
  for (const one of aside) {
    try {
      const { document } = useProject.getState();
      if (!document) return;
      const wanted = forced(document, one.patch);
      // What stands as it was wanted is settled; what is refused stays in the list, and was told.
      if (diff(document, wanted).length === 0 || change(one.what || 'Take my change', () => wanted)) done.push(one);
    } catch (error) {
      sayFailed(`${one.what || 'A change'} cannot be made any more: ${(error as Error).message}`);
    }
  }
  await settle(done);
}

/** Gives up changes that lost. */
export const keepTheirs = (aside: readonly SetAside[]): Promise<void> => settle(aside);
