/** The running games that are connected: whose player is looked through, how it is going, what is wrong with what it says. */
import { ChoiceMenu } from '../../fields/choice-menu.tsx';
import { useEngine } from '../../questions/engine-context.ts';
import { GameState } from '../../shell/game-state.tsx';
import { follow, useGame } from '../../state/game.ts';

export function GameSection() {
  const { games, following } = useGame();
  const engine = useEngine();
  if (games.length === 0) return null;
  return (
    <section className="section" aria-label="Game">
      <h2>
        Game
        <span className="spring" />
        <ChoiceMenu
          label="Game"
          title="The running game whose player is looked through"
          value={following ?? ''}
          choices={[['', 'Not shown'], ...games.map(({ id, name, connected }) => [id, connected ? name : `${name} (lost)`] as const)]}
          onChange={(id) => follow(id || null)}
        />
      </h2>
      <GameState read={engine.compiled.feedIds} />
    </section>
  );
}
