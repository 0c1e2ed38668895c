/**
 * The document as what stands beside the picture shows it: lists and fields are made anew when there is time for it, in parts, so that
 * the picture follows a key or a drag at once. Whoever works in them has them at once.
 */
import type { Document } from '@foreshore/document';
import { createContext, type ReactNode, useContext, useDeferredValue } from 'react';
import { shownDocument, useProject } from './project.ts';

const Beside = createContext<Document | null | undefined>(undefined);

/** Nothing came or went: who is selected is there in both. */
const alike = (a: Document | null, b: Document | null): boolean =>
  a !== null && b !== null && Object.keys(a.elements).length === Object.keys(b.elements).length;

export function BesidePicture({ children }: { children: ReactNode }) {
  const now = useProject(shownDocument);
  const later = useDeferredValue(now);
  const working = document.activeElement?.closest('.rail, .chain, .strip');
  return <Beside value={working || !alike(now, later) ? now : later}>{children}</Beside>;
}

const nothing = (): undefined => undefined;

/** The shown document; beside the picture, as that part of the page has it. */
export function useShown(): Document | null {
  const beside = useContext(Beside);
  const now = useProject(beside === undefined ? shownDocument : nothing);
  return (beside === undefined ? now : beside) ?? null;
}
