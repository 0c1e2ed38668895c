/** The project as far as mends depend on it: what is accepted meanwhile leaves them as they are. */
import { measuresAlike } from '@foreshore/checks';
import type { Document } from '@foreshore/document';
import { useRef } from 'react';
import { useProject } from '../state/project.ts';

export function useMeasured(): Document | null {
  const document = useProject((s) => s.document);
  const last = useRef(document);
  if (!document || !last.current || !measuresAlike(last.current, document)) last.current = document;
  return last.current;
}
