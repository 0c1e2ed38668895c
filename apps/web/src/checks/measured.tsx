/** What is measured, and which kinds are told; kept with the project. */
import { FINDING_KINDS, type FindingKind } from '@foreshore/checks';
import { type ChecksSettings, type Document, inOrder } from '@foreshore/document';
import { Checkbox, UnstyledButton } from '@mantine/core';
import { IconChevronDown, IconChevronRight } from '@tabler/icons-react';
import { useState } from 'react';
import { change } from '../state/project.ts';
import { languageName } from '../words/languages.ts';

type Of = 'routes' | 'viewers' | 'languages';
const TITLES: Record<Of, string> = { routes: 'Routes', viewers: 'Viewers', languages: 'Languages' };

const set = (what: string, part: Partial<ChecksSettings>): boolean => change(what, (d) => ({ ...d, checks: { ...d.checks, ...part } }));

export function Measured({ document }: { document: Document }) {
  const { checks = {} } = document;
  const all: Record<Of, readonly (readonly [string, string])[]> = {
    routes: inOrder(document.routes).map(([id, { name }]) => [id, name]),
    viewers: inOrder(document.viewers).map(([id, { name }]) => [id, name]),
    languages: [document.language, ...(document.languages ?? [])].map((tag) => [tag, languageName(tag)]),
  };
  const off = checks.off ?? [];
  const [kinds, setKinds] = useState(false);
  return (
    <section aria-label="What is measured" className="checks-measured">
      <h2>What is measured</h2>
      {(Object.keys(TITLES) as Of[]).map((of) => {
        const ids = all[of].map(([id]) => id);
        const chosen = checks[of]?.filter((id) => ids.includes(id)) ?? ids;
        if (ids.length < 2) return null;
        return (
          <fieldset key={of}>
            <legend>{TITLES[of]}</legend>
            {all[of].map(([id, name]) => (
              <Checkbox
                key={id}
                size="xs"
                label={name}
                checked={chosen.includes(id)}
                onChange={(event) => {
                  const next = ids.filter((one) => (one === id ? event.currentTarget.checked : chosen.includes(one)));
                  // All of them is the rule: what comes later is measured, too.
                  set('Choose what is measured', { [of]: next.length === ids.length ? undefined : next });
                }}
              />
            ))}
          </fieldset>
        );
      })}
      <UnstyledButton className="checks-fold" aria-expanded={kinds} onClick={() => setKinds(!kinds)}>
        {kinds ? <IconChevronDown size={14} aria-hidden="true" /> : <IconChevronRight size={14} aria-hidden="true" />}
        Kinds of findings{off.length > 0 ? `, ${off.length} not told` : ''}
      </UnstyledButton>
      {kinds && (
        <fieldset>
          {(Object.keys(FINDING_KINDS) as FindingKind[]).map((kind) => (
            <Checkbox
              key={kind}
              size="xs"
              label={FINDING_KINDS[kind].title}
              title={`Threshold: ${FINDING_KINDS[kind].source}`}
              checked={!off.includes(kind)}
              onChange={(event) =>
                set('Choose which kinds are told', {
                  off: event.currentTarget.checked ? off.filter((one) => one !== kind) : [...off, kind],
                })
              }
            />
          ))}
        </fieldset>
      )}
      <p className="hint">
        In a build: <code>npx foreshore check PROJECT</code>, with the same choices.
      </p>
    </section>
  );
}
