/** Settings of Range, of being looked at, of Sightline and Claim; and of what the key of a prompt does. */
import { keyName, keysOf } from '@foreshore/core';
import { type Document, type Element, inOrder, promptGates } from '@foreshore/document';
import { Select, Switch } from '@mantine/core';
import { editElement } from '../../edits/edits.ts';
import { NumberField } from '../../fields/number-field.tsx';
import { Choice, ColourRows, editing, NumberRows } from '../../fields/rows.tsx';
import { useBench } from '../../state/bench.ts';
import { change } from '../../state/project.ts';
import type { Props } from './step-settings.tsx';

type Gate = 'range' | 'look' | 'sightline' | 'claim' | 'press';

/** Whether an element can have gates: it stands by itself, and there is an anchor that they can be about. */
export const isGateable = ({ mount, kind }: Element): boolean => mount.kind !== 'inside' && kind !== 'screenPaint';

/** The element with a gate, or without it. On the glass a gate needs an anchor to be about. */
function withGate(document: Document, element: Element, gate: Gate, on: boolean): Element {
  const { [gate]: _, ...rest } = element;
  if (!on) return rest as Element;
  const about = element.mount.kind === 'glass' ? (element.about ?? inOrder(document.anchors)[0]?.[0]) : undefined;
  return { ...rest, ...(about !== undefined && { about }), [gate]: promptGates(null)[gate] } as Element;
}

function Gated({ id, element, document, gate, label, children }: Props & { gate: Gate; label: string; children: React.ReactNode }) {
  if (!isGateable(element)) return <p className="hint wide">What is inside of a group shows with it: set this on the outermost one.</p>;
  const anchorless = element.mount.kind === 'glass' && Object.keys(document.anchors).length === 0;
  return (
    <>
      <Switch
        className="wide"
        size="xs"
        label={label}
        disabled={anchorless}
        checked={element[gate] !== undefined}
        onChange={(event) => {
          const on = event.currentTarget.checked;
          editElement(`${on ? 'Add' : 'Remove'} ${gate}`, id, (e) => withGate(document, e, gate, on));
        }}
      />
      {element.mount.kind === 'glass' && element[gate] && (
        <Select
          className="wide"
          size="xs"
          label="About the anchor"
          searchable
          allowDeselect={false}
          value={element.about ?? null}
          data={inOrder(document.anchors).flatMap(([value, a]) =>
            a.kind === 'nodes' || a.kind === 'event' ? [] : [{ value, label: `${a.name} (${value})` }],
          )}
          onChange={(about) => about && editElement('Change the anchor', id, (e) => ({ ...e, about }))}
        />
      )}
      {element[gate] && children}
    </>
  );
}

const dwell = (dwellS: number, onChange: (dwellS: number) => void) => ({
  label: 'Stays a moment longer',
  unit: 's',
  step: 0.1,
  least: 0,
  greatest: 10,
  value: dwellS,
  onChange,
});

export function RangeSettings(props: Props) {
  const { id, element } = props;
  const { range } = element;
  const edit = (part: Partial<NonNullable<Element['range']>>) =>
    editElement('Change Range', id, (e) => (e.range ? { ...e, range: { ...e.range, ...part } } : e));
  return (
    <div className="fields">
      <Gated {...props} gate="range" label="Shows only near its anchor">
        {range && (
          <>
            <Choice
              label="Measured from"
              value={range.from}
              choices={{ body: 'the body, from its feet to its eye', eye: 'the eye' }}
              onChange={(from) => edit({ from })}
            />
            <NumberRows
              rows={[
                {
                  label: 'Comes in within',
                  unit: 'm',
                  step: 0.1,
                  least: 0,
                  value: range.enterM,
                  // What comes in farther out goes out farther out, too.
                  onChange: (enterM) => edit({ enterM, leaveM: Math.max(range.leaveM, enterM) }),
                },
                {
                  label: 'Goes out beyond',
                  unit: 'm',
                  step: 0.1,
                  least: range.enterM,
                  value: range.leaveM,
                  onChange: (leaveM) => edit({ leaveM }),
                },
                dwell(range.dwellS, (dwellS) => edit({ dwellS })),
              ]}
            />
            <p className="hint wide">Measured to the anchor's zone, or to the anchor where it has none. The zone is set under Attach.</p>
          </>
        )}
      </Gated>
    </div>
  );
}

/** A part of View. */
export function LookSettings(props: Props) {
  const { id, element } = props;
  const { look } = element;
  const edit = (next: NonNullable<Element['look']>) => editElement('Change what is looked at', id, (e) => ({ ...e, look: next }));
  return (
    <Gated {...props} gate="look" label="Shows only while it is looked at">
      {look && (
        <>
          <Choice
            label="Looked at is"
            value={look.by}
            choices={{ cone: 'what lies within a cone', aim: 'what the aim ray meets' }}
            onChange={(by) =>
              edit(by === 'cone' ? { by, halfDeg: 25, leaveDeg: 32, dwellS: look.dwellS } : { by, reachM: 3, dwellS: look.dwellS })
            }
          />
          <NumberRows
            rows={
              look.by === 'cone'
                ? [
                    {
                      label: 'Comes in within',
                      unit: 'deg',
                      least: 0.5,
                      greatest: 180,
                      value: look.halfDeg,
                      onChange: (halfDeg) => edit({ ...look, halfDeg, leaveDeg: Math.max(look.leaveDeg, halfDeg) }),
                    },
                    {
                      label: 'Goes out beyond',
                      unit: 'deg',
                      least: look.halfDeg,
                      greatest: 180,
                      value: look.leaveDeg,
                      onChange: (leaveDeg) => edit({ ...look, leaveDeg }),
                    },
                    dwell(look.dwellS, (dwellS) => edit({ ...look, dwellS })),
                  ]
                : [
                    {
                      label: 'Reach',
                      unit: 'm',
                      step: 0.1,
                      least: 0.1,
                      value: look.reachM,
                      onChange: (reachM) => edit({ ...look, reachM }),
                    },
                    dwell(look.dwellS, (dwellS) => edit({ ...look, dwellS })),
                  ]
            }
          />
        </>
      )}
    </Gated>
  );
}

export function SightlineSettings(props: Props) {
  const { id, element } = props;
  const { sightline } = element;
  const edit = (part: Partial<NonNullable<Element['sightline']>>) =>
    editElement('Change Sightline', id, (e) => (e.sightline ? { ...e, sightline: { ...e.sightline, ...part } } : e));
  return (
    <div className="fields">
      <Gated {...props} gate="sightline" label="Asks that nothing is in the way">
        {sightline && (
          <>
            <Choice
              label="Lines go to"
              value={sightline.to}
              choices={{ zone: "points of the anchor's zone", anchor: 'the anchor alone', element: 'points of its own box' }}
              onChange={(to) => edit({ to })}
            />
            <Choice
              label="Where it is blocked"
              value={sightline.answer}
              choices={{ hide: 'it hides', dim: 'it is dimmed', through: 'it shows through' }}
              onChange={(answer) => edit({ answer })}
            />
            <NumberRows
              rows={[
                ...(sightline.to === 'anchor'
                  ? []
                  : [
                      {
                        label: 'Lines',
                        unit: '',
                        least: 1,
                        greatest: 64,
                        value: sightline.samples,
                        onChange: (v: number) => edit({ samples: Math.round(v) }),
                      },
                    ]),
                {
                  label: 'Comes in with free',
                  unit: '%',
                  least: 1,
                  greatest: 100,
                  value: sightline.share * 100,
                  onChange: (v) => edit({ share: v / 100, leaveShare: Math.min(sightline.leaveShare, v / 100) }),
                },
                {
                  label: 'Stays with free',
                  unit: '%',
                  least: 0,
                  greatest: sightline.share * 100,
                  value: sightline.leaveShare * 100,
                  onChange: (v) => edit({ leaveShare: v / 100 }),
                },
                dwell(sightline.dwellS, (dwellS) => edit({ dwellS })),
              ]}
            />
            <p className="hint wide">The thing itself blocks nothing: lines pass the anchor's own node and all that hangs on it.</p>
          </>
        )}
      </Gated>
    </div>
  );
}

export function ClaimSettings(props: Props) {
  const { id, element, document } = props;
  const { claim } = element;
  const edit = (part: Partial<NonNullable<Element['claim']>>) =>
    editElement('Change Claim', id, (e) => (e.claim ? { ...e, claim: { ...e.claim, ...part } } : e));
  const contest = document.contest ?? { among: 'key' as const, most: 1 };
  const setContest = (part: Partial<typeof contest>) => change('Change the contest', (d) => ({ ...d, contest: { ...contest, ...part } }));
  return (
    <div className="fields">
      <Gated {...props} gate="claim" label="Contends with others for its key">
        {claim && (
          <>
            <NumberRows
              rows={[
                {
                  label: 'Priority',
                  unit: '',
                  step: 0.1,
                  least: -100,
                  greatest: 100,
                  value: claim.priority,
                  onChange: (priority) => edit({ priority }),
                },
                {
                  label: "Holder's bonus",
                  unit: '',
                  step: 0.05,
                  least: 0,
                  greatest: 10,
                  value: claim.bonus,
                  onChange: (bonus) => edit({ bonus }),
                },
                { ...dwell(claim.dwellS, (dwellS) => edit({ dwellS })), label: 'Takes over after' },
              ]}
            />
            <p className="hint wide">
              The least score wins: degrees off over the cone, plus metres over the range, less the priority. Of the whole project:
            </p>
            <Choice
              label="Contend"
              value={contest.among}
              choices={{ key: 'prompts of one key', all: 'all prompts' }}
              onChange={(among) => setContest({ among })}
            />
            <NumberField
              label="Shown at once"
              unit=""
              least={1}
              greatest={20}
              value={contest.most}
              onChange={(v) => setContest({ most: Math.round(v) })}
            />
          </>
        )}
      </Gated>
    </div>
  );
}

/** What the key does: stands under Content. */
export function PressContent({ id, element, document }: Props) {
  const device = useBench((s) => s.device);
  const { press } = element;
  if (!isGateable(element)) return null;
  const edit = (part: Partial<NonNullable<Element['press']>>) =>
    editElement('Change the press', id, (e) => (e.press ? { ...e, press: { ...e.press, ...part } } : e));
  return (
    <section className="section" aria-label="Key">
      <h2>Key</h2>
      <div className="fields">
        <Gated id={id} element={element} document={document} gate="press" label="A key acts on it">
          {press && (
            <>
              <Select
                size="xs"
                label="Sends"
                placeholder="No action"
                clearable
                value={press.action}
                data={inOrder(document.actions ?? {}).map(([value, a]) => ({ value, label: a.name }))}
                onChange={(action) => edit({ action })}
              />
              <Choice
                label="How"
                value={press.how}
                choices={{ press: 'pressed once', hold: 'held', repeat: 'pressed several times' }}
                onChange={(how) => edit({ how })}
              />
              {press.how !== 'press' && (
                <NumberField
                  label={press.how === 'hold' ? 'Held for' : 'All within'}
                  unit="s"
                  step={0.1}
                  least={0.1}
                  greatest={60}
                  value={press.holdS}
                  onChange={(holdS) => edit({ holdS })}
                />
              )}
              {press.how === 'repeat' && (
                <NumberField
                  label="Presses"
                  unit=""
                  least={2}
                  greatest={100}
                  value={press.times}
                  onChange={(v) => edit({ times: Math.round(v) })}
                />
              )}
              <p className="hint wide">
                Now: {keyName(keysOf(document, press.action), device)}. The keys of each device are set with the action, in Feeds.
              </p>
            </>
          )}
        </Gated>
      </div>
    </section>
  );
}

/** A key's own size and colours: stands under Content. */
export function KeyContent({ id, element, document }: Props) {
  if (element.kind !== 'key') return null;
  const { edit, paint, showPaint } = editing('key', id);
  return (
    <>
      <Select
        size="xs"
        label="Stands for"
        placeholder="The action of its prompt"
        clearable
        value={element.action}
        data={inOrder(document.actions ?? {}).map(([value, a]) => ({ value, label: a.name }))}
        onChange={(action) => edit('Change the key', { action })}
      />
      <NumberField
        label="Height"
        unit="px"
        least={4}
        greatest={2000}
        value={element.heightPx}
        onChange={(heightPx) => edit('Resize', { heightPx })}
      />
      <ColourRows
        rows={(['plate', 'ink', 'lit'] as const).map((part) => ({
          label: { plate: 'Cap', ink: 'Letter and device', lit: 'What is meant, and the ring' }[part],
          value: element.paint[part],
          onDraft: (colour) => showPaint({ [part]: colour }),
          onKeep: (colour) => paint('Change a colour', { [part]: colour }),
        }))}
      />
    </>
  );
}
