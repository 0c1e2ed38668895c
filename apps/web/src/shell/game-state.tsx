/** The game that is followed: how it is going, and what is wrong with what it says. */
import { contractOf } from '@foreshore/handoff/contract';
import { gameFaults } from '@foreshore/handoff/game';
import { useMemo } from 'react';
import { useGame } from '../state/game.ts';
import { shownDocument, useProject } from '../state/project.ts';
import { sayGame, sayGameFault } from '../words/game.ts';

/** More are counted only. */
const MOST_TOLD = 12;

/** @param read all values that elements read, objects' too (`Compiled.feedIds`); none where the level is not known. */
export function GameState({ read }: { read: readonly string[] }) {
  const { games, following, now } = useGame();
  const document = useProject(shownDocument);
  const supplied = useMemo(() => (document ? contractOf(document).feeds.flatMap((f) => (f.readers.length ? [f.id] : [])) : []), [document]);
  const game = games.find(({ id }) => id === following);
  if (!game || !document) return null;
  const faults = now ? gameFaults(document, now, supplied, read) : [];
  return (
    <div className="game-state" data-connected={game.connected} data-faults={faults.length}>
      <p className="hint" role="status">
        {game.name}: {sayGame(game)}
      </p>
      {game.refused && (
        <p className="game-fault">
          {game.refused.count === 1 ? 'A message was refused' : `${game.refused.count} messages were refused, the last`}: {game.refused.why}
        </p>
      )}
      {!now && <p className="hint">It has said nothing yet.</p>}
      <ul>
        {faults.slice(0, MOST_TOLD).map((fault) => (
          <li key={JSON.stringify([fault.kind, 'name' in fault ? fault.name : ''])} className="game-fault" data-fault={fault.kind}>
            {sayGameFault(fault)}
          </li>
        ))}
      </ul>
      {faults.length > MOST_TOLD && <p className="hint">And {faults.length - MOST_TOLD} more.</p>}
    </div>
  );
}
