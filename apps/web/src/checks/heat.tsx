/** Findings by element and viewer: where they are thick. */
import { type Document, inOrder } from '@foreshore/document';
import { useState } from 'react';
import { type Filter, gathered, type Told } from './told.ts';

const FEW = 8;

export function Heat({
  document,
  told,
  filter,
  set,
}: {
  document: Document;
  told: readonly Told[];
  filter: Filter;
  set: (part: Partial<Filter>) => void;
}) {
  const [all, setAll] = useState(false);
  const meant = told.filter(({ finding }) => filter.kind === null || finding.kind === filter.kind);
  const shown = gathered(meant, true).map(({ worst }) => worst);
  const viewers = inOrder(document.viewers).filter(([id]) => shown.some(({ finding }) => finding.viewer === id));
  const counts = new Map<string, number>();
  for (const { finding } of shown) counts.set(finding.element, (counts.get(finding.element) ?? 0) + 1);
  const elements = [...counts].sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1));
  if (elements.length === 0 || viewers.length === 0) return null;
  const count = (element: string, viewer: string) =>
    shown.filter(({ finding }) => finding.element === element && finding.viewer === viewer).length;
  const most = Math.max(1, ...elements.flatMap(([element]) => viewers.map(([viewer]) => count(element, viewer))));
  const name = (element: string) => shown.find(({ finding }) => finding.element === element)?.finding.name ?? element;
  return (
    <section aria-label="Findings by element and viewer" className="checks-heat">
      <table>
        <thead>
          <tr>
            <th scope="col">Element</th>
            {viewers.map(([id, viewer]) => (
              <th key={id} scope="col">
                {viewer.name}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {elements.slice(0, all ? elements.length : FEW).map(([element]) => (
            <tr key={element}>
              <th scope="row">{name(element)}</th>
              {viewers.map(([viewer, { name: called }]) => {
                const n = count(element, viewer);
                const chosen = filter.element === element && filter.viewer === viewer;
                return (
                  <td key={viewer}>
                    {n > 0 && (
                      <button
                        type="button"
                        className="heat num"
                        aria-pressed={chosen}
                        aria-label={`${name(element)} at ${called}: ${n}`}
                        style={{ '--heat': `${8 + (36 * n) / most}%` } as React.CSSProperties}
                        onClick={() => set(chosen ? { element: null, viewer: null } : { element, viewer })}
                      >
                        {n}
                      </button>
                    )}
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
      {elements.length > FEW && (
        <button type="button" className="link-button" onClick={() => setAll(!all)}>
          {all ? `Only the ${FEW} with the most` : `All ${elements.length} elements`}
        </button>
      )}
    </section>
  );
}
