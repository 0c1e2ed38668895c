/** The bar under the picture: what the pointer does, what is looked through, and how. */

import { type Document, inOrder, type Viewer } from '@foreshore/document';
import { UnstyledButton } from '@mantine/core';
import { IconFocus2, IconGhost2, IconHome, IconPlayerRecordFilled, IconPlayerStopFilled } from '@tabler/icons-react';
import { addRoute } from '../../edits/edits.ts';
import { ChoiceMenu } from '../../fields/choice-menu.tsx';
import { useEngine } from '../../questions/engine-context.ts';
import { showEnd } from '../../questions/extremes.ts';
import { LOOK, useBench, useBenchPart } from '../../state/bench.ts';
import { useLive } from '../../state/live.ts';
import { say } from '../../state/notices.ts';
import { useProject } from '../../state/project.ts';
import { languageName } from '../../words/languages.ts';

interface Place {
  name: string;
  title: string;
}
/** From where one looks and places things, and what is seen at once where that is more than one picture. */
const PLACES: Record<Viewer['kind'], { own: Place; several?: Place }> = {
  screen: { own: { name: 'As player', title: 'As player (O)' } },
  headset: {
    own: { name: 'Head', title: 'From between the eyes, as wide as both see: here things are placed and moved (O)' },
    several: { name: 'Eyes', title: 'What each eye sees, side by side' },
  },
  split: {
    own: { name: 'As player', title: 'The part of the player whose camera this is: here things are placed and moved (O)' },
    several: { name: 'All', title: 'The whole screen: every player at the same moment' },
  },
};

/** @param onFocus gives the picture the keyboard. */
export function PictureBar({ document, onFocus }: { document: Document; onFocus: () => void }) {
  const engine = useEngine();
  const { viewer, mode, outside, whole, ghosts, aim, extreme, recording, flying, language } = useBenchPart(
    'viewer',
    'mode',
    'outside',
    'whole',
    'ghosts',
    'aim',
    'extreme',
    'recording',
    'flying',
    'language',
  );
  useLive();
  const record = () => {
    if (!recording) {
      engine.startRecording();
      onFocus();
      return;
    }
    const id = addRoute(engine.stopRecording());
    if (!id) {
      say('Nothing was recorded: walk while recording.');
      return;
    }
    useBench.setState({ route: id, pose: null, timeS: 0 });
    say(`The walk was kept as ${useProject.getState().document?.routes[id]?.name}.`);
  };
  const { own, several } = PLACES[document.viewers[viewer]?.kind ?? 'screen'];
  const languages = [document.language, ...(document.languages ?? [])];
  return (
    <div className="picture-bar">
      <span className="switch" role="group" aria-label="What the pointer does">
        <UnstyledButton aria-pressed={mode === 'look'} onClick={() => useBench.setState({ ...LOOK })} title="Look about and select (L)">
          Look
        </UnstyledButton>
        <UnstyledButton
          aria-pressed={mode === 'place'}
          onClick={() => useBench.setState({ mode: 'place', outside: false, whole: false, playing: false })}
          title="Place something on a surface or on the HUD (P)"
        >
          Place
        </UnstyledButton>
        <UnstyledButton
          aria-pressed={mode === 'try'}
          onClick={() => {
            useBench.setState({ mode: 'try', outside: false, whole: false, hover: null });
            onFocus();
          }}
          title="Try it: the pointer and the keys go to the game's elements (T)"
        >
          Try
        </UnstyledButton>
      </span>
      <ChoiceMenu
        label="Viewer"
        value={viewer}
        choices={inOrder(document.viewers).map(([id, v]) => [id, v.name])}
        onChange={(id) => useBench.setState({ viewer: id })}
      />
      {inOrder(document.phases).length > 1 && (
        <ChoiceMenu
          label="Phase"
          title="The state of the game"
          value={engine.phase() ?? ''}
          choices={inOrder(document.phases).map(([id, p]) => [id, p.name])}
          onChange={(phase) => useLive.setState({ phase })}
        />
      )}
      {languages.length > 1 && (
        <ChoiceMenu
          label="Language"
          title={`Texts are shown in ${languageName(language ?? document.language)}`}
          value={language ?? document.language}
          shown={language ?? document.language}
          choices={languages.map((tag) => [tag, `${languageName(tag)} (${tag})`])}
          onChange={(tag) => useBench.setState({ language: tag === document.language ? null : tag })}
        />
      )}
      <span className="spring" />
      <UnstyledButton
        className="text-button"
        data-action="extremes"
        aria-pressed={extreme !== null}
        title="Every feed at its ends, at every viewer: what then goes wrong on the HUD"
        onClick={() => {
          useBench.setState({ ...LOOK, outside: false });
          showEnd(extreme ? null : 'greatest');
        }}
      >
        Extremes
      </UnstyledButton>
      <UnstyledButton
        className="text-button icon-text"
        aria-label="Ghosts"
        aria-pressed={ghosts}
        title="Outlines of what is hidden, where it would be (G)"
        onClick={() => useBench.setState({ ghosts: !ghosts })}
      >
        <IconGhost2 size={15} aria-hidden="true" />
      </UnstyledButton>
      <UnstyledButton
        className="text-button icon-text"
        aria-label="Aim"
        aria-pressed={aim}
        title="What lies in the middle of the view: its node, and how far it is (M)"
        onClick={() => useBench.setState({ aim: !aim })}
      >
        <IconFocus2 size={15} aria-hidden="true" />
      </UnstyledButton>
      <UnstyledButton
        className="text-button icon-text"
        aria-label="Back to a safe place"
        title="Back to a safe place: the last firm ground, or where the level begins (H)"
        data-action="home"
        onClick={() => engine.camera.toSafety()}
      >
        <IconHome size={15} aria-hidden="true" />
      </UnstyledButton>
      <UnstyledButton
        className="text-button"
        data-flying={flying}
        aria-pressed={false}
        onClick={() => useBench.setState({ flying: !flying })}
        title="Walk on the ground or fly freely (F)"
      >
        {flying ? 'Flying' : 'Walking'}
      </UnstyledButton>
      <UnstyledButton
        className="text-button"
        aria-pressed={recording}
        onClick={record}
        title="Record where you walk as a route (R)"
        data-action="record"
      >
        {recording ? <IconPlayerStopFilled size={14} aria-hidden="true" /> : <IconPlayerRecordFilled size={14} aria-hidden="true" />}
        {recording ? 'Stop' : 'Record'}
      </UnstyledButton>
      <span className="switch" role="group" aria-label="Where from">
        <UnstyledButton
          aria-pressed={!outside && !(whole && several)}
          onClick={() => useBench.setState({ outside: false, whole: false })}
          title={own.title}
        >
          {own.name}
        </UnstyledButton>
        {several && (
          <UnstyledButton
            aria-pressed={!outside && whole}
            onClick={() => useBench.setState({ ...LOOK, outside: false, whole: true })}
            title={several.title}
          >
            {several.name}
          </UnstyledButton>
        )}
        <UnstyledButton
          aria-pressed={outside}
          onClick={() => {
            engine.camera.resetOutside();
            useBench.setState({ outside: true, mode: 'look' });
          }}
          title="From outside (O)"
        >
          From outside
        </UnstyledButton>
      </span>
    </div>
  );
}
