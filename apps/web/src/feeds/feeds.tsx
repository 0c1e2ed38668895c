/** Feeds: the game's values and phases, simulated while no game is connected. */
import { compile, gameValues, isBuiltIn, type Pose, phaseAt, readValues, routePose } from '@foreshore/core';
import type { Feed, FeedValue } from '@foreshore/document';
import { type Document, freeFeedId, freeId, inOrder, orderAfter, partsOfKey } from '@foreshore/document';
import { ActionIcon, Button, Menu, Switch, UnstyledButton } from '@mantine/core';
import { IconPlayerPause, IconPlayerPlay, IconPlus, IconRewindBackward10, IconTrash } from '@tabler/icons-react';
import { useEffect, useMemo } from 'react';
import { useLocation, useParams } from 'react-router';
import { Header } from '../shell/header.tsx';
import { Unopened } from '../shell/unopened.tsx';
import { Waiting } from '../shell/waiting.tsx';
import { fromQuery, useAddress, useBench, useBenchPart } from '../state/bench.ts';
import { useGame, useGames } from '../state/game.ts';
import { useLive } from '../state/live.ts';
import { change, openProject, shownDocument, useProject } from '../state/project.ts';
import { SENT_S } from '../state/sent.ts';
import { useWithLevel } from '../state/with-level.ts';
import { Actions } from './actions.tsx';
import { FeedRow } from './feed-row.tsx';
import { useTicking } from './ticking.ts';
import { feedUsers } from './users.ts';
import './feeds.css';

const SAMPLES = 160;
const SPAN_S = 60;
const NONE: never[] = [];

/** Where one stands without a route. */
const standing = ({ body }: Document): Pose => ({ position: [0, body.eyeHeightM, 0], rotation: [0, 0, 0, 1] });

/** What every feed is worth at a time, without the level: what depends on a moving node is known on the bench only. */
function useWorth(document: Document | null) {
  const route = useBench((s) => s.route);
  const held = useLive((s) => s.held);
  const compiled = useMemo(() => (document ? compile(document, null) : null), [document]);
  return useMemo(() => {
    if (!document || !compiled) return null;
    const way = document.routes[route] ?? null;
    return (timeS: number) => {
      const values = readValues(compiled, way, timeS, way ? routePose(way, timeS) : standing(document), held);
      return Object.fromEntries(compiled.feedIds.map((id, k) => [id, values[k]]));
    };
  }, [document, compiled, route, held]);
}

/** What each object of a feed is worth now, by feed; null while no feed has a value for each, or the level is not there. */
function useObjectValues(document: Document | null, timeS: number) {
  const compiled = useWithLevel(document);
  const route = useBench((s) => s.route);
  const held = useLive((s) => s.held);
  const frame = useGame((s) => s.frame);
  return useMemo(() => {
    if (!document || !compiled) return null;
    const way = document.routes[route] ?? null;
    const pose = way ? routePose(way, timeS) : standing(document);
    const values = frame
      ? gameValues(compiled, frame.values, timeS, pose, held, { speedMps: 0, fallenM: 0 })
      : readValues(compiled, way, timeS, pose, held);
    const out = new Map<string, Map<string, FeedValue | undefined>>();
    for (const [id, { each }] of Object.entries(document.feeds)) if (each) out.set(id, new Map());
    compiled.feedIds.forEach((key, k) => {
      const { id: feed, object } = partsOfKey(key);
      if (object !== null) out.get(feed)?.set(object, values[k]);
    });
    return out;
  }, [document, compiled, route, timeS, held, frame]);
}

export default function Feeds() {
  const { id = '' } = useParams();
  const document = useProject(shownDocument);
  const failed = useProject((s) => s.failed);
  const { timeS, playing } = useBenchPart('timeS', 'playing');
  useEffect(() => {
    useBench.setState({ ...useBench.getInitialState(), ...fromQuery(window.location.search) }, true);
    void openProject(id);
  }, [id]);
  useAddress();
  useGames(id);
  const frame = useGame((s) => s.frame);
  const sent = useGame((s) => s.sent);
  useTicking();
  const { hash } = useLocation();
  // An address names a row: it comes into sight.
  useEffect(() => {
    if (document && hash) window.document.getElementById(decodeURIComponent(hash.slice(1)))?.scrollIntoView({ block: 'center' });
  }, [hash, document === null]);
  const worth = useWorth(document);
  const fromS = Math.max(0, Math.floor(timeS / SPAN_S) * SPAN_S);
  const histories = useMemo(() => {
    const out: Record<string, { at: number; value: FeedValue | undefined }[]> = {};
    for (let k = 0; worth && k <= SAMPLES; k++) {
      const at = fromS + (k / SAMPLES) * SPAN_S;
      for (const [feed, value] of Object.entries(worth(at))) {
        out[feed] ??= [];
        out[feed].push({ at, value });
      }
    }
    return out;
  }, [worth, fromS]);
  const users = useMemo(() => (document ? feedUsers(document) : {}), [document]);
  const objects = useObjectValues(document, timeS);
  if (failed) return <Unopened failed={failed} />;
  if (!document || !worth) return <Waiting what="Opening the feeds" />;
  // A game's values where one is followed; what it has not said is empty, but for what the bench works out.
  const now = frame
    ? Object.fromEntries(
        Object.entries(worth(timeS)).map(([feed, value]) => [
          feed,
          frame.values[feed] ?? (isBuiltIn(document.feeds[feed]?.source) ? value : undefined),
        ]),
      )
    : worth(timeS);
  // The last minute, on whole seconds: the curves are drawn as they grow, not with every frame.
  const lastS = Math.max(0, ...Object.values(sent).map((curve) => curve.at(-1)?.at ?? 0));
  const sentFromS = Math.max(0, Math.ceil(lastS) - SENT_S);
  const feeds = inOrder(document.feeds);
  const add = (kind: Feed['kind'], name: string) =>
    change('Add a feed', (d) => ({
      ...d,
      feeds: {
        ...d.feeds,
        [freeFeedId(d.feeds, name)]: {
          name,
          order: orderAfter(d.feeds),
          kind,
          unit: '',
          initial: { number: 0, text: '', flag: false, list: [], event: { number: 0, place: [0, 0, 0] as [number, number, number] } }[kind],
          ...(kind === 'number' ? { range: [0, 100] as [number, number] } : {}),
          source: { kind: 'fixed' as const },
        },
      },
    }));
  return (
    <main className="feeds">
      <Header name={document.name} view="feeds" />
      <section className="feeds-time" aria-label="Time">
        <ActionIcon
          variant="transparent"
          className="icon-button"
          aria-label="Back to the start"
          title="Back to the start"
          onClick={() => useBench.setState({ timeS: 0 })}
        >
          <IconRewindBackward10 size={17} />
        </ActionIcon>
        <ActionIcon
          variant="transparent"
          className="icon-button"
          aria-label={playing ? 'Pause' : 'Play'}
          title={playing ? 'Pause' : 'Play'}
          onClick={() => useBench.setState({ playing: !playing })}
        >
          {playing ? <IconPlayerPause size={17} /> : <IconPlayerPlay size={17} />}
        </ActionIcon>
        <span className="num feeds-clock">{timeS.toFixed(1)} s</span>
        <input
          type="range"
          aria-label="Time, seconds"
          min={0}
          max={fromS + SPAN_S}
          step={0.1}
          value={timeS}
          onChange={(event) => useBench.setState({ timeS: Number(event.currentTarget.value), playing: false })}
        />
        <span className="spring" />
        <Menu position="bottom-end">
          <Menu.Target>
            <Button size="xs" leftSection={<IconPlus size={15} />}>
              Feed
            </Button>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item onClick={() => add('number', 'Number')}>Number</Menu.Item>
            <Menu.Item onClick={() => add('text', 'Words')}>Text</Menu.Item>
            <Menu.Item onClick={() => add('flag', 'Flag')}>Flag, yes or no</Menu.Item>
            <Menu.Item onClick={() => add('list', 'List')}>List, shown as lines</Menu.Item>
            <Menu.Item onClick={() => add('event', 'Event')}>Event, with a place in the world</Menu.Item>
          </Menu.Dropdown>
        </Menu>
      </section>
      <div className="feeds-body">
        <section aria-label="Feeds" className="feed-list">
          {frame && <p className="hint">Values and curves are those of the running game, of its last minute.</p>}
          {feeds.length === 0 && (
            <p className="hint">No feed yet. A feed is a value that the game supplies; texts, gauges and conditions refer to it.</p>
          )}
          {feeds.map(([feed, one]) => (
            <FeedRow
              key={feed}
              id={feed}
              feed={one}
              value={now[feed]}
              fromS={frame ? sentFromS : fromS}
              toS={(frame ? sentFromS : fromS) + SPAN_S}
              history={(frame ? sent : histories)[feed] ?? NONE}
              isSent={frame !== null}
              users={users[feed] ?? NONE}
              objects={one.each ? (objects?.get(feed) ?? null) : null}
            />
          ))}
        </section>
        <div className="phases">
          <Phases document={document} />
          <Actions document={document} />
        </div>
      </div>
    </main>
  );
}

function Phases({ document }: { document: Document }) {
  const { timeS, route } = useBenchPart('timeS', 'route');
  const chosen = useLive((s) => s.phase);
  const phases = inOrder(document.phases);
  const now = chosen ?? phaseAt(document, document.routes[route] ?? null, timeS);
  const uses = (phase: string, what: 'hidden' | 'dimmed') =>
    Object.values(document.elements).filter((e) => e.show?.phases[phase] === what).length;
  const referred = (phase: string) =>
    Object.values(document.elements).some((e) => e.show && Object.hasOwn(e.show.phases, phase)) ||
    Object.values(document.routes).some((r) => r.phases.some((p) => p.phase === phase)) ||
    Object.values(document.actions ?? {}).some((a) => a.reactions.some((r) => r.kind === 'phase' && r.phase === phase));
  return (
    <section aria-label="Phases">
      <h2>Phases</h2>
      <p className="hint">States of the game. What each does to an element is set in the element's Phase step.</p>
      <ul>
        {phases.map(([phase, { name, order, takesInput }]) => (
          <li key={phase} data-now={phase === now}>
            <label>
              <input type="radio" name="phase" checked={phase === now} onChange={() => useLive.setState({ phase })} /> {name}
            </label>
            <span className="hint">
              {uses(phase, 'hidden')} hidden, {uses(phase, 'dimmed')} dimmed
            </span>
            <Switch
              size="xs"
              className="takes-input"
              label="takes the input"
              title="While it lasts the HUD takes the input: keys and the wheel do not move the camera"
              checked={takesInput === true}
              onChange={() =>
                change('Change a phase', (d) => ({
                  ...d,
                  phases: { ...d.phases, [phase]: { name, order, ...(takesInput ? {} : { takesInput: true }) } },
                }))
              }
            />
            <ActionIcon
              variant="transparent"
              className="icon-button"
              aria-label={`Remove phase ${name}`}
              disabled={phases.length === 1 || referred(phase)}
              title={referred(phase) ? 'In use: elements or routes refer to it' : 'Remove'}
              onClick={() => {
                if (now === phase) useLive.setState({ phase: null });
                change(`Remove phase ${name}`, (d) => {
                  const { [phase]: _, ...rest } = d.phases;
                  return { ...d, phases: rest };
                });
              }}
            >
              <IconTrash size={15} />
            </ActionIcon>
          </li>
        ))}
      </ul>
      {chosen !== null && (
        <UnstyledButton className="text-button" onClick={() => useLive.setState({ phase: null })}>
          Follow the route again
        </UnstyledButton>
      )}
      <form
        className="phase-new"
        onSubmit={(event) => {
          event.preventDefault();
          const field = event.currentTarget.elements.namedItem('phase') as HTMLInputElement;
          const name = field.value.trim();
          if (!name) return;
          change('Add a phase', (d) => ({
            ...d,
            phases: { ...d.phases, [freeId(d.phases, name)]: { name, order: orderAfter(d.phases) } },
          }));
          field.value = '';
        }}
      >
        <input name="phase" placeholder="Name of a phase" aria-label="Name of a new phase" />
        <UnstyledButton className="text-button">Add phase</UnstyledButton>
      </form>
    </section>
  );
}
