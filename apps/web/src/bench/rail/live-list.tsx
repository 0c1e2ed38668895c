/** While trying: what was sent, by which element, and what it did. */

import { keyLabel, RAY_BUTTONS, type RaySource, type Swallowed, sourceOf, sourcesOf } from '@foreshore/core';
import type { Device, Document, Keys } from '@foreshore/document';
import { feedTitle, feedValueText, GAMEPAD, rowTitle, sayDone } from '@foreshore/words';
import { Switch, UnstyledButton } from '@mantine/core';
import { useEffect, useState } from 'react';
import { ignoreInput } from '../../edits/edits.ts';
import { offersImmersion } from '../../engine/immersion.ts';
import { Choice } from '../../fields/rows.tsx';
import { useEngine } from '../../questions/engine-context.ts';
import { useBench, useBenchPart } from '../../state/bench.ts';
import { useShown } from '../../state/beside.tsx';
import { type LogEntry, resetLive, useLive } from '../../state/live.ts';
import { sayFailed } from '../../state/notices.ts';

const DEVICE_WORDS: Record<Device, string> = {
  keyboard: 'keyboard and pointer',
  gamepad: 'a gamepad',
  touch: 'touch',
  hand: 'a hand controller',
};

/** Where the browser offers a headset: trying goes on in it. */
function Headset() {
  const engine = useEngine();
  const { immersed } = useBenchPart('immersed');
  const [offered, setOffered] = useState(false);
  useEffect(() => {
    let here = true;
    void offersImmersion().then((yes) => here && setOffered(yes));
    return () => {
      here = false;
    };
  }, []);
  if (!offered) return null;
  return (
    <UnstyledButton
      className="text-button"
      data-immersed={immersed}
      onClick={() => {
        if (immersed) engine.immersion?.leave();
        else engine.enterHeadset().catch((error: Error) => sayFailed(`The headset could not be entered: ${error.message}`));
      }}
      title="Trying goes on in the headset: its own eyes, hands and buttons"
    >
      {immersed ? 'Leave the headset' : 'Enter the headset'}
    </UnstyledButton>
  );
}

/** With which key each source presses, beside the mouse. */
function Buttons({ document }: { document: Document }) {
  const told = (['aim', 'left', 'right'] as const).filter((source) => sourcesOf(document).includes(source));
  if (told.length === 0) return null;
  return (
    <p className="hint">
      {told.map((source) => `${RAY_NAMES[source]}: ${sayKeys(document.ray?.buttons?.[source] ?? RAY_BUTTONS[source])}`).join('; ')}.
    </p>
  );
}
const sayKeys = ({ keyboard, gamepad }: Keys): string =>
  `${keyboard.startsWith('Pointer') ? keyboard : `key ${keyLabel(keyboard)}`}, ${GAMEPAD[gamepad]}`;
const RAY_NAMES = { aim: 'The middle of the view', left: 'Left hand', right: 'Right hand' } as const;

const POINTERS: Record<RaySource, string> = {
  mouse: 'the mouse',
  aim: 'the middle of the view',
  left: 'the left hand, led by the mouse',
  right: 'the right hand, led by the mouse',
  head: 'the head, by staying',
};

export function LiveList() {
  const { log, held, phase } = useLive();
  const { areas, device, pointWith } = useBenchPart('areas', 'device', 'pointWith');
  const document = useShown();
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
      <Choice
        label="The player points with"
        value={pointWith}
        choices={POINTERS}
        onChange={(next) => useBench.setState({ pointWith: next })}
      />
      <Headset />
      {sourcesOf(document).length > 0 && <Buttons document={document} />}
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
