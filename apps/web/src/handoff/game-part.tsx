/** The game connection: switched on with a token that is shown once; the games that are there, and the way to see what their players see. */
import { Button, CopyButton, Switch } from '@mantine/core';
import { IconCopy, IconEye } from '@tabler/icons-react';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { GameState } from '../shell/game-state.tsx';
import { api } from '../state/api.ts';
import { follow, useGame } from '../state/game.ts';
import { sayFailed } from '../state/notices.ts';
import { shownDocument, useProject } from '../state/project.ts';
import { useWithLevel } from '../state/with-level.ts';
import { sayGame } from '../words/game.ts';

/** Where the made-up game looks by itself. */
const USUAL = 'http://127.0.0.1:4180';
const elsewhere = (): string => (window.location.origin === USUAL ? '' : ` --address ${window.location.origin}`);

export function GamePart({ id }: { id: string }) {
  const { on, games, following } = useGame();
  const document = useProject(shownDocument);
  const compiled = useWithLevel(following === null ? null : document);
  const [token, setToken] = useState<string | null>(null);
  const navigate = useNavigate();
  const failed = (error: Error) => sayFailed(error.message);
  const letIn = () =>
    api.letGamesIn(id).then((made) => {
      setToken(made.token);
      useGame.setState({ on: true });
    }, failed);
  const shutOut = () =>
    api.shutGamesOut(id).then(() => {
      setToken(null);
      useGame.setState({ on: false });
    }, failed);
  return (
    <section className="handoff-part" aria-label="Game connection">
      <h2>Game connection</h2>
      <p className="hint">
        A running game sends its camera, values and events to this machine; the bench shows what its player sees, with Reasons, and tells
        the game what is used there.
      </p>
      <Switch
        size="xs"
        label="Games may connect"
        checked={on === true}
        disabled={on === null}
        onChange={(event) => void (event.currentTarget.checked ? letIn() : shutOut())}
      />
      {token !== null && (
        <div className="game-token">
          <p className="hint">The token, shown this once; the project is called {id}:</p>
          <code data-token={token}>{token}</code>
          <CopyButton value={token}>
            {({ copied, copy }) => (
              <Button size="xs" variant="default" leftSection={<IconCopy size={13} />} onClick={copy}>
                {copied ? 'Copied' : 'Copy the token'}
              </Button>
            )}
          </CopyButton>
          <p className="hint">
            A game made up for trying: <code>{`npm run game -- --project ${id} --token ${token}${elsewhere()}`}</code>
          </p>
        </div>
      )}
      {on && token === null && (
        <div className="handoff-buttons">
          <Button size="xs" variant="default" onClick={() => void letIn()}>
            Make a new token
          </Button>
          <span className="hint">The one of before lets nobody in any more.</span>
        </div>
      )}
      {on && games.length === 0 && <p className="hint">No game is connected.</p>}
      {games.map((game) => (
        <div key={game.id} className="game-line" data-game={game.name} data-connected={game.connected}>
          <div>
            <b>{game.name}</b>
            <p className="hint">{sayGame(game)}</p>
          </div>
          <Button
            size="xs"
            leftSection={<IconEye size={13} />}
            onClick={() => {
              follow(game.id);
              navigate(`/p/${id}/bench`);
            }}
          >
            Show on the bench
          </Button>
        </div>
      ))}
      <GameState read={compiled?.feedIds ?? []} />
    </section>
  );
}
