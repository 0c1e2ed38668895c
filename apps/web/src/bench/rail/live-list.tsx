/** While trying: what was sent, by which element, and what it did. */

import { type Swallowed, sourceOf } from '@foreshore/core';
import type { Device, Document } from '@foreshore/document';
import { feedTitle, feedValueText, rowTitle, sayDone } from '@foreshore/words';
import { Switch, UnstyledButton } from '@mantine/core';
import { ignoreInput } from '../../edits/edits.ts';
import { Choice } from '../../fields/rows.tsx';
import { useBench, useBenchPart } from '../../state/bench.ts';
import { type LogEntry, resetLive, useLive } from '../../state/live.ts';
import { shownDocument, useProject } from '../../state/project.ts';

const DEVICE_WORDS: Record<Device, string> = {
  keyboard: 'keyboard and pointer',
  gamepad: 'a gamepad',
  touch: 'touch',
  hand: 'a hand controller',
};

export function LiveList() {
  const { log, held, phase } = useLive();
  const { areas, device } = useBenchPart('areas', 'device');
  const document = useProject(shownDocument);
  if (!document) return null;
  const changed = Object.keys(held).length > 0 || phase !== null;
  return (
    <section className="section" aria-label="What was sent">
      <h2>
        Try
        <span className="spring" />
        <UnstyledButton
          className="text-button"
          disabled={!changed && log.length === 0}
          onClick={() => {
            resetLive();
            useBench.setState({ scrolled: {} });
          }}
          title="Lets go of all feeds and of the phase"
        >
          Start over
        </UnstyledButton>
      </h2>
      <p className="hint">
        The pointer and the keys go to the game's elements: click them, or step through them with Tab and use one with Enter. What no
        element holds turns the view. Escape goes back to looking.
      </p>
      <Switch
        size="xs"
        label="Show input areas"
        checked={areas}
        onChange={(event) => useBench.setState({ areas: event.currentTarget.checked })}
      />
      <Choice label="The player uses" value={device} choices={DEVICE_WORDS} onChange={(next) => useBench.setState({ device: next })} />
      {areas && <p className="hint">Filled: acts. Dashed red: blocks. Dotted grey: ignores input.</p>}
      <ol className="live-list">
        {log.length === 0 && <li className="hint">Nothing has been sent yet.</li>}
        {log.map((entry) => (
          <Entry key={entry.id} entry={entry} document={document} />
        ))}
      </ol>
    </section>
  );
}

const BECAUSE: Record<Swallowed, string> = {
  blocks: 'it blocks the pointer and does nothing with it',
  off: 'it is off',
  arriving: 'it is still on its way in',
  reach: 'it lies beyond the reach of the ray',
};

/** One press: what got it, and what became of it. */
function Entry({ entry: { timeS, what }, document }: { entry: LogEntry; document: Document }) {
  const when = <span className="num">{timeS.toFixed(1)} s</span>;
  if (what.kind === 'world')
    return (
      <li data-played="world">
        {when} <b>The world</b> got the press: no element is there.
      </li>
    );
  if (what.kind === 'swallowed')
    return (
      <li data-played="swallowed">
        {when} <b>{rowTitle(document, what.by)}</b> got the press: {BECAUSE[what.because]}.{' '}
        {what.because === 'blocks' && (
          <UnstyledButton className="link-button" onClick={() => ignoreInput(sourceOf(what.by))}>
            Ignore input
          </UnstyledButton>
        )}
      </li>
    );
  if (what.kind === 'set')
    return (
      <li data-played="set">
        {when} <b>{rowTitle(document, what.source)}</b> sets {feedTitle(document, what.feed)}{' '}
        {feedValueText(document, what.feed, what.value)}
      </li>
    );
  const name = what.action === null ? 'nothing: it has no action' : (document.actions?.[what.action]?.name ?? what.action);
  return (
    <li data-played="sent">
      {when} <b>{name}</b> from {rowTitle(document, what.source)}
      {what.target !== null && `, at ${what.target}`}
      <ul>
        {what.action !== null && what.did.length === 0 && <li>did nothing: it has no reaction</li>}
        {what.did.map((done, k) => {
          const said = sayDone(done, document);
          // What was done has no name but its place in the list.
          return <li key={`${k} ${said}`}>{said}</li>;
        })}
      </ul>
    </li>
  );
}
