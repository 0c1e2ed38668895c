/** What happened since a revision to elements that nobody edited, along the routes: by the change that did it, with the way to the moment and what takes it back. */
import { type GatheredEffect, namesOf } from '@foreshore/checks';
import type { CompareScope, Document, RevisionAbout } from '@foreshore/document';
import { formatSeconds, sayRouteEffect } from '@foreshore/words';
import { Button, Progress, Select } from '@mantine/core';
import { IconArrowBackUp, IconArrowUpRight, IconPlayerStop } from '@tabler/icons-react';
import { useEffect, useState } from 'react';
import { Link } from 'react-router';
import { day, sayTouched } from '../shell/revisions.tsx';
import { api } from '../state/api.ts';
import { cancelCompare, compareSince, startCompare, undoRevision, useCompare } from '../state/compare.ts';
import { sayFailed } from '../state/notices.ts';
import { useProjectPart } from '../state/project.ts';
import { languageName } from '../words/languages.ts';
import { Fold } from './fold.tsx';
import { benchAt, viewerName } from './words.ts';

const counted = (n: number, one: string): string => `${n} ${one}${n === 1 ? '' : 's'}`;
/** Elements of one change; more are drawn when they are asked for. */
const PAGE = 40;

export function SinceRevision({ project, document }: { project: string; document: Document }) {
  const { opened, state, effects, from } = useCompare();
  const title =
    state === 'none'
      ? 'Side effects since a revision'
      : `Since revision ${from}: ${effects.length === 0 ? (state === 'done' ? 'no side effects' : 'side effects') : counted(effects.length, 'side effect')}`;
  return (
    <section aria-label="Compared with a revision" className="checks-since" data-state={state} data-effects={effects.length}>
      <Fold opened={opened} onToggle={() => useCompare.setState({ opened: !opened })}>
        {title}
      </Fold>
      {opened && (
        <>
          <Choose document={document} />
          <Result project={project} document={document} />
        </>
      )}
    </section>
  );
}

/** In a line: its number, what it is called or what it touched, and when. */
const sayRevision = (document: Document, one: RevisionAbout): string =>
  [`${one.number}`, one.name ?? sayTouched(document, one), one.at === null ? null : day(one.at)].filter(Boolean).join(' · ');

/** The earlier revision, and what begins and ends the comparison. */
function Choose({ document }: { document: Document }) {
  const { since, state, scope, results } = useCompare();
  const { id, revision, save } = useProjectPart('id', 'revision', 'save');
  const [known, setKnown] = useState<readonly RevisionAbout[]>([]);
  useEffect(() => {
    if (!id || save !== 'saved' || revision === 0) return;
    let left = false;
    api.revisions(id).then(
      ({ revisions, named }) => {
        if (left) return;
        const others = named.filter(({ number }) => revisions.every((one) => one.number !== number));
        setKnown([...revisions, ...others]);
      },
      (error: Error) => sayFailed(`The revisions could not be read: ${error.message}`),
    );
    return () => {
      left = true;
    };
  }, [id, revision, save]);
  const data = known
    .filter(({ number }) => number < revision)
    .map((one) => ({ value: String(one.number), label: sayRevision(document, one) }));
  // Chosen among the earlier ones in the list of revisions.
  if (since !== null && since < revision && !data.some(({ value }) => value === String(since)))
    data.push({ value: String(since), label: `${since}` });
  const runs = state === 'parts' || state === 'causes';
  if (revision === 0) return <p className="hint">The project has one revision; there is nothing to compare with.</p>;
  return (
    <div className="checks-filter">
      <Select
        size="xs"
        w={320}
        label="Since revision"
        placeholder="choose one"
        searchable
        value={since === null || since >= revision ? null : String(since)}
        data={data}
        onChange={(value) => id && compareSince(id, value === null ? null : Number(value))}
      />
      {runs ? (
        <>
          <Button size="xs" variant="default" leftSection={<IconPlayerStop size={15} />} onClick={cancelCompare}>
            Cancel
          </Button>
          <div role="status" className="checks-comparing">
            <Progress value={(100 * results.length) / Math.max(1, scope?.parts.length ?? 1)} size="sm" aria-label="Compared" />
            <span className="hint">
              {state === 'causes' ? (
                'Which change did it is being looked for.'
              ) : (
                <>
                  <span className="num">
                    {results.length} of {scope?.parts.length ?? 0}
                  </span>{' '}
                  parts
                </>
              )}
            </span>
          </div>
        </>
      ) : (
        <Button
          size="xs"
          variant="default"
          disabled={since === null || since >= revision || save !== 'saved'}
          onClick={() => void startCompare()}
        >
          Compare with revision {revision}
        </Button>
      )}
    </div>
  );
}

/** What is not told of, or could not be. */
function sayScope(document: Document, { parts, same, newViewers, newLanguages, edited, came, went }: CompareScope): string {
  const total = parts.length + same;
  const said = [
    total === 0
      ? 'There is no route with poses at a viewer that was there: nothing was compared.'
      : parts.length === 0
        ? 'Nothing that any route shows depends on what was changed.'
        : `${parts.length} of ${total} parts may differ${same > 0 ? ', and are compared' : ''}.`,
    newViewers.length + newLanguages.length > 0
      ? `Not there before: ${[...newViewers.map((id) => viewerName(document, id)), ...newLanguages.map(languageName)].join(', ')}.`
      : null,
    edited.length + came.length + went.length > 0
      ? `Meant, and not told of: ${[edited.length && `${edited.length} edited`, came.length && `${came.length} new`, went.length && `${went.length} removed`].filter(Boolean).join(', ')}.`
      : null,
  ];
  return said.filter(Boolean).join(' ');
}

function Result({ project, document }: { project: string; document: Document }) {
  const { state, scope, effects, causes, to, undone } = useCompare();
  const { revision } = useProjectPart('revision');
  if (state === 'none')
    return (
      <p className="hint checks-since-hint">
        The project as it was and as it is, replayed side by side along every route at every viewer in every language that checks measure:
        what moved, grew, came, went or got less readable although nobody edited it, and which change did it.
      </p>
    );
  const groups = new Map<number | null, GatheredEffect[]>();
  for (const effect of effects) {
    const number = causes[effect.element]?.number ?? null;
    groups.set(number, [...(groups.get(number) ?? []), effect]);
  }
  const aboutOf = (number: number | null) => Object.values(causes).find((one) => one.number === number);
  return (
    <>
      {scope && <p className="hint">{sayScope(document, scope)}</p>}
      {state === 'cancelled' && <p className="hint">It was ended before all was compared.</p>}
      {state === 'done' && effects.length === 0 && scope && scope.parts.length > 0 && (
        <p className="hint">Whatever nobody edited stands as it did.</p>
      )}
      {revision > to && (
        <p className="hint">
          This is of revision {to}; the project is at revision {revision} by now. Compare again.
        </p>
      )}
      {[...groups]
        .sort(([a], [b]) => (b ?? -1) - (a ?? -1))
        .map(([number, of]) => (
          <Cause
            key={number}
            about={aboutOf(number) ?? null}
            effects={of}
            project={project}
            document={document}
            isUndone={number !== null && undone.includes(number)}
          />
        ))}
    </>
  );
}

/** What one change did; before that is known, all that happened. */
function Cause({
  about,
  effects,
  project,
  document,
  isUndone,
}: {
  about: RevisionAbout | null;
  effects: readonly GatheredEffect[];
  project: string;
  document: Document;
  isUndone: boolean;
}) {
  const [most, setMost] = useState(PAGE);
  return (
    <div className="checks-group" data-cause={about?.number ?? ''}>
      <h3>
        {about === null ? 'By a change that is not found yet' : `By revision ${sayRevision(document, about)}`}{' '}
        <span className="num">{effects.length}</span>
        {about !== null && (
          <Button
            size="compact-xs"
            variant="default"
            disabled={isUndone}
            leftSection={<IconArrowBackUp size={13} />}
            title="What it changed is as before; later changes stay"
            onClick={() => void undoRevision(about.number)}
          >
            {isUndone ? 'Undone' : `Undo revision ${about.number}`}
          </Button>
        )}
      </h3>
      <ul>
        {effects.slice(0, most).map((effect) => (
          <EffectRow key={effect.element} effect={effect} project={project} document={document} />
        ))}
      </ul>
      {effects.length > most && (
        <button type="button" className="link-button" onClick={() => setMost(most + PAGE)}>
          {Math.min(PAGE, effects.length - most)} more of {effects.length - most}
        </button>
      )}
    </div>
  );
}

function EffectRow({ effect, project, document }: { effect: GatheredEffect; project: string; document: Document }) {
  const { element, route, viewer, language, atS, viewers, also } = effect;
  const others = viewers.filter((id) => id !== viewer);
  return (
    <li className="finding" data-effect={effect.kind} data-element={element}>
      <div className="finding-what">
        <span>
          <b>{namesOf(document)[element] ?? element}</b> {[effect, ...also].map(sayRouteEffect).join('; ')}
        </span>
        <span className="hint">
          {[
            viewerName(document, viewer),
            ...(language === document.language ? [] : [languageName(language)]),
            `${document.routes[route]?.name ?? route}, ${formatSeconds(atS)} s`,
            ...(others.length > 0
              ? [`and ${others.length === 1 ? viewerName(document, others[0] ?? null) : `${others.length} more viewers`}`]
              : []),
          ].join(' · ')}
        </span>
      </div>
      {document.elements[element] && (
        <Button
          size="compact-xs"
          variant="default"
          component={Link}
          to={benchAt(project, document, effect, effect.kind === 'moved' || effect.kind === 'resized' ? 'place' : 'readable')}
          rightSection={<IconArrowUpRight size={13} />}
        >
          On the bench
        </Button>
      )}
    </li>
  );
}
