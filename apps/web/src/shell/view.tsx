/**
 * A view whose program comes when it is wanted. React's own way of waiting for one holds back what follows a fallback until 300 ms after
 * that was shown, so that nothing flickers; here everybody waits for the view, and it is shown when it is there.
 */
import { type ComponentType, useEffect, useState } from 'react';
import { Waiting } from './waiting.tsx';

/** @param load where it fails, the next one that wants the view tries anew. */
export function viewOf(load: () => Promise<{ default: ComponentType }>): ComponentType {
  let coming: Promise<ComponentType> | null = null;
  let there: ComponentType | null = null;
  const asked = (): Promise<ComponentType> => {
    coming ??= load().then(
      (part) => {
        there = part.default;
        return there;
      },
      (error: unknown) => {
        coming = null;
        throw error;
      },
    );
    return coming;
  };
  return function View() {
    const [Shown, setShown] = useState<ComponentType | null>(() => there);
    useEffect(() => {
      if (Shown) return;
      let wanted = true;
      asked().then(
        (view) => wanted && setShown(() => view),
        (error: unknown) =>
          wanted &&
          setShown(() => {
            // Thrown while rendering, it reaches whoever says what failed.
            throw error;
          }),
      );
      return () => {
        wanted = false;
      };
    }, [Shown]);
    return Shown ? <Shown /> : <Waiting what="Opening" />;
  };
}
