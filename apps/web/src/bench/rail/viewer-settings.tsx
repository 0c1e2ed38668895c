/** The viewer that is looked through, and the screen that the glass is designed for. */
import { fitScale, HEADSET_HUD, pixelsPerDegree, sightOf } from '@foreshore/core';
import { type Document, freeId, inOrder, type Lens, orderAfter, type Viewer, viewerAs } from '@foreshore/document';
import { ActionIcon, Select, TextInput } from '@mantine/core';
import { IconCopy, IconTrash } from '@tabler/icons-react';
import { NumberField } from '../../fields/number-field.tsx';
import { Choice, NumberRows } from '../../fields/rows.tsx';
import { useBench, useBenchPart } from '../../state/bench.ts';
import { useShown } from '../../state/beside.tsx';
import { change } from '../../state/project.ts';

const SIDES = ['left', 'top', 'right', 'bottom'] as const;
const FITS: { value: Document['glass']['fit']; label: string }[] = [
  { value: 'smaller', label: 'By the smaller ratio: all of the design fits' },
  { value: 'height', label: 'By the height' },
  { value: 'width', label: 'By the width' },
  { value: 'angle', label: "By the angle at the player's eye" },
];

const KINDS: Record<Viewer['kind'], string> = { screen: 'A screen', split: 'A screen split among players', headset: 'A headset' };
const ARRANGEMENTS = { columns: 'beside one another', rows: 'one above another', grid: 'in a grid' } as const;
const MOST_PLAYERS = 4;
const LEAST_PLAYERS = 2;

const ANGLES = [
  ['leftDeg', 'to the left', -1],
  ['rightDeg', 'to the right', 1],
  ['upDeg', 'up', 1],
  ['downDeg', 'down', -1],
] as const;

/** The lens; of a headset the left eye's, whose angles are those to its own sides. */
function LensFields({ viewer: { lens, kind }, onChange }: { viewer: Viewer; onChange: (lens: Lens) => void }) {
  if (lens.kind === 'perspective')
    return (
      <>
        <NumberField
          label="Field of view"
          unit="deg"
          value={lens.fovDeg}
          least={1}
          greatest={170}
          onChange={(fovDeg) => onChange({ ...lens, fovDeg })}
        />
        <Select
          size="xs"
          label="measured"
          allowDeselect={false}
          value={lens.fovAxis}
          data={['vertical', 'horizontal', 'diagonal']}
          onChange={(axis) => axis && onChange({ ...lens, fovAxis: axis as typeof lens.fovAxis })}
        />
      </>
    );
  if (lens.kind === 'orthographic')
    return (
      <NumberField
        label="Half its height"
        unit="m"
        step={0.5}
        value={lens.halfHeightM}
        least={0.01}
        greatest={10000}
        onChange={(halfHeightM) => onChange({ ...lens, halfHeightM })}
      />
    );
  return (
    <NumberRows
      rows={ANGLES.map(([key, words, sign]) => ({
        label: `${kind === 'headset' ? 'Left eye sees' : 'Sees'} ${words}`,
        unit: 'deg',
        value: lens[key] * sign,
        // Together they must be more than nothing.
        least: 1,
        greatest: 85,
        onChange: (v) => onChange({ ...lens, [key]: v * sign }),
      }))}
    />
  );
}

type Split = Extract<Viewer, { kind: 'split' }>;
/** How a screen is split, and where each player's camera goes. */
function Players({ document, viewer, onChange }: { document: Document; viewer: Split; onChange: (viewer: Split) => void }) {
  const { players } = viewer;
  const routes = { '': "where the bench's camera is", ...Object.fromEntries(inOrder(document.routes).map(([id, { name }]) => [id, name])) };
  const resized = (count: number) => Array.from({ length: count }, (_, k) => players[k] ?? { route: null });
  return (
    <>
      <NumberField
        label="Players"
        unit=""
        value={players.length}
        least={LEAST_PLAYERS}
        greatest={MOST_PLAYERS}
        onChange={(count) => onChange({ ...viewer, players: resized(Math.round(count)) })}
      />
      <Choice
        label="Split"
        value={viewer.arrangement}
        choices={ARRANGEMENTS}
        onChange={(arrangement) => onChange({ ...viewer, arrangement })}
      />
      {players.map(({ route }, k) => (
        <Choice
          key={k}
          label={`Player ${k + 1} follows`}
          value={route ?? ''}
          choices={routes}
          onChange={(next) => onChange({ ...viewer, players: players.map((one, at) => (at === k ? { route: next || null } : one)) })}
        />
      ))}
    </>
  );
}

export function ViewerSettings() {
  const document = useShown();
  const { viewer: id } = useBenchPart('viewer');
  const viewer = document?.viewers[id];
  if (!document || !viewer) return null;
  const put = (what: string, next: Viewer) => change(what, (d) => ({ ...d, viewers: { ...d.viewers, [id]: next } }));
  const glass = (part: Partial<Document['glass']>) => change('Change the HUD', (d) => ({ ...d, glass: { ...d.glass, ...part } }));
  const { safeArea } = viewer;
  const hud = document.glass.headset ?? HEADSET_HUD;
  return (
    <section className="section" aria-label="Viewer and HUD">
      <h2>
        {viewer.name}
        <span className="spring" />
        <ActionIcon
          variant="transparent"
          className="icon-button"
          aria-label={`Copy ${viewer.name}`}
          title="Make another viewer like this"
          onClick={() => {
            const made = freeId(document.viewers, viewer.name);
            const done = change('Make a viewer', (d) => ({
              ...d,
              viewers: { ...d.viewers, [made]: { ...viewer, name: `${viewer.name} copy`, order: orderAfter(d.viewers) } },
            }));
            if (done) useBench.setState({ viewer: made });
          }}
        >
          <IconCopy size={16} />
        </ActionIcon>
        <ActionIcon
          variant="transparent"
          className="icon-button"
          aria-label={`Delete ${viewer.name}`}
          title={Object.keys(document.viewers).length === 1 ? 'The last viewer stays' : 'Delete'}
          disabled={Object.keys(document.viewers).length === 1}
          onClick={() => {
            useBench.setState({ viewer: Object.keys(document.viewers).find((other) => other !== id) ?? '' });
            change(`Delete ${viewer.name}`, (d) => {
              const { [id]: _, ...rest } = d.viewers;
              return { ...d, viewers: rest };
            });
          }}
        >
          <IconTrash size={16} />
        </ActionIcon>
      </h2>
      <p className="hint">
        {pixelsPerDegree(viewer).toFixed(1)} px a degree at the eye; one design pixel is{' '}
        {fitScale(document.glass, viewer, document.glass.fit, sightOf(viewer).projection).toFixed(3)} px here.
      </p>
      <div className="fields">
        <div className="wide">
          <TextInput
            key={viewer.name}
            size="xs"
            label="Name"
            defaultValue={viewer.name}
            onBlur={(event) => {
              const name = event.currentTarget.value.trim();
              if (name && name !== viewer.name) put('Rename a viewer', { ...viewer, name });
            }}
          />
        </div>
        <div className="wide">
          <Choice label="Kind" value={viewer.kind} choices={KINDS} onChange={(kind) => put('Change a viewer', viewerAs(viewer, kind))} />
        </div>
        <NumberRows
          rows={[
            {
              label: viewer.kind === 'headset' ? 'Width of an eye' : 'Width',
              unit: 'px',
              value: viewer.widthPx,
              least: 16,
              greatest: 16384,
              onChange: (v) => put('Change a viewer', { ...viewer, widthPx: Math.round(v) }),
            },
            {
              label: viewer.kind === 'headset' ? 'Height of an eye' : 'Height',
              unit: 'px',
              value: viewer.heightPx,
              least: 16,
              greatest: 16384,
              onChange: (v) => put('Change a viewer', { ...viewer, heightPx: Math.round(v) }),
            },
          ]}
        />
        {viewer.kind === 'headset' ? (
          <NumberField
            label="Between the eyes"
            unit="mm"
            step={1}
            value={viewer.eyeDistanceM * 1000}
            least={1}
            greatest={1000}
            onChange={(v) => put('Change a viewer', { ...viewer, eyeDistanceM: v / 1000 })}
          />
        ) : (
          <NumberRows
            rows={[
              {
                label: 'Diagonal',
                unit: 'in',
                step: 0.5,
                value: viewer.diagonalIn,
                least: 0.5,
                greatest: 2000,
                onChange: (diagonalIn) => put('Change a viewer', { ...viewer, diagonalIn }),
              },
              {
                label: 'Distance of the eye',
                unit: 'm',
                step: 0.05,
                value: viewer.distanceM,
                least: 0.02,
                greatest: 100,
                onChange: (distanceM) => put('Change a viewer', { ...viewer, distanceM }),
              },
            ]}
          />
        )}
        <LensFields viewer={viewer} onChange={(next) => put('Change a lens', { ...viewer, lens: next })} />
        {viewer.kind === 'split' && <Players document={document} viewer={viewer} onChange={(next) => put('Change a split screen', next)} />}
        {SIDES.map((side) => (
          <NumberField
            key={side}
            label={`Safe-area inset, ${side}`}
            unit="%"
            step={0.5}
            value={safeArea[side] * 100}
            least={0}
            greatest={45}
            onChange={(v) => put('Change the safe area', { ...viewer, safeArea: { ...safeArea, [side]: v / 100 } })}
          />
        ))}
      </div>
      <h2>Glass of the project</h2>
      <div className="fields">
        <NumberField
          label="Designed for, width"
          unit="px"
          value={document.glass.widthPx}
          least={16}
          greatest={16384}
          onChange={(widthPx) => glass({ widthPx })}
        />
        <NumberField
          label="Designed for, height"
          unit="px"
          value={document.glass.heightPx}
          least={16}
          greatest={16384}
          onChange={(heightPx) => glass({ heightPx })}
        />
        <Select
          className="wide"
          size="xs"
          label="Fit to another screen"
          allowDeselect={false}
          value={document.glass.fit}
          data={FITS}
          onChange={(fit) => fit && glass({ fit: fit as Document['glass']['fit'] })}
        />
        {Object.values(document.viewers).some(({ kind }) => kind === 'headset') && (
          <NumberRows
            rows={[
              {
                label: 'In a headset, before the head',
                unit: 'm',
                step: 0.1,
                value: hud.distanceM,
                least: 0.2,
                greatest: 1000,
                onChange: (distanceM) => glass({ headset: { ...hud, distanceM } }),
              },
              {
                label: 'In a headset, wide',
                unit: 'deg',
                value: hud.wideDeg,
                least: 1,
                greatest: 150,
                onChange: (wideDeg) => glass({ headset: { ...hud, wideDeg } }),
              },
              {
                label: 'Comes after the head in (0: rigid)',
                unit: 's',
                step: 0.05,
                value: hud.followS,
                least: 0,
                greatest: 10,
                onChange: (followS) => glass({ headset: { ...hud, followS } }),
              },
            ]}
          />
        )}
        {document.glass.fit === 'angle' && (
          <NumberField
            label="Designed at"
            unit="px/deg"
            step={0.5}
            value={document.glass.designPixelsPerDegree ?? 33.6}
            least={1}
            greatest={1000}
            onChange={(designPixelsPerDegree) => glass({ designPixelsPerDegree })}
          />
        )}
      </div>
    </section>
  );
}
