/** An open project with its level and the engine behind its pictures, for the views that show them. */
import { type Document, inOrder } from '@foreshore/document';
import { useEffect, useRef, useState } from 'react';
import { Engine } from '../engine/engine.ts';
import { fromQuery, useBench } from '../state/bench.ts';
import { useLive } from '../state/live.ts';
import { openProject, shownDocument, useProject, useProjectPart } from '../state/project.ts';
import { lookAsRecorded, lookUnder } from './look-under.ts';

declare global {
  interface Window {
    /** For tests and benchmarks: the engine behind the picture. */
    foreshore?: { engine: Engine; bench: typeof useBench; project: typeof useProject; live: typeof useLive };
  }
}

export function useOpened(id: string): { kept: Document | null; engine: Engine | null; failed: string | null } {
  const { document: kept, failed } = useProjectPart('document', 'failed');
  const shown = useProject(shownDocument);
  const [engine, setEngine] = useState<Engine | null>(null);
  const [broken, setBroken] = useState<string | null>(null);
  const loaded = kept !== null;
  const asked = useRef('');
  const loadedOf = useRef('');

  useEffect(() => {
    asked.current = window.location.search;
    lookAsRecorded();
    useBench.setState({ ...useBench.getInitialState(), ...fromQuery(window.location.search) }, true);
    void openProject(id);
  }, [id]);

  // The engine stands as long as the level does.
  const levelKey = JSON.stringify(kept?.level ?? null);
  useEffect(() => {
    if (!kept) return;
    document.title = `${kept.name} - Foreshore`;
    const state = useBench.getState();
    const viewers = inOrder(kept.viewers);
    const routes = inOrder(kept.routes);
    useBench.setState({
      viewer: kept.viewers[state.viewer] ? state.viewer : (viewers[0]?.[0] ?? ''),
      route: kept.routes[state.route] ? state.route : (routes[0]?.[0] ?? ''),
      selection: state.selection && kept.elements[state.selection] ? state.selection : null,
    });
    // What is asked for in the address goes before what the project opens with.
    if (asked.current === '' && kept.opening) {
      const { route, ...opening } = kept.opening;
      useBench.setState({ ...opening, ...(route !== undefined && kept.routes[route] && { route }) });
      asked.current = 'opened';
    }
    if (loadedOf.current !== id) {
      loadedOf.current = id;
      lookUnder(kept, new URLSearchParams(asked.current).get('under'));
    }
    let made: Engine | null = null;
    let left = false;
    Engine.make(kept)
      .then((ready) => {
        if (left) return ready.dispose();
        made = ready;
        window.foreshore = { engine: ready, bench: useBench, project: useProject, live: useLive };
        setEngine(ready);
      })
      .catch((error: unknown) => {
        if (!left) setBroken((error as Error).message);
      });
    return () => {
      left = true;
      made?.dispose();
      setEngine(null);
      delete window.foreshore;
    };
  }, [loaded, id, levelKey]);

  useEffect(() => {
    if (shown) engine?.setDocument(shown);
    const { selection } = useBench.getState();
    if (selection && shown && !shown.elements[selection]) useBench.setState({ selection: null, typing: null, openStep: null });
  }, [engine, shown]);

  return { kept, engine, failed: failed ?? broken };
}
