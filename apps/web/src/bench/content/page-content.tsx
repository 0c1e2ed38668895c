/** What a page contains: which one, its box, its window, and how it is doing. */
import type { PageElement } from '@foreshore/document';
import { Button } from '@mantine/core';
import { OpacityField } from '../../fields/element-fields.tsx';
import { PageField } from '../../fields/page-field.tsx';
import { editing, NumberRows } from '../../fields/rows.tsx';
import { type PageFacts, type PageState, usePages } from '../../level/pages.ts';
import { useEngine } from '../../questions/engine-context.ts';
import { useShown } from '../../state/beside.tsx';
import { change } from '../../state/project.ts';

const STATES: Record<PageState, string> = {
  starts: 'It is starting.',
  runs: 'It runs.',
  rests: 'It is shown nowhere, and unloaded.',
  silent: 'It did not answer for 6 s and was stopped.',
  left: 'It went to another address and was stopped.',
  floods: 'It sent more messages than are taken and was stopped.',
  failed: 'It could not be drawn.',
};

function said({ state, capPx, because, link, unknown }: PageFacts): string[] {
  const out = [because ? `It could not be drawn: ${because}.` : STATES[state]];
  if (state === 'runs')
    out.push(
      capPx === undefined
        ? 'Its letters are not measured.'
        : Number.isFinite(capPx)
          ? `Its smallest capitals are ${capPx.toFixed(1)} px of the page.`
          : 'It has no text.',
    );
  if (unknown !== undefined) out.push(`It sent “${unknown}”, which is not among the actions.`);
  if (link !== undefined) out.push(`A link to ${link} was not followed.`);
  return out;
}

export function PageContent({ id, element }: { id: string; element: PageElement }) {
  const engine = useEngine();
  const document = useShown();
  const { edit, paint } = editing('page', id);
  const page = element.page ?? '';
  const file = document?.pictures?.[page];
  const facts = usePages(({ pages }) => pages[file?.hash ?? '']);
  const resize = (side: 'widthPx' | 'heightPx') => (value: number) =>
    change('Resize the page', (d) => {
      const own = d.pictures?.[page];
      return own ? { ...d, pictures: { ...d.pictures, [page]: { ...own, [side]: value } } } : d;
    });
  return (
    <>
      <div className="wide">
        <PageField label="Page" value={element.page} onChange={(chosen) => edit('Choose a page', { page: chosen })} />
        {facts && file && (
          <p className="hint" data-page={facts.state}>
            {said(facts).join(' ')}
          </p>
        )}
        {file && facts && !['runs', 'starts', 'rests'].includes(facts.state) && (
          <Button size="compact-xs" variant="default" onClick={() => engine.pages.again(file.hash)}>
            Begin again
          </Button>
        )}
        {file?.missing && <p className="hint">Missing from it: {file.missing.join(', ')}</p>}
      </div>
      <NumberRows
        rows={[
          {
            label: 'Width',
            unit: 'px',
            value: element.widthPx,
            least: 1,
            greatest: 20000,
            onChange: (widthPx) => edit('Resize', { widthPx }),
          },
          {
            label: 'Height',
            unit: 'px',
            value: element.heightPx,
            least: 1,
            greatest: 20000,
            onChange: (heightPx) => edit('Resize', { heightPx }),
          },
          ...(file
            ? [
                { label: 'Page’s own width', unit: 'px', value: file.widthPx, least: 16, greatest: 4096, onChange: resize('widthPx') },
                { label: 'Page’s own height', unit: 'px', value: file.heightPx, least: 16, greatest: 4096, onChange: resize('heightPx') },
              ]
            : []),
          {
            label: 'Corner radius',
            unit: 'px',
            least: 0,
            value: element.paint.radiusPx,
            onChange: (radiusPx: number) => paint('Round it', { radiusPx }),
          },
        ]}
      />
      <OpacityField id={id} element={element} />
    </>
  );
}
