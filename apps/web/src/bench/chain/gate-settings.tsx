/** Settings of Range, of being looked at, of Sightline and Claim; and of what the key of a prompt does. */
import type { Element } from '@foreshore/document';
import { editElement } from '../../edits/edits.ts';
import type { ElementProps } from '../../fields/element-props.ts';
import { Gated } from '../../fields/gated.tsx';
import { NumberField } from '../../fields/number-field.tsx';
import { Choice, NumberRows } from '../../fields/rows.tsx';
import { change } from '../../state/project.ts';

const dwell = (dwellS: number, onChange: (dwellS: number) => void) => ({
  label: 'Exit delay',
  unit: 's',
  step: 0.1,
  least: 0,
  greatest: 10,
  value: dwellS,
  onChange,
});

export function RangeSettings(props: ElementProps) {
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
                  label: 'Enters within',
                  unit: 'm',
                  step: 0.1,
                  least: 0,
                  value: range.enterM,
                  // What comes in farther out goes out farther out, too.
                  onChange: (enterM) => edit({ enterM, leaveM: Math.max(range.leaveM, enterM) }),
                },
                {
                  label: 'Leaves beyond',
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
export function LookSettings(props: ElementProps) {
  const { id, element } = props;
  const { look } = element;
  const edit = (next: NonNullable<Element['look']>) => editElement('Change what is looked at', id, (e) => ({ ...e, look: next }));
  return (
    <Gated {...props} gate="look" label="Shows only while looked at">
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
                      label: 'Enters within',
                      unit: 'deg',
                      least: 0.5,
                      greatest: 180,
                      value: look.halfDeg,
                      onChange: (halfDeg) => edit({ ...look, halfDeg, leaveDeg: Math.max(look.leaveDeg, halfDeg) }),
                    },
                    {
                      label: 'Leaves beyond',
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

export function SightlineSettings(props: ElementProps) {
  const { id, element } = props;
  const { sightline } = element;
  const edit = (part: Partial<NonNullable<Element['sightline']>>) =>
    editElement('Change Sightline', id, (e) => (e.sightline ? { ...e, sightline: { ...e.sightline, ...part } } : e));
  return (
    <div className="fields">
      <Gated {...props} gate="sightline" label="Needs a free line of sight">
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
                  label: 'Enters with free',
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

export function ClaimSettings(props: ElementProps) {
  const { id, element, document } = props;
  const { claim } = element;
  const edit = (part: Partial<NonNullable<Element['claim']>>) =>
    editElement('Change Claim', id, (e) => (e.claim ? { ...e, claim: { ...e.claim, ...part } } : e));
  const contest = document.contest ?? { among: 'key' as const, most: 1 };
  const setContest = (part: Partial<typeof contest>) => change('Change the contest', (d) => ({ ...d, contest: { ...contest, ...part } }));
  return (
    <div className="fields">
      <Gated {...props} gate="claim" label="Competes for its key">
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
                  label: 'Bonus of the current holder',
                  unit: '',
                  step: 0.05,
                  least: 0,
                  greatest: 10,
                  value: claim.bonus,
                  onChange: (bonus) => edit({ bonus }),
                },
                { ...dwell(claim.dwellS, (dwellS) => edit({ dwellS })), label: 'Gives way after' },
              ]}
            />
            <p className="hint wide">
              The least score wins: degrees off over the cone, plus metres over the range, less the priority. Of the whole project:
            </p>
            <Choice
              label="Competing"
              value={contest.among}
              choices={{ key: 'prompts on the same key', all: 'all prompts' }}
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
