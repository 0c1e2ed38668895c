/** While trying: what was sent, by which element, and what it did. */

import type { Device } from '@foreshore/document';
import { Switch } from '@mantine/core';
import { Choice } from '../../fields/rows.tsx';
import { useBench, useBenchPart } from '../../state/bench.ts';
import { resetLive, useLive } from '../../state/live.ts';

const DEVICE_WORDS: Record<Device, string> = {
  keyboard: 'keyboard and pointer',
  gamepad: 'a gamepad',
  touch: 'touch',
  hand: 'a hand controller',
};

export function LiveList() {
  const { log, held, phase } = useLive();
  const { areas, device } = useBenchPart('areas', 'device');
  const changed = Object.keys(held).length > 0 || phase !== null;
  return (
    <section className="section" aria-label="What was sent">
      <h2>
        Try
        <span className="spring" />
        <button
          type="button"
          className="text-button"
          disabled={!changed && log.length === 0}
          onClick={() => {
            resetLive();
            useBench.setState({ scrolled: {} });
          }}
          title="Lets go of all feeds and of the phase"
        >
          Start over
        </button>
      </h2>
      <p className="hint">
        The pointer and the keys go to the game's elements: click them, or step through them with Tab and use one with Enter. What no
        element holds turns the view. Escape goes back to looking.
      </p>
      <Switch
        size="xs"
        label="Show what takes the pointer"
        checked={areas}
        onChange={(event) => useBench.setState({ areas: event.currentTarget.checked })}
      />
      <Choice label="The player uses" value={device} choices={DEVICE_WORDS} onChange={(next) => useBench.setState({ device: next })} />
      {areas && <p className="hint">Filled: acts. Dashed red: blocks. Dotted grey: lets it pass.</p>}
      <ol className="live-list">
        {log.length === 0 && <li className="hint">Nothing has been sent yet.</li>}
        {log.map(({ id, timeS, action, source, did }) => (
          <li key={id}>
            <span className="num">{timeS.toFixed(1)} s</span> <b>{action}</b> from {source}
            <ul>
              {did.length === 0 && <li>did nothing: it has no reaction</li>}
              {did.map((what, k) => (
                // What was done has no name but its place in the list.
                <li key={`${k} ${what}`}>{what}</li>
              ))}
            </ul>
          </li>
        ))}
      </ol>
    </section>
  );
}
