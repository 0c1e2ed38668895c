import type { Document, Element } from '@foreshore/document';

/** What the fields of one element are given. */
export interface ElementProps {
  id: string;
  element: Element;
  document: Document;
}
