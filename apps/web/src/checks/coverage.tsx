/** What no route reaches: elements, phases, actions and ground; and a route that does, made at once. */
import { type CheckRun, coverageOf, sharesOf } from '@foreshore/checks';
import { type Document, inOrder } from '@foreshore/document';
import { STEP_TITLES } from '@foreshore/words';
import { Button } from '@mantine/core';
import { IconArrowUpRight } from '@tabler/icons-react';
import { type ReactNode, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { useGround, useGroundOf } from '../questions/use-ground.ts';
import { MakeRoute } from '../shell/make-route.tsx';
import { Fold } from './fold.tsx';

/** More viewers are not tried: what none of these shows is hidden by something else. */
const MOST_VIEWERS = 3;

const counted = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`;
const listed = (parts: readonly string[]): string =>
  parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`;

export function Coverage({ project, document, run }: { project: string; document: Document; run: CheckRun }) {
  const [opened, setOpened] = useState(false);
  const coverage = useMemo(() => coverageOf(run), [run]);
  const { ground, waiting, failed } = useGroundOf(opened && coverage !== null);
  if (!coverage) return null;
  const elements = coverage.elements.filter(({ element }) => document.elements[element]);
  const phases = coverage.phases.filter(({ id }) => document.phases[id]);
  const actions = coverage.actions.filter(({ id }) => document.actions?.[id]);
  const missed = [
    ...(elements.length > 0 ? [counted(elements.length, 'element')] : []),
    ...(phases.length > 0 ? [counted(phases.length, 'phase')] : []),
    ...(actions.length > 0 ? [counted(actions.length, 'action')] : []),
  ];
  const viewers = [...new Set(run.parts.map(({ viewer }) => viewer))].filter((id) => document.viewers[id]).slice(0, MOST_VIEWERS);
  const shows = (ids: readonly string[]) => ({ kind: 'shows' as const, elements: ids, viewers, language: document.language });
  const nameOf = (id: string) => run.names[id] ?? id;
  const make = (wanted: Parameters<typeof MakeRoute>[0]['wanted'], name: string) => (
    <MakeRoute project={project} document={document} wanted={wanted} name={name} label={`Make a route: ${name}`} />
  );
  const shares = ground && sharesOf(ground);
  return (
    <section aria-label="Coverage" className="checks-coverage" data-missed={elements.length + phases.length + actions.length}>
      <Fold opened={opened} onToggle={() => setOpened(!opened)}>
        {missed.length > 0 ? `On none of the routes: ${listed(missed)}` : 'Every element, phase and action is on a route'}
      </Fold>
      {opened && (
        <ul>
          {elements.map(({ element, hiddenBy }) => (
            <Missed key={element} of="element" id={element} name={nameOf(element)} why={hiddenBy && `hidden by ${STEP_TITLES[hiddenBy]}`}>
              {make(shows([element]), `To ${nameOf(element)}`)}
            </Missed>
          ))}
          {phases.map(({ id, name }) => (
            <Missed key={id} of="phase" id={id} name={name} why="no route is in it">
              {inOrder(document.routes).length > 0 && make({ kind: 'phase', phase: id }, `In ${name}`)}
            </Missed>
          ))}
          {actions.map(({ id, name, senders }) => (
            <Missed
              key={id}
              of="action"
              id={id}
              name={name}
              why={senders.length === 0 ? 'nothing sends it' : `what sends it is never shown: ${listed(senders.map(nameOf))}`}
            >
              {senders.length > 0 && make(shows(senders), `For ${name}`)}
            </Missed>
          ))}
          {document.level && (
            <Missed
              of="ground"
              id="ground"
              name={shares ? `${Math.round(shares.reached * 100)} %` : waiting ? 'Working it out' : 'None'}
              why={
                failed !== null
                  ? `could not be worked out: ${failed}`
                  : shares
                    ? `of ${Math.round(shares.squareM).toLocaleString('en')} square metres about what is placed lie within 5 m of a route`
                    : waiting
                      ? ''
                      : 'no route of this project goes on foot'
              }
            >
              {shares && shares.reached < 1 && (
                <>
                  {make({ kind: 'ground' }, 'Over more of the ground')}
                  <Button
                    size="compact-xs"
                    variant="subtle"
                    component={Link}
                    to={`/p/${project}/plan`}
                    onClick={() => useGround.setState({ drawn: true })}
                    rightSection={<IconArrowUpRight size={13} />}
                  >
                    In Plan
                  </Button>
                </>
              )}
            </Missed>
          )}
        </ul>
      )}
    </section>
  );
}

const KINDS = { element: 'Element', phase: 'Phase', action: 'Action', ground: 'Ground' } as const;

function Missed({
  of,
  id,
  name,
  why,
  children,
}: {
  of: keyof typeof KINDS;
  id: string;
  name: string;
  why: string | null;
  children: ReactNode;
}) {
  return (
    <li className="finding" data-missed={of} data-id={id}>
      <span className="finding-what">
        <span>
          <span className="checks-missed">{KINDS[of]}</span> <b>{name}</b> {why && <span className="hint">{why}</span>}
        </span>
      </span>
      {children}
    </li>
  );
}
