/** The bench: picture, rail, chain and strip over one project. */

import { rehearseChange } from '@foreshore/document';
import { UnstyledButton } from '@mantine/core';
import { useEffect, useRef, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { nudge, removeElement } from '../edits/edits.ts';
import type { Engine } from '../engine/engine.ts';
import { Bands } from '../questions/bands.ts';
import { EngineContext } from '../questions/engine-context.ts';
import { useOpened } from '../questions/use-opened.ts';
import { Header } from '../shell/header.tsx';
import { Unopened } from '../shell/unopened.tsx';
import { Waiting } from '../shell/waiting.tsx';
import { api } from '../state/api.ts';
import { LOOK, useAddress, useBench } from '../state/bench.ts';
import { BesidePicture } from '../state/beside.tsx';
import { useGames } from '../state/game.ts';
import { sayFailed } from '../state/notices.ts';
import { useProject } from '../state/project.ts';
import { Chain, ChainRoom } from './chain/chain.tsx';
import { Picture } from './picture/picture.tsx';
import { Rail, RailRoom } from './rail/rail.tsx';
import { Strip, StripRoom } from './strip/strip.tsx';

const PICTURE_MS = 3000;
/** So often a change is rehearsed before the first one: by then its code is warm. */
const REHEARSALS = 5;

// The same elements at all times, so that none of them is made anew with what is around it.
const WHERE = <Where />;
const PICTURE = <Picture />;
const BESIDE = (
  <BesidePicture>
    <Bands />
    <Rail />
    <Chain />
    <Strip />
  </BesidePicture>
);
/** Where there is no picture to wait for, as without graphics, what stands beside it is there after so long. */
const NO_PICTURE_MS = 2000;

export default function Bench() {
  const { id = '' } = useParams();
  const navigate = useNavigate();
  const { kept, engine, failed } = useOpened(id);
  useAddress();
  useGames(id);
  usePicture(engine, id);
  useShortcuts(engine);

  if (failed)
    return (
      <Unopened failed={failed}>
        <UnstyledButton className="link-button" onClick={() => navigate(0)}>
          Try again
        </UnstyledButton>
      </Unopened>
    );
  if (!kept || !engine) return <Waiting what={kept ? `Opening the level of ${kept.name}` : 'Opening the project'} />;
  return (
    <EngineContext value={engine}>
      <main className="bench">
        <Header name={kept.name} view="bench">
          {WHERE}
        </Header>
        {PICTURE}
        <AfterPicture engine={engine} />
      </main>
    </EngineContext>
  );
}

/** What stands beside the picture has its room at once, and is made when the first picture is there: that is what is waited for. */
function AfterPicture({ engine }: { engine: Engine }) {
  const [there, setThere] = useState(false);
  useEffect(() => {
    let wanted = true;
    const tell = () => wanted && setThere(true);
    void engine.pictured.then(tell);
    const late = setTimeout(tell, NO_PICTURE_MS);
    return () => {
      wanted = false;
      clearTimeout(late);
    };
  }, [engine]);
  useEffect(() => {
    if (!there || !('requestIdleCallback' in globalThis)) return;
    let times = 0;
    const rehearse = (): void => {
      const { document } = useProject.getState();
      if (document) rehearseChange(document);
      if (++times < REHEARSALS) idle = requestIdleCallback(rehearse);
    };
    let idle = requestIdleCallback(rehearse);
    return () => cancelIdleCallback(idle);
  }, [there]);
  if (there) return BESIDE;
  return (
    <>
      <RailRoom />
      <ChainRoom />
      <StripRoom />
    </>
  );
}

/** Where the viewer's eye is. */
function Where() {
  const position = useBench((s) => s.info?.pose.position);
  if (!position) return null;
  return (
    <span className="where num" title="Where the eye is: east, up, south">
      {position.map((v) => v.toFixed(1)).join(', ')} m
    </span>
  );
}

/** The project's picture on the shelf: taken when it is first seen, and again some time after a change. */
function usePicture(engine: Engine | null, id: string): void {
  const revision = useProject((s) => s.revision);
  const taken = useRef(-1);
  useEffect(() => {
    if (!engine || taken.current === revision) return;
    const timer = setTimeout(() => {
      const picture = engine.thumbnail(480);
      if (!picture) return;
      taken.current = revision;
      void picture
        .convertToBlob({ type: 'image/jpeg', quality: 0.85 })
        .then((blob) => api.setPicture(id, blob))
        .catch(() => {
          // The shelf keeps the picture it has.
        });
    }, PICTURE_MS);
    return () => clearTimeout(timer);
  }, [engine, revision, id]);
}

const inField = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement && target.closest('input, textarea, select, [contenteditable]') !== null;

function useShortcuts(engine: Engine | null): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      const state = useBench.getState();
      const control = event.ctrlKey || event.metaKey;
      if (control || inField(event.target)) return;
      const arrows: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
      const arrow = arrows[event.key];
      if (event.altKey && arrow && state.selection) {
        event.preventDefault();
        const by = event.shiftKey ? 10 : 1;
        nudge(state.selection, (engine?.places.sideOf(state.selection) ?? 1) * arrow[0] * by, arrow[1] * by);
        return;
      }
      if (event.altKey) return;
      const keys: Record<string, () => void> = {
        Escape: () => useBench.setState(state.openStep ? { openStep: null } : { ...LOOK, outside: false }),
        KeyP: () => useBench.setState({ mode: 'place', outside: false, playing: false }),
        KeyL: () => useBench.setState({ ...LOOK }),
        KeyT: () => {
          useBench.setState({ mode: 'try', outside: false, hover: null });
          document.querySelector<HTMLElement>('.picture')?.focus();
        },
        KeyF: () => useBench.setState({ flying: !state.flying }),
        KeyH: () => engine?.camera.toSafety(),
        KeyB: () => useBench.setState({ pose: null }),
        KeyM: () => useBench.setState({ aim: !state.aim }),
        KeyG: () => useBench.setState({ ghosts: !state.ghosts }),
        KeyO: () => {
          engine?.camera.resetOutside();
          useBench.setState({ outside: !state.outside, mode: 'look' });
        },
        KeyR: () => document.querySelector<HTMLButtonElement>('[data-action="record"]')?.click(),
        F2: () => state.selection && useBench.setState({ typing: state.selection }),
        Delete: () => state.selection && removeElement(state.selection),
        Space: () => useBench.setState({ playing: !state.playing }),
      };
      const run = keys[event.code];
      if (!run || (event.code === 'Space' && event.target instanceof HTMLButtonElement)) return;
      event.preventDefault();
      try {
        run();
      } catch (error) {
        sayFailed((error as Error).message);
      }
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [engine]);
}
