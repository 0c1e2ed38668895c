/** The open project: its document, what has been done to it, and how saving stands. */
import { type Document, DocumentError, diff, invert, type Patch } from '@foreshore/document';
import { create } from 'zustand';
import { say, sayFailed } from '../state/notices.ts';
import { api } from './api.ts';
import { resetLive } from './live.ts';
import { type SaveState, Sync } from './sync.ts';

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
};
export const useProject = create<ProjectStore>(() => closed);
const set = useProject.setState;
let sync: Sync | null = null;

/** Opens a project, unless it is open already: going from one view to another keeps what can be undone. */
export async function openProject(id: string): Promise<void> {
  const now = useProject.getState();
  if (now.id === id && now.document) return;
  closeProject();
  resetLive();
  set({ ...closed, id });
  try {
    const opened = await api.open(id);
    if (useProject.getState().id !== id) return;
    set({ document: opened.document, revision: opened.revision });
    sync = new Sync(id, opened, {
      changed: (document, revision) => set({ document, revision }),
      state: (save, waiting) => set({ save, waiting }),
      setAside: (patch, why) => {
        say(
          `A change could not be kept: ${why}`,
          { label: 'Copy it', run: () => void navigator.clipboard.writeText(JSON.stringify(patch, null, 2)) },
          'failed',
        );
      },
    });
    set({ document: sync.document, revision: sync.revision });
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
  const { document } = useProject.getState();
  set({ draft: null });
  if (!document || !sync) return false;
  const patch = diff(document, recipe(document));
  if (patch.length === 0) return false;
  return apply({ what, patch, inverse: [] }, (done) =>
    set(({ undoable }) => ({ undoable: [...undoable.slice(-199), done], redoable: [] })),
  );
}

function apply(step: Done, after: (done: Done) => void): boolean {
  const before = useProject.getState().document;
  if (!before || !sync) return false;
  try {
    const inverse = invert(before, step.patch);
    sync.push(step.patch);
    after({ ...step, inverse });
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
