/** What players point with: how far it reaches, what besides the mouse, with which buttons, and how its beam and tip look. */
import { BEAM, DWELL_S, RAY_BUTTONS, reachOf, TIP } from '@foreshore/core';
import { type Document, inOrder, RAY_SOURCES, type RaySettings as Settings } from '@foreshore/document';
import { Checkbox, Select } from '@mantine/core';
import { KeysFields } from '../../fields/keys-fields.tsx';
import { Choice, ColourRows, NumberRows } from '../../fields/rows.tsx';
import { useShown } from '../../state/beside.tsx';
import { change, draft } from '../../state/project.ts';

type Source = NonNullable<Settings['sources']>[number];
const SOURCES: Record<Source, string> = {
  aim: 'The middle of the view',
  left: 'The left hand',
  right: 'The right hand',
  head: 'The head, by staying',
};
const HANDS = ['left', 'right'] as const;
type Hand = NonNullable<NonNullable<Settings['hands']>['left']>;
const HAND_PARTS: Record<keyof Hand, string> = {
  rightM: 'm to the right of the eye',
  upM: 'm above it',
  aheadM: 'm ahead of it',
  leftDeg: 'deg turned to the left',
  upDeg: 'deg raised',
};
const RESTS: Hand = { rightM: null, upM: null, aheadM: null, leftDeg: null, upDeg: null };

const withRay = (d: Document, part: Partial<Settings>): Document => ({ ...d, ray: { reachM: reachOf(d), ...d.ray, ...part } });
const put = (what: string, part: Partial<Settings>) => change(what, (d) => withRay(d, part));

export function RaySettings() {
  const document = useShown();
  if (!document) return null;
  const { ray } = document;
  const sources = ray?.sources ?? [];
  const [beam, tip] = [ray?.beam ?? BEAM, ray?.tip ?? TIP];
  return (
    <section className="section" aria-label="Pointing">
      <h2>Pointing</h2>
      <p className="hint">Players use what acts with the mouse or a finger, and with what is ticked here. On panels it reaches so far:</p>
      <div className="fields">
        <NumberRows
          rows={[
            {
              label: 'Reach',
              unit: 'm',
              step: 0.5,
              least: 0.1,
              greatest: 1000,
              value: reachOf(document),
              onChange: (reachM) => put('Change the reach', { reachM }),
            },
          ]}
        />
        <div className="wide">
          {RAY_SOURCES.map((source) => (
            <Checkbox
              key={source}
              size="xs"
              label={SOURCES[source]}
              checked={sources.includes(source)}
              onChange={(event) => {
                const on = event.currentTarget.checked;
                put('Change what players point with', {
                  sources: RAY_SOURCES.filter((one) => (one === source ? on : sources.includes(one))),
                });
              }}
            />
          ))}
        </div>
        {sources.includes('head') && (
          <NumberRows
            rows={[
              {
                label: 'The head stays for',
                unit: 's',
                step: 0.1,
                least: 0.1,
                greatest: 10,
                value: ray?.dwellS ?? DWELL_S,
                onChange: (dwellS) => put('Change how long the head stays', { dwellS }),
              },
            ]}
          />
        )}
      </div>
      {(['aim', ...HANDS] as const).map(
        (source) =>
          sources.includes(source) && (
            <KeysFields
              key={source}
              title={`${SOURCES[source]} presses with`}
              keys={ray?.buttons?.[source] ?? RAY_BUTTONS[source]}
              usual={RAY_BUTTONS[source]}
              onChange={(keys) => put('Change a button', { buttons: { ...ray?.buttons, [source]: keys } })}
            />
          ),
      )}
      {HANDS.map((side) => sources.includes(side) && <HandFeeds key={side} document={document} side={side} />)}
      {sources.some((source) => source !== 'aim' && source !== 'head') && (
        <div className="fields">
          <Choice
            label="Beam"
            value={beam.when}
            choices={{ always: 'always', onTarget: 'on what can be used', never: 'never' }}
            onChange={(when) => put('Change the beam', { beam: { ...beam, when } })}
          />
          <NumberRows
            rows={[
              {
                label: 'wide',
                unit: 'mm',
                least: 0.5,
                greatest: 100,
                value: beam.widthMm,
                onChange: (widthMm) => put('Change the beam', { beam: { ...beam, widthMm } }),
              },
            ]}
          />
          <Paint label="Colour of the beam" value={beam.colour} usual={BEAM.colour} put={(colour) => ({ beam: { ...beam, colour } })} />
        </div>
      )}
      {sources.length > 0 && (
        <div className="fields">
          <NumberRows
            rows={[
              {
                label: 'Tip, at the eye',
                unit: 'arcmin',
                least: 1,
                greatest: 600,
                value: tip.arcmin,
                onChange: (arcmin) => put('Change the tip', { tip: { ...tip, arcmin } }),
              },
            ]}
          />
          <Paint label="Colour of the tip" value={tip.colour} usual={TIP.colour} put={(colour) => ({ tip: { ...tip, colour } })} />
        </div>
      )}
    </section>
  );
}

/** A colour; one that is missing is seen to be, and given by choosing one. */
function Paint({
  label,
  value,
  usual,
  put: part,
}: {
  label: string;
  value: string | null;
  usual: string | null;
  put: (colour: string) => Partial<Settings>;
}) {
  return (
    <ColourRows
      rows={[
        {
          label: value === null ? `${label}: missing` : label,
          value: value ?? usual ?? '#FBF8F0',
          onDraft: (colour) => draft((d) => withRay(d, part(colour))),
          onKeep: (colour) => put('Change a colour', part(colour)),
        },
      ]}
    />
  );
}

/** The feeds that say where a hand is and points. */
function HandFeeds({ document, side }: { document: Document; side: 'left' | 'right' }) {
  const hand = document.ray?.hands?.[side];
  const numbers = inOrder(document.feeds).filter(([, { kind }]) => kind === 'number');
  return (
    <details className="keys-fields">
      <summary>{hand ? `${SOURCES[side]} follows feeds` : `${SOURCES[side]} rests, or is led by the mouse`}</summary>
      <div className="fields">
        {(Object.keys(HAND_PARTS) as (keyof Hand)[]).map((part) => (
          <Select
            key={part}
            size="xs"
            label={HAND_PARTS[part]}
            placeholder="as it rests"
            clearable
            value={hand?.[part] ?? null}
            data={numbers.map(([value, { name }]) => ({ value, label: name }))}
            onChange={(feed) => {
              const next = { ...RESTS, ...hand, [part]: feed };
              const { [side]: _, ...others } = document.ray?.hands ?? {};
              const any = Object.values(next).some((one) => one !== null);
              put('Change what a hand follows', { hands: any ? { ...others, [side]: next } : others });
            }}
          />
        ))}
      </div>
    </details>
  );
}
