/** The viewer that is looked through, and the screen that the glass is designed for. */
import { fitScale, pixelsPerDegree } from '@foreshore/core';
import { type Document, freeId, orderAfter, type Viewer } from '@foreshore/document';
import { ActionIcon, Select, TextInput } from '@mantine/core';
import { IconCopy, IconTrash } from '@tabler/icons-react';
import { NumberField } from '../../fields/number-field.tsx';
import { useBench, useBenchPart } from '../../state/bench.ts';
import { change, shownDocument, useProject } from '../../state/project.ts';

const SIDES = ['left', 'top', 'right', 'bottom'] as const;
const FITS: { value: Document['glass']['fit']; label: string }[] = [
  { value: 'smaller', label: 'By the smaller ratio: all of the design fits' },
  { value: 'height', label: 'By the height' },
  { value: 'width', label: 'By the width' },
  { value: 'angle', label: "By the angle at the player's eye" },
];

export function ViewerSettings() {
  const document = useProject(shownDocument);
  const { viewer: id } = useBenchPart('viewer');
  const viewer = document?.viewers[id];
  if (!document || !viewer) return null;
  const edit = (what: string, part: Partial<Viewer>) =>
    change(what, (d) => ({ ...d, viewers: { ...d.viewers, [id]: { ...viewer, ...part } } }));
  const glass = (part: Partial<Document['glass']>) => change('Change the HUD', (d) => ({ ...d, glass: { ...d.glass, ...part } }));
  const { lens, safeArea } = viewer;
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
        {pixelsPerDegree(viewer).toFixed(1)} px a degree at the eye; one design pixel is {fitScale(document.glass, viewer).toFixed(3)} px
        here.
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
              if (name && name !== viewer.name) edit('Rename a viewer', { name });
            }}
          />
        </div>
        <NumberField
          label="Width"
          unit="px"
          value={viewer.widthPx}
          least={16}
          greatest={16384}
          onChange={(v) => edit('Change a viewer', { widthPx: Math.round(v) })}
        />
        <NumberField
          label="Height"
          unit="px"
          value={viewer.heightPx}
          least={16}
          greatest={16384}
          onChange={(v) => edit('Change a viewer', { heightPx: Math.round(v) })}
        />
        <NumberField
          label="Diagonal"
          unit="in"
          step={0.5}
          value={viewer.diagonalIn}
          least={0.5}
          greatest={2000}
          onChange={(diagonalIn) => edit('Change a viewer', { diagonalIn })}
        />
        <NumberField
          label="Distance of the eye"
          unit="m"
          step={0.05}
          value={viewer.distanceM}
          least={0.02}
          greatest={100}
          onChange={(distanceM) => edit('Change a viewer', { distanceM })}
        />
        {lens.kind === 'perspective' && (
          <>
            <NumberField
              label="Field of view"
              unit="deg"
              value={lens.fovDeg}
              least={1}
              greatest={170}
              onChange={(fovDeg) => edit('Change a lens', { lens: { ...lens, fovDeg } })}
            />
            <Select
              size="xs"
              label="measured"
              allowDeselect={false}
              value={lens.fovAxis}
              data={['vertical', 'horizontal', 'diagonal']}
              onChange={(axis) => axis && edit('Change a lens', { lens: { ...lens, fovAxis: axis as typeof lens.fovAxis } })}
            />
          </>
        )}
        {SIDES.map((side) => (
          <NumberField
            key={side}
            label={`Safe-area inset, ${side}`}
            unit="%"
            step={0.5}
            value={safeArea[side] * 100}
            least={0}
            greatest={45}
            onChange={(v) => edit('Change the safe area', { safeArea: { ...safeArea, [side]: v / 100 } })}
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
