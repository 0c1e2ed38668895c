/** What is sent of a document to a worker, against the document itself. */
import { type Document, makeDocument, makeLabel } from '@foreshore/document';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { newsOf, receiver, sender } from './document-link.ts';

const yard = makeDocument('Yard');
yard.elements = Object.fromEntries([1, 2, 3].map((k) => [`mark-${k}`, makeLabel(`mark-${k}`, `Mark ${k}`, 'a0')]));

type Step = (document: Document) => Document;
const step: fc.Arbitrary<Step> = fc.oneof(
  fc.tuple(fc.constantFrom('mark-1', 'mark-2', 'mark-9'), fc.string()).map(
    ([id, text]): Step =>
      (document) => ({ ...document, elements: { ...document.elements, [id]: makeLabel(id, text, 'a1') } }),
  ),
  fc.constantFrom('mark-1', 'mark-3').map(
    (id): Step =>
      ({ elements: { [id]: _, ...elements }, ...document }) =>
        ({ ...document, elements }) as Document,
  ),
  fc.string().map(
    (name): Step =>
      (document) => ({ ...document, name }),
  ),
  fc.constant<Step>(({ actions: _, ...document }) => document as Document),
  fc.constant<Step>((document) => ({ ...document, actions: {} })),
  fc.constant<Step>(() => makeDocument('Other')),
);

describe('a document on its way to a worker', () => {
  it('arrives as it is, and what was not changed is the same there (property)', () => {
    fc.assert(
      fc.property(fc.array(step, { maxLength: 8 }), (steps) => {
        const received = receiver<{ document: Document; job: number }>();
        let arrived: Document | null = null;
        // A message is copied on its way.
        const send = sender<{ document: Document; job: number }>((message) => {
          arrived = received(structuredClone(message)).document;
        });
        let document = yard;
        send({ document, job: 0 });
        for (const [k, one] of steps.entries()) {
          const [before, there] = [document, arrived as unknown as Document];
          document = one(document);
          send({ document, job: k + 1 });
          expect(arrived).toEqual(document);
          for (const id of Object.keys(document.elements))
            if (before.elements[id] === document.elements[id])
              expect((arrived as unknown as Document).elements[id]).toBe(there.elements[id]);
        }
      }),
      { numRuns: 200 },
    );
  });
  it('is sent whole at first, and after that no more than was changed', () => {
    expect(newsOf(null, yard)).toEqual({ whole: yard });
    const mark = makeLabel('mark-2', 'Moved', 'a0');
    const next = { ...yard, elements: { ...yard.elements, 'mark-2': mark } };
    expect(newsOf(yard, next)).toEqual({ fields: [], entries: [{ collection: 'elements', set: [['mark-2', mark]], gone: [] }] });
  });
});
