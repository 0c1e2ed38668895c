/** The plan: the level from above, with routes, zones, ranges and readable areas to look at and to change. */
import { sharesOf } from '@foreshore/checks';
import { routeDurationS } from '@foreshore/core';
import { inOrder } from '@foreshore/document';
import { TextInput, UnstyledButton } from '@mantine/core';
import { IconTrash } from '@tabler/icons-react';
import { useParams } from 'react-router';
import { Content } from '../bench/content/content.tsx';
import { removeRoute } from '../edits/edits.ts';
import { NumberField } from '../fields/number-field.tsx';
import { Choice } from '../fields/rows.tsx';
import { EngineContext } from '../questions/engine-context.ts';
import { showArea, useArea } from '../questions/use-area.ts';
import { useGround, useGroundOf } from '../questions/use-ground.ts';
import { useOpened } from '../questions/use-opened.ts';
import { Header } from '../shell/header.tsx';
import { MakeRoute } from '../shell/make-route.tsx';
import { Unopened } from '../shell/unopened.tsx';
import { Waiting } from '../shell/waiting.tsx';
import { useAddress, useBench, useBenchPart } from '../state/bench.ts';
import { change, shownDocument, useProject } from '../state/project.ts';
import { retimed, speedAt } from './route-edit.ts';
import { Sheet } from './sheet.tsx';
import './plan.css';

export default function Plan() {
  const { id = '' } = useParams();
  const { kept, engine, failed } = useOpened(id);
  useAddress();
  if (failed) return <Unopened failed={failed} />;
  if (!kept || !engine) return <Waiting what="Opening the plan" />;
  return (
    <EngineContext value={engine}>
      <main className="plan">
        <Header name={kept.name} view="plan" />
        <Sheet />
        <Side />
      </main>
    </EngineContext>
  );
}

/** How much of the ground about what is placed routes come near, and a route over the rest. */
function GroundFacts() {
  const { id = '' } = useParams();
  const document = useProject(shownDocument);
  const { ground, waiting, failed } = useGroundOf(true);
  const shares = ground && sharesOf(ground);
  if (!document) return null;
  return (
    <div className="hint wide plan-ground">
      {failed !== null
        ? `It could not be worked out: ${failed}`
        : waiting
          ? 'Working it out.'
          : shares
            ? `Routes come within 5 m of ${Math.round(shares.reached * 100)} % of ${Math.round(shares.squareM).toLocaleString('en')} square metres about what is placed.`
            : 'Needs a level, something that stands in it, and a route that goes on foot.'}
      {shares && shares.reached < 1 && (
        <MakeRoute
          project={id}
          document={document}
          wanted={{ kind: 'ground' }}
          name="Over more of the ground"
          label="Make a route over more of the ground"
        />
      )}
    </div>
  );
}

/** The moment, the route and the readable area; and what the selected element contains. */
function Side() {
  const document = useProject(shownDocument);
  const { route, timeS, area } = useBenchPart('route', 'timeS', 'area');
  const { shown, waiting } = useArea();
  const drawn = useGround((s) => s.drawn);
  if (!document) return null;
  const routes = inOrder(document.routes);
  const way = document.routes[route];
  const durationS = way ? routeDurationS(way) : 0;
  return (
    <aside className="rail plan-side" aria-label="Route and selection">
      <section className="section" aria-label="Route">
        <h2>Route</h2>
        {routes.length === 0 ? (
          <p className="hint">No route yet. Record one in the bench; here its points are dragged, and where it looks.</p>
        ) : (
          <div className="fields">
            <Choice
              label="Route"
              value={route}
              choices={Object.fromEntries(routes.map(([id, r]) => [id, r.name]))}
              onChange={(id) => useBench.setState({ route: id, timeS: 0, pose: null })}
            />
            {way && (
              <TextInput
                key={`${route} ${way.name}`}
                size="xs"
                label="Name of the route"
                defaultValue={way.name}
                onBlur={({ currentTarget }) => {
                  const name = currentTarget.value.trim();
                  if (name && name !== way.name)
                    change('Rename a route', (d) => ({ ...d, routes: { ...d.routes, [route]: { ...way, name } } }));
                  else currentTarget.value = way.name;
                }}
              />
            )}
            {way && (
              <NumberField
                label="Takes"
                unit="s"
                least={0.5}
                greatest={3600}
                value={durationS}
                onChange={(v) =>
                  change('Change how long a route takes', (d) => ({ ...d, routes: { ...d.routes, [route]: retimed(way, v) } }))
                }
              />
            )}
            {way && (
              <UnstyledButton className="text-button plan-remove" onClick={() => removeRoute(route)}>
                <IconTrash size={15} aria-hidden="true" /> Remove the route
              </UnstyledButton>
            )}
            {way && (
              <label className="wide plan-time">
                <span className="num">
                  {timeS.toFixed(1)} s, {speedAt(way, timeS).toFixed(1)} m/s
                </span>
                <input
                  type="range"
                  aria-label="Time on the route, seconds"
                  min={0}
                  max={durationS}
                  step={0.1}
                  value={Math.min(timeS, durationS)}
                  onChange={(event) => useBench.setState({ timeS: Number(event.currentTarget.value), pose: null, playing: false })}
                />
              </label>
            )}
            <Choice
              label="Readable area of the selection"
              value={area}
              choices={{ off: 'not drawn', viewer: 'for the chosen viewer', all: 'for all viewers at once' }}
              onChange={(next) => showArea(next, useBench.getState().selection)}
            />
            <Choice
              label="Ground that no route comes near"
              value={drawn ? 'drawn' : 'off'}
              choices={{ off: 'not drawn', drawn: 'drawn' }}
              onChange={(next) => useGround.setState({ drawn: next === 'drawn' })}
            />
            {drawn && <GroundFacts />}
            {area !== 'off' && (
              <p className="hint wide">
                {shown
                  ? `Read from ${(shown.share * 100).toFixed(shown.share < 0.1 ? 1 : 0)} % of the ground about it, ${shown.squareM.toFixed(0)} square metres.`
                  : waiting
                    ? 'Working it out.'
                    : 'Select something that floats.'}
              </p>
            )}
          </div>
        )}
      </section>
      <Content />
    </aside>
  );
}
