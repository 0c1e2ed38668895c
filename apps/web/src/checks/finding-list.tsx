/** Findings one by one, in groups: what is wrong, where and when, the way to the moment, and what somebody says of it. */
import { FINDING_KINDS, type Finding } from '@foreshore/checks';
import type { Document } from '@foreshore/document';
import { sayFinding, sayMembers, sentence } from '@foreshore/words';
import { Button, Checkbox, Popover, TextInput } from '@mantine/core';
import { useLocalStorage } from '@mantine/hooks';
import { IconArrowUpRight, IconX } from '@tabler/icons-react';
import { useState } from 'react';
import { Link } from 'react-router';
import { Choice } from '../fields/rows.tsx';
import { MakeRoute } from '../shell/make-route.tsx';
import { useChecks } from '../state/checks.ts';
import { change } from '../state/project.ts';
import { Mend } from './mend.tsx';
import { MendAll } from './mend-all.tsx';
import { MomentPicture } from './moment.tsx';
import { type Filter, type Gathered, gathered, type Told } from './told.ts';
import { momentOf, sayWhere, viewerName } from './words.ts';

const GROUPS = { element: 'by element', kind: 'by kind', viewer: 'by viewer' } as const;
type By = keyof typeof GROUPS;
/** More are drawn when they are asked for. */
const PAGE = 100;

const isMeant = ({ finding, change: how, accepted }: Told, filter: Filter): boolean =>
  (filter.kind === null || finding.kind === filter.kind) &&
  (filter.element === null || finding.element === filter.element) &&
  (filter.viewer === null || finding.viewer === filter.viewer) &&
  (filter.accepted || accepted === null) &&
  (!filter.fresh || how === 'new' || how === 'worse') &&
  (filter.words === '' || wordsOf(finding).toLowerCase().includes(filter.words.toLowerCase()));
/** What a search finds it by: a member that is told with its group, too. */
const wordsOf = ({ name, element, kind, members = [] }: Finding): string =>
  [FINDING_KINDS[kind].title, ...[{ name, element }, ...members].flatMap((one) => [one.name, one.element])].join('\n');

export function FindingList({
  project,
  document,
  told,
  filter,
  set,
  names,
}: {
  project: string;
  document: Document;
  told: readonly Told[];
  filter: Filter;
  set: (part: Partial<Filter>) => void;
  names: Readonly<Record<string, string>>;
}) {
  const [by, setBy] = useState<By>('element');
  const [most, setMost] = useState(PAGE);
  const compared = useChecks((s) => s.before !== null);
  const shown = gathered(
    told.filter((one) => isMeant(one, filter)),
    by === 'viewer',
  );
  const titleOf = ({ worst: { finding } }: Gathered): string =>
    by === 'element' ? finding.name : by === 'kind' ? FINDING_KINDS[finding.kind].title : viewerName(document, finding.viewer);
  const groups = new Map<string, Gathered[]>();
  for (const one of shown) {
    const title = titleOf(one);
    const group = groups.get(title);
    if (group) group.push(one);
    else groups.set(title, [one]);
  }
  // Whole groups, as many as there is room for; a large one as far as that.
  let room = most;
  const drawn = [...groups].flatMap(([title, of]) => {
    const rows = of.slice(0, Math.max(0, room));
    room -= rows.length;
    return rows.length > 0 ? [{ title, count: of.length, rows }] : [];
  });
  const chosen = filter.element !== null ? `${names[filter.element] ?? filter.element} at ${viewerName(document, filter.viewer)}` : null;
  return (
    <section aria-label="Findings" className="checks-list" data-shown={shown.length}>
      <div className="checks-filter">
        <TextInput
          size="xs"
          label="Search"
          placeholder="element or kind"
          value={filter.words}
          onChange={(event) => set({ words: event.currentTarget.value })}
        />
        <Choice label="Grouped" value={by} choices={GROUPS} onChange={setBy} />
        {compared && (
          <Checkbox
            size="xs"
            label="Only new and worse"
            checked={filter.fresh}
            onChange={(event) => set({ fresh: event.currentTarget.checked })}
          />
        )}
        <Checkbox
          size="xs"
          label="Accepted, too"
          checked={filter.accepted}
          onChange={(event) => set({ accepted: event.currentTarget.checked })}
        />
        <MendAll rows={shown} document={document} />
        {chosen && (
          <button type="button" className="text-button" onClick={() => set({ element: null, viewer: null })}>
            {chosen} <IconX size={13} aria-hidden="true" />
          </button>
        )}
      </div>
      {told.length > 0 && shown.length === 0 && <p className="hint">Nothing of what was found is meant by these choices.</p>}
      {drawn.map(({ title, count, rows }) => (
        <div key={title} className="checks-group">
          <h3>
            {title} <span className="num">{count}</span>
          </h3>
          <ul>
            {rows.map((one) => (
              <Row key={one.worst.finding.key} one={one} by={by} project={project} document={document} names={names} />
            ))}
          </ul>
        </div>
      ))}
      {shown.length > most && (
        <button type="button" className="link-button" onClick={() => setMost(most + PAGE)}>
          {Math.min(PAGE, shown.length - most)} more of {shown.length - most}
        </button>
      )}
    </section>
  );
}

/** Names of the members that are told with a group. */
const membersOf = (all: readonly Told[]): string[] => [
  ...new Set(all.flatMap(({ finding: { members = [] } }) => members.map(({ name }) => name))),
];

function Row({
  one,
  by,
  project,
  document,
  names,
}: {
  one: Gathered;
  by: By;
  project: string;
  document: Document;
  names: Readonly<Record<string, string>>;
}) {
  const { worst, all } = one;
  const { finding, change: how, accepted } = worst;
  const members = sayMembers(all.map((each) => each.finding));
  const others = [...new Set(all.map((each) => each.finding.viewer))].filter((viewer) => viewer !== null && viewer !== finding.viewer);
  return (
    <li className="finding" data-kind={finding.kind} data-element={finding.element} data-viewer={finding.viewer ?? ''}>
      <MomentPicture finding={finding} document={document} />
      <div className="finding-what">
        <span>
          <b>{by === 'element' ? sentence(sayFinding(finding, names)) : `${finding.name}: ${sayFinding(finding, names)}`}</b>
          {how && (
            <span className="finding-change" data-change={how}>
              {how}
            </span>
          )}
        </span>
        <span className="hint">
          {sayWhere(document, finding, by === 'viewer' ? 'viewer' : null)}
          {others.length > 0 && (
            <span title={others.map((id) => viewerName(document, id)).join(', ')}>
              {' '}
              · and {others.length === 1 ? viewerName(document, others[0] ?? null) : `${others.length} more viewers`}
            </span>
          )}
          {members && <span title={membersOf(all).join(', ')}> · {members}</span>}
        </span>
        {accepted && (
          <span className="hint">
            Accepted by {accepted.by} on {accepted.on}: {accepted.reason}
          </span>
        )}
      </div>
      {document.elements[finding.element] && (
        <Button
          size="compact-xs"
          variant="default"
          component={Link}
          to={momentOf(project, document, finding)}
          rightSection={<IconArrowUpRight size={13} />}
        >
          On the bench
        </Button>
      )}
      {!accepted && <Mend one={one} document={document} />}
      {!accepted && finding.kind === 'neverShown' && finding.viewer !== null && document.elements[finding.element] && (
        <MakeRoute
          project={project}
          document={document}
          wanted={{
            ...{ kind: 'shows', elements: [finding.element], viewers: [finding.viewer] },
            language: finding.language ?? document.language,
          }}
          name={`To ${finding.name}`}
          label={`Make a route to ${finding.name}`}
        />
      )}
      {accepted ? (
        <Button size="compact-xs" variant="subtle" onClick={() => unaccept(finding)}>
          No longer
        </Button>
      ) : (
        <Accept finding={finding} />
      )}
    </li>
  );
}

const isOf = (finding: Finding) => (one: { kind: string; element: string }) => one.kind === finding.kind && one.element === finding.element;
const unaccept = (finding: Finding): boolean =>
  change('Accept a finding no longer', (d) => ({
    ...d,
    checks: { ...d.checks, accepted: (d.checks?.accepted ?? []).filter((one) => !isOf(finding)(one)) },
  }));

/** A finding is as it should be: why, and who says so. It holds for this kind at this element, wherever it is seen. */
function Accept({ finding }: { finding: Finding }) {
  const [opened, setOpened] = useState(false);
  const [reason, setReason] = useState('');
  const [by, setBy] = useLocalStorage({ key: 'foreshore.name', defaultValue: '' });
  const accept = () => {
    const on = new Date().toISOString().slice(0, 10);
    change('Accept a finding', (d) => ({
      ...d,
      checks: {
        ...d.checks,
        accepted: [
          ...(d.checks?.accepted ?? []).filter((one) => !isOf(finding)(one)),
          { kind: finding.kind, element: finding.element, reason: reason.trim(), by: by.trim(), on },
        ],
      },
    }));
    setOpened(false);
  };
  return (
    <Popover opened={opened} onChange={setOpened} trapFocus withinPortal position="bottom-end">
      <Popover.Target>
        <Button size="compact-xs" variant="subtle" onClick={() => setOpened(!opened)}>
          Accept…
        </Button>
      </Popover.Target>
      <Popover.Dropdown>
        <form
          className="checks-accept"
          onSubmit={(event) => {
            event.preventDefault();
            if (reason.trim() && by.trim()) accept();
          }}
        >
          <p className="hint">
            “{FINDING_KINDS[finding.kind].title}” at {finding.name} is as it should be, at every viewer. Reports say so.
          </p>
          <TextInput size="xs" label="Because" maxLength={500} value={reason} onChange={(event) => setReason(event.currentTarget.value)} />
          <TextInput size="xs" label="Your name" maxLength={80} value={by} onChange={(event) => setBy(event.currentTarget.value)} />
          <Button size="xs" type="submit" disabled={!reason.trim() || !by.trim()}>
            Accept
          </Button>
        </form>
      </Popover.Dropdown>
    </Popover>
  );
}
