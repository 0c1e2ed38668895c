import { createContext, useContext } from 'react';
import type { Engine } from '../engine/engine.ts';

export const EngineContext = createContext<Engine | null>(null);

/** The bench's engine. @throws outside the bench. */
export function useEngine(): Engine {
  const engine = useContext(EngineContext);
  if (!engine) throw new Error('There is no engine outside the bench.');
  return engine;
}
