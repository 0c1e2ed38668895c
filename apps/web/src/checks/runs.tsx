/** The check that runs, and those that were; one is shown, another may be compared with it. */
import { FINDING_KINDS, type FindingKind } from '@foreshore/checks';
import type { CheckAbout } from '@foreshore/document';
import { sayVariant } from '@foreshore/words';
import { Button, Progress, Select } from '@mantine/core';
import { IconPlayerStop, IconRulerMeasure } from '@tabler/icons-react';
import { Bar, BarChart, XAxis, YAxis } from 'recharts';
import { cancelCheck, compareWith, showCheck, startCheck, useChecks } from '../state/checks.ts';
import { shownDocument, useProject } from '../state/project.ts';
import { languageName } from '../words/languages.ts';

const STATES: Record<CheckAbout['state'], string> = {
  running: 'runs now',
  done: '',
  cancelled: 'cancelled',
  cut: 'cut short: the server was stopped',
  failed: 'failed',
};
const when = (ms: number): string => new Date(ms).toLocaleString(undefined, { dateStyle: 'short', timeStyle: 'short' });
const total = ({ counts }: CheckAbout): number => Object.values(counts ?? {}).reduce((sum, n) => sum + n, 0);
const called = (one: CheckAbout): string => `Revision ${one.revision}, ${when(one.startedAt)}: ${total(one)}`;

export function Runs() {
  const { list, progress, shown, against, run } = useChecks();
  const document = useProject(shownDocument);
  const revision = useProject((s) => s.revision);
  const whole = (list ?? []).filter(({ state }) => state === 'done');
  const now = list?.find(({ id }) => id === shown);
  const [last] = list ?? [];
  const { part } = progress ?? {};
  return (
    <section aria-label="Checks" className="checks-runs">
      {progress ? (
        <div role="status" aria-label="Measuring">
          <Progress value={(100 * progress.done) / Math.max(1, progress.of)} size="sm" aria-label="Measured" />
          <p className="hint">
            <span className="num">
              {progress.done} of {progress.of}
            </span>{' '}
            parts
            {part && document
              ? `; last ${document.routes[part.route]?.name ?? part.route} at ${document.viewers[part.viewer]?.name ?? part.viewer}, ${languageName(part.language)}${part.variant === undefined ? '' : `, ${sayVariant(part.variant, document.phases)}`}`
              : ''}
          </p>
          <Button size="xs" variant="default" leftSection={<IconPlayerStop size={15} />} onClick={() => void cancelCheck()}>
            Cancel
          </Button>
        </div>
      ) : (
        <Button size="xs" leftSection={<IconRulerMeasure size={15} />} onClick={() => void startCheck()}>
          Measure
        </Button>
      )}
      {!progress && last && last.state !== 'done' && (
        <p className="hint" data-last={last.state}>
          The last check was {STATES[last.state]}
          {last.why ? `: ${last.why}` : ''}. {run ? 'Shown is the last whole one.' : ''}
        </p>
      )}
      {now?.state === 'done' && (
        <p className="hint" data-kept={now.kept} data-parts={now.parts}>
          {now.parts} parts measured at revision {now.revision}
          {now.kept > 0 ? `, ${now.kept} of them before: nothing that they depend on had changed` : ''}.
          {revision > now.revision ? ` The project is at revision ${revision} by now.` : ''}
        </p>
      )}
      {whole.length > 1 && (
        <>
          <Select
            size="xs"
            label="Shown"
            allowDeselect={false}
            value={shown === null ? null : String(shown)}
            data={whole.map((one) => ({ value: String(one.id), label: called(one) }))}
            onChange={(id) => id && void showCheck(Number(id))}
          />
          <Select
            size="xs"
            label="Compared with"
            placeholder="none"
            clearable
            value={against === null ? null : String(against)}
            data={whole.filter(({ id }) => id !== shown).map((one) => ({ value: String(one.id), label: called(one) }))}
            onChange={(id) => void compareWith(id === null ? null : Number(id))}
          />
          <History whole={whole} />
        </>
      )}
    </section>
  );
}

const WIDTH = 268;
const HEIGHT = 96;
const SHADES = ['var(--channel)', 'var(--amber)', 'var(--red)', 'var(--quiet)'];

/** Findings by kind, from check to check; the three kinds with the most, and the rest. */
function History({ whole }: { whole: readonly CheckAbout[] }) {
  const sums = new Map<string, number>();
  for (const { counts } of whole) for (const [kind, n] of Object.entries(counts ?? {})) sums.set(kind, (sums.get(kind) ?? 0) + n);
  const most = [...sums]
    .sort((a, b) => b[1] - a[1])
    .slice(0, 3)
    .map(([kind]) => kind);
  const data = [...whole].reverse().map((one) => {
    const of = (kind: string) => one.counts?.[kind] ?? 0;
    const told = most.reduce((sum, kind) => sum + of(kind), 0);
    return { name: `r${one.revision}`, ...Object.fromEntries(most.map((kind) => [kind, of(kind)])), rest: total(one) - told };
  });
  const keys = [...most, 'rest'];
  const title = (key: string) => (key === 'rest' ? 'Other kinds' : FINDING_KINDS[key as FindingKind].title);
  return (
    <figure className="checks-history">
      <div
        role="img"
        aria-label={`Findings of ${whole.length} checks: ${data.map((one, k) => `${one.name} ${total([...whole].reverse()[k] as CheckAbout)}`).join(', ')}`}
      >
        <BarChart width={WIDTH} height={HEIGHT} data={data} margin={{ top: 6, right: 4, bottom: 0, left: 0 }}>
          <XAxis dataKey="name" tick={{ fontSize: 11, fill: 'var(--faint)' }} tickLine={false} />
          <YAxis width={34} tick={{ fontSize: 11, fill: 'var(--faint)' }} tickLine={false} allowDecimals={false} />
          {keys.map((key, k) => (
            <Bar key={key} dataKey={key} stackId="all" fill={SHADES[k] as string} isAnimationActive={false} />
          ))}
        </BarChart>
      </div>
      <figcaption>
        {keys.map((key, k) => (
          <span key={key}>
            <i style={{ background: SHADES[k] as string }} /> {title(key)}
          </span>
        ))}
      </figcaption>
    </figure>
  );
}
