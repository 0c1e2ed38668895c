/** The ground about what is placed, and how much of it routes come near, from the worker of questions. */
import type { Ground } from '@foreshore/checks';
import type { Document } from '@foreshore/document';
import { useEffect } from 'react';
import { create } from 'zustand';
import { useProject } from '../state/project.ts';
import { askWorker } from './asks.ts';

interface GroundStore {
  /** It is drawn in Plan. */
  drawn: boolean;
  /** Of which state of the project it is; null: none was asked for. */
  of: Document | null;
  ground: Ground | null;
  waiting: boolean;
  failed: string | null;
}
export const useGround = create<GroundStore>(() => ({ drawn: false, of: null, ground: null, waiting: false, failed: null }));

/** What it depends on is as it was. */
const isSame = (a: Document | null, b: Document): boolean =>
  a !== null && (['level', 'routes', 'anchors', 'elements', 'body'] as const).every((part) => a[part] === b[part]);

/** Asks for it while somebody looks. */
export function useGroundOf(wanted: boolean): GroundStore {
  const document = useProject((s) => s.document);
  const store = useGround();
  useEffect(() => {
    if (!wanted || !document || isSame(useGround.getState().of, document)) return;
    // Of another level it says nothing while it is worked out.
    useGround.setState(({ of, ground }) => ({
      ...{ of: document, waiting: true, failed: null },
      ground: of?.level === document.level ? ground : null,
    }));
    askWorker({ kind: 'ground', document }, (answer) => {
      // It may be of another state by now.
      if (useGround.getState().of !== document) return;
      if ('ground' in answer) useGround.setState({ ground: answer.ground, waiting: false });
      else useGround.setState({ ground: null, waiting: false, failed: 'failed' in answer ? answer.failed : '' });
    });
  }, [wanted, document]);
  return store;
}
