/** The contract: what the game supplies, and what it hears of. */
import type { Contract } from '@foreshore/handoff/contract';

const value = (example: unknown): string =>
  Array.isArray(example) ? example.join(', ') : typeof example === 'object' ? 'an event' : String(example);

export function ContractPart({ contract }: { contract: Contract }) {
  const { feeds, actions, builtIn } = contract;
  return (
    <section className="handoff-part" aria-label="Contract">
      <h2>Contract with the game</h2>
      <h3>It supplies {feeds.length === 1 ? 'one value' : `${feeds.length} values`}</h3>
      {feeds.length > 0 && (
        <table className="handoff-table">
          <thead>
            <tr>
              <th>Id</th>
              <th>Kind</th>
              <th>Unit</th>
              <th>Range</th>
              <th>Read by</th>
            </tr>
          </thead>
          <tbody>
            {feeds.map(({ id, name, kind, each, unit, range, readers, example }) => (
              <tr key={id} title={`${name}, for example ${value(example)}`}>
                <td>
                  <code>{id}</code>
                </td>
                <td>{each ? `${kind}, of each object` : kind}</td>
                <td>{unit}</td>
                <td className="num handoff-word">{range ? `${range[0]} to ${range[1]}` : ''}</td>
                <td>{readers.length ? readers.join(', ') : <span className="hint">nothing</span>}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {builtIn.length > 0 && <p className="hint">The runtime works out by itself: {builtIn.join(', ')}.</p>}
      <h3>It hears of {actions.length === 1 ? 'one action' : `${actions.length} actions`}</h3>
      {actions.length > 0 && (
        <table className="handoff-table">
          <thead>
            <tr>
              <th>Id</th>
              <th>Name</th>
              <th>Sent by</th>
            </tr>
          </thead>
          <tbody>
            {actions.map(({ id, name, senders }) => (
              <tr key={id}>
                <td>
                  <code>{id}</code>
                </td>
                <td>{name}</td>
                <td>
                  {senders.length ? (
                    senders.map(({ element, target }) => (target ? `${element} at ${target}` : element)).join(', ')
                  ) : (
                    <span className="hint">nothing</span>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
