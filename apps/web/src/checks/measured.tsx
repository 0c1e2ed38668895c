/** What is measured, and which kinds are told; kept with the project. */
import { BUDGET, checkParts, chosenOf, FINDING_KINDS, type FindingKind, SHAKE, variantsFor } from '@foreshore/checks';
import {
  type ChecksSettings,
  type CheckVariant,
  type Document,
  type FrameBudget,
  inOrder,
  isMember,
  type Shake,
} from '@foreshore/document';
import { formatNumber, sayVariant, sentence } from '@foreshore/words';
import { Checkbox, MultiSelect } from '@mantine/core';
import { Fragment, type ReactNode, useState } from 'react';
import { NumberField } from '../fields/number-field.tsx';
import { change } from '../state/project.ts';
import { languageName } from '../words/languages.ts';
import { Fold } from './fold.tsx';

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
  const chosen = chosenOf(document);
  const parts = checkParts(document, chosen).length;
  const variants = chosen.variants?.length ?? 0;
  return (
    <section aria-label="What is measured" className="checks-measured">
      <h2>What is measured</h2>
      {(Object.keys(TITLES) as Of[]).map((of) => {
        const ids = all[of].map(([id]) => id);
        const wanted = checks[of]?.filter((id) => ids.includes(id)) ?? ids;
        if (ids.length < 2) return null;
        return (
          <fieldset key={of}>
            <legend>{TITLES[of]}</legend>
            {all[of].map(([id, name]) => (
              <Checkbox
                key={id}
                size="xs"
                label={name}
                checked={wanted.includes(id)}
                onChange={(event) => {
                  const next = ids.filter((one) => (one === id ? event.currentTarget.checked : wanted.includes(one)));
                  // All of them is the rule: what comes later is measured, too.
                  set('Choose what is measured', { [of]: next.length === ids.length ? undefined : next });
                }}
              />
            ))}
          </fieldset>
        );
      })}
      <Variants document={document} />
      <Quiet document={document} />
      <Budget document={document} />
      <Folded name="Kinds of findings" title={<>Kinds of findings{off.length > 0 ? `, ${off.length} not told` : ''}</>}>
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
      </Folded>
      <p className="hint" data-parts-chosen={parts}>
        {parts === 1 ? 'One part' : `${parts} parts`}: each route at each viewer in each language
        {variants > 0 ? ', as recorded and under each variant' : ''}.
      </p>
      <p className="hint">
        In a build: <code>npx foreshore check PROJECT</code>, with the same choices.
      </p>
    </section>
  );
}

/** A group of settings that is folded away at first. */
function Folded({ name, title, children }: { name: string; title: ReactNode; children: ReactNode }) {
  const [opened, setOpened] = useState(false);
  return (
    <>
      <Fold opened={opened} onToggle={() => setOpened(!opened)}>
        {title}
      </Fold>
      {opened && <fieldset aria-label={name}>{children}</fieldset>}
    </>
  );
}

/** What routes are measured under beside as they were recorded. None is the rule: each measures all of it once more. */
function Variants({ document }: { document: Document }) {
  const { variants = [], shake = SHAKE } = document.checks ?? {};
  const all = variantsFor(document);
  const chosen = all.filter((one) => variants.includes(one));
  const choose = (variant: CheckVariant, wanted: boolean) => {
    const next = all.filter((one) => (one === variant ? wanted : chosen.includes(one)));
    set('Choose what is measured', { variants: next.length === 0 ? undefined : next });
  };
  const setShake = (part: Partial<Shake>) => set('Set the shake of the camera', { shake: { ...shake, ...part } });
  return (
    <Folded name="Variants" title={<>Variants{chosen.length > 0 ? `, ${chosen.length} beside as recorded` : ': as recorded'}</>}>
      {all.map((one) => (
        <Fragment key={one}>
          <Checkbox
            size="xs"
            label={sentence(sayVariant(one, document.phases))}
            checked={chosen.includes(one)}
            onChange={(event) => choose(one, event.currentTarget.checked)}
          />
          {one === 'shake' && chosen.includes(one) && (
            <div className="checks-numbers">
              <NumberField
                label="Turns and nods by"
                unit="deg"
                value={shake.deg}
                least={0.01}
                greatest={20}
                step={0.1}
                onChange={(deg) => setShake({ deg })}
              />
              <NumberField
                label="Times a second"
                unit="Hz"
                value={shake.hz}
                least={0.1}
                greatest={15}
                step={0.5}
                onChange={(hz) => setShake({ hz })}
              />
            </div>
          )}
        </Fragment>
      ))}
    </Folded>
  );
}

/** What painting one frame may take at most. */
function Budget({ document }: { document: Document }) {
  const budget = document.checks?.budget ?? BUDGET;
  const choose = (part: Partial<FrameBudget>) => set('Set the budget of a frame', { budget: { ...budget, ...part } });
  return (
    <Folded name="Budget of a frame" title={<>Budget of a frame: {formatNumber(budget.pieces)} pieces</>}>
      <p className="hint">
        A frame that draws more pieces (plates, texts, lines, pictures), or lays more paint, one over the other, is a finding. Both eyes of
        a headset count.
      </p>
      <div className="checks-numbers">
        <NumberField
          label="At most"
          unit="pieces"
          value={budget.pieces}
          least={1}
          greatest={1_000_000}
          step={50}
          onChange={(pieces) => choose({ pieces: Math.round(pieces) })}
        />
        <NumberField
          label="Paint"
          unit="screens"
          value={budget.screens}
          least={0.01}
          greatest={1000}
          step={0.1}
          onChange={(screens) => choose({ screens })}
        />
      </div>
    </Folded>
  );
}

/** Phases in which nothing is to be shown, but for what is named. */
function Quiet({ document }: { document: Document }) {
  const quiet = document.checks?.quiet ?? {};
  const phases = inOrder(document.phases);
  const count = phases.filter(([id]) => quiet[id]).length;
  const choose = (phase: string, but: string[] | null) => {
    const { [phase]: _, ...rest } = quiet;
    const next = but === null ? rest : { ...rest, [phase]: but };
    set('Choose which phases are to be quiet', { quiet: Object.keys(next).length === 0 ? undefined : next });
  };
  const outermost = inOrder(document.elements).flatMap(([id, { mount, name }]) =>
    isMember(mount) ? [] : [{ value: id, label: name || id }],
  );
  if (phases.length === 0) return null;
  return (
    <Folded name="Quiet phases" title={<>Quiet phases{count > 0 ? `, ${count}` : ': none'}</>}>
      <p className="hint">In a quiet phase nothing is to be shown but what is named; what is shown all the same is a finding.</p>
      {phases.map(([id, { name }]) => (
        <Fragment key={id}>
          <Checkbox
            size="xs"
            label={name}
            checked={quiet[id] !== undefined}
            onChange={(event) => choose(id, event.currentTarget.checked ? [] : null)}
          />
          {quiet[id] && (
            <MultiSelect
              size="xs"
              aria-label={`Shown in ${name} all the same`}
              placeholder={quiet[id].length > 0 ? '' : 'nothing but'}
              data={outermost}
              value={quiet[id].filter((one) => document.elements[one])}
              onChange={(but) => choose(id, but)}
              searchable
              maxDropdownHeight={220}
              nothingFoundMessage="No element is called so"
            />
          )}
        </Fragment>
      ))}
    </Folded>
  );
}
