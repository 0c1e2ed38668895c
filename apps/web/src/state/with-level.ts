/** A document's tables with its level, for views that need to know which objects there are, and have no bench. */
import { type Compiled, compile } from '@foreshore/core';
import type { Document } from '@foreshore/document';
import type { LevelModel } from '@foreshore/level';
import { useEffect, useMemo, useState } from 'react';
import { loadLevel } from './load-level.ts';

/** Null until the level is there, and where no feed has a value for each object: nobody asks then. */
export function useWithLevel(document: Document | null): Compiled | null {
  const [loaded, setLoaded] = useState<{ hash: string; level: LevelModel } | null>(null);
  const asked = document !== null && Object.values(document.feeds).some(({ each }) => each);
  const { hash, metresPerUnit, upAxis } = document?.level ?? {};
  useEffect(() => {
    if (!asked || !hash || metresPerUnit === undefined || upAxis === undefined) return;
    let gone = false;
    // Without its level a project has no objects; the bench says that it is gone.
    loadLevel(hash, { metresPerUnit, upAxis }).then(
      (level) => !gone && setLoaded({ hash, level }),
      () => {},
    );
    return () => {
      gone = true;
    };
  }, [asked, hash, metresPerUnit, upAxis]);
  const level = loaded?.hash === hash ? loaded?.level : undefined;
  return useMemo(() => (asked && document && level ? compile(document, level) : null), [asked, document, level]);
}
