/** The settings of one step for the selected element. */

import { poseTowards, type StepName, type Vec3 } from '@foreshore/core';
import { type Anchor, type Document, inOrder, type Label } from '@foreshore/document';
import { Select, Switch } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { NumberField } from '../shell/number-field.tsx';
import { useBench } from '../state/bench.ts';
import { change, shownDocument, useProject } from '../state/project.ts';
import { STEP_TITLES } from './chain.tsx';
import { useEngine } from './context.ts';
import { editElement, withAnchor } from './edits.ts';

interface Props {
  id: string;
  element: Label;
  document: Document;
}

const AXES = ['x (east)', 'y (up)', 'z (south)'] as const;

function AttachSettings({ id, element, document }: Props) {
  const engine = useEngine();
  const anchorId = element.mount.anchor;
  const anchor = document.anchors[anchorId];
  if (!anchor) return null;
  const edit = (what: string, next: Anchor) => change(what, (d) => withAnchor(d, anchorId, next));
  const anchors = inOrder(document.anchors);
  const axis = (values: Vec3, k: number, v: number): Vec3 => values.map((old, i) => (i === k ? v : old)) as Vec3;
  const asKind = (kind: string) => {
    if (kind === anchor.kind) return;
    const { name, order } = anchor;
    const place = engine.anchorPlace(id) ?? ([0, 0, 0] as Vec3);
    const others = anchors.filter(([other]) => other !== anchorId);
    if (kind === 'surface') edit('Change the anchor', { kind: 'surface', name, order, node: null, position: place, normal: [0, 1, 0] });
    else if (kind === 'node')
      edit('Change the anchor', { kind: 'node', name, order, node: engine.model.nodeIds[0] ?? 'Ground', offset: [0, 0, 0] });
    else if (others[0] && others[1])
      edit('Change the anchor', { kind: 'midpoint', name, order, first: others[0][0], second: others[1][0] });
  };
  return (
    <div className="fields">
      <Select
        className="wide"
        size="xs"
        label="Anchor"
        allowDeselect={false}
        searchable
        value={anchorId}
        data={anchors.map(([value, a]) => ({ value, label: `${a.name} (${value})` }))}
        onChange={(next) => next && editElement('Change the anchor', id, (e) => ({ ...e, mount: { ...e.mount, anchor: next } }))}
      />
      <Select
        className="wide"
        size="xs"
        label="Kind"
        allowDeselect={false}
        value={anchor.kind}
        data={[
          { value: 'surface', label: 'Point on a surface' },
          { value: 'node', label: 'Node of the level with an offset' },
          { value: 'midpoint', label: 'Midpoint of two anchors', disabled: anchors.length < 3 },
        ]}
        onChange={(kind) => kind && asKind(kind)}
      />
      {anchor.kind === 'node' && (
        <>
          <Select
            className="wide"
            size="xs"
            label="Node"
            searchable
            allowDeselect={false}
            value={anchor.node}
            data={[...new Set([...engine.model.nodeIds, anchor.node])]}
            limit={80}
            onChange={(node) => node && edit('Change the node', { ...anchor, node })}
          />
          {AXES.map((name, k) => (
            <NumberField
              key={name}
              label={`Offset ${name[0]}, in the node's space`}
              unit="m"
              step={0.05}
              value={anchor.offset[k] as number}
              onChange={(v) => edit('Move an anchor', { ...anchor, offset: axis(anchor.offset, k, v) })}
            />
          ))}
        </>
      )}
      {anchor.kind === 'surface' &&
        AXES.map((name, k) => (
          <NumberField
            key={name}
            label={`Place ${anchor.node ? `${name[0]} on ${anchor.node}` : name}`}
            unit="m"
            step={0.1}
            value={anchor.position[k] as number}
            onChange={(v) => edit('Move an anchor', { ...anchor, position: axis(anchor.position, k, v) })}
          />
        ))}
      {anchor.kind === 'midpoint' &&
        (['first', 'second'] as const).map((end) => (
          <Select
            key={end}
            size="xs"
            label={end === 'first' ? 'From' : 'To'}
            searchable
            allowDeselect={false}
            value={anchor[end]}
            data={anchors.filter(([other]) => other !== anchorId).map(([value, a]) => ({ value, label: a.name }))}
            onChange={(next) => next && edit('Change the anchor', { ...anchor, [end]: next })}
          />
        ))}
      <button
        type="button"
        className="text-button wide"
        style={{ justifySelf: 'start' }}
        onClick={() => {
          const place = engine.anchorPlace(id);
          if (place) engine.goTo(poseTowards(engine.pose().position, place));
        }}
      >
        Turn towards it
      </button>
    </div>
  );
}

function ViewSettings({ id, element }: Props) {
  const edit = (part: Partial<Label['view']>) => editElement('Change View', id, (e) => ({ ...e, view: { ...e.view, ...part } }));
  return (
    <div className="fields">
      <NumberField
        label="Comes in this far outside the frame"
        unit="px"
        value={element.view.outsidePx}
        onChange={(outsidePx) => edit({ outsidePx })}
      />
      <NumberField
        label="Leaves this much farther out"
        unit="px"
        value={element.view.leavePx}
        least={0}
        onChange={(leavePx) => edit({ leavePx })}
      />
      <p className="hint wide">Design pixels, measured from the frame's edge to the anchor. Negative: only when well inside.</p>
    </div>
  );
}

function SizeSettings({ id, element }: Props) {
  const { size } = element;
  const edit = (next: Label['size']) => editElement('Change Size', id, (e) => ({ ...e, size: next }));
  const floor = { hideBelowPx: size.hideBelowPx, leavePx: size.leavePx };
  const asRule = (rule: string) => {
    if (rule === 'screen') edit({ rule: 'screen', emPx: 28, ...floor });
    else if (rule === 'angle') edit({ rule: 'angle', emArcmin: 32, ...floor });
    else edit({ rule: 'world', emM: 0.3, leastPx: 18, greatestPx: 48, ...floor });
  };
  return (
    <div className="fields">
      <Select
        className="wide"
        size="xs"
        label="Rule"
        allowDeselect={false}
        value={size.rule}
        data={[
          { value: 'screen', label: 'Constant on the screen' },
          { value: 'angle', label: "Constant angle at the player's eye" },
          { value: 'world', label: 'As the world, between limits' },
        ]}
        onChange={(rule) => rule && asRule(rule)}
      />
      {size.rule === 'screen' && (
        <NumberField label="Text size" unit="px" value={size.emPx} least={1} greatest={1000} onChange={(emPx) => edit({ ...size, emPx })} />
      )}
      {size.rule === 'angle' && (
        <NumberField
          label="Text size"
          unit="arcmin"
          value={size.emArcmin}
          least={1}
          greatest={2000}
          onChange={(emArcmin) => edit({ ...size, emArcmin })}
        />
      )}
      {size.rule === 'world' && (
        <>
          <NumberField
            label="Text size in the world"
            unit="m"
            step={0.02}
            value={size.emM}
            least={0.001}
            onChange={(emM) => edit({ ...size, emM })}
          />
          <NumberField
            label="At least"
            unit="px"
            value={size.leastPx}
            least={0}
            greatest={size.greatestPx}
            onChange={(leastPx) => edit({ ...size, leastPx })}
          />
          <NumberField
            label="At most"
            unit="px"
            value={size.greatestPx}
            least={Math.max(1, size.leastPx)}
            onChange={(greatestPx) => edit({ ...size, greatestPx })}
          />
        </>
      )}
      <NumberField
        label="Hide when smaller than"
        unit="px"
        value={size.hideBelowPx}
        least={0}
        onChange={(hideBelowPx) => edit({ ...size, hideBelowPx })}
      />
      <NumberField
        label="Leaves this much later"
        unit="px"
        step={0.5}
        value={size.leavePx}
        least={0}
        onChange={(leavePx) => edit({ ...size, leavePx })}
      />
      <p className="hint wide">Pixels are design pixels of the em; the fit brings them to each screen.</p>
    </div>
  );
}

const NINE = [0, 0.5, 1];

function PlaceSettings({ id, element }: Props) {
  const { place } = element;
  const edit = (part: Partial<Label['place']>) => editElement('Change Place', id, (e) => ({ ...e, place: { ...e.place, ...part } }));
  return (
    <div className="fields">
      <div>
        <span className="field-label" id="own-point">
          Own point, put on the anchor
        </span>
        <div className="nine" role="group" aria-labelledby="own-point">
          {NINE.flatMap((y) =>
            NINE.map((x) => (
              <button
                key={`${x} ${y}`}
                type="button"
                aria-label={`${['top', 'middle', 'foot'][y * 2]} ${['left', 'centre', 'right'][x * 2]}`}
                aria-pressed={place.ownPoint[0] === x && place.ownPoint[1] === y}
                onClick={() => edit({ ownPoint: [x, y] })}
              />
            )),
          )}
        </div>
      </div>
      <div className="fields">
        <NumberField
          label="Own x"
          unit=""
          step={0.05}
          value={place.ownPoint[0]}
          least={0}
          greatest={1}
          onChange={(x) => edit({ ownPoint: [x, place.ownPoint[1]] })}
        />
        <NumberField
          label="Own y"
          unit=""
          step={0.05}
          value={place.ownPoint[1]}
          least={0}
          greatest={1}
          onChange={(y) => edit({ ownPoint: [place.ownPoint[0], y] })}
        />
      </div>
      <NumberField label="Offset right" unit="px" value={place.offsetPx[0]} onChange={(x) => edit({ offsetPx: [x, place.offsetPx[1]] })} />
      <NumberField label="Offset down" unit="px" value={place.offsetPx[1]} onChange={(y) => edit({ offsetPx: [place.offsetPx[0], y] })} />
      <Switch
        className="wide"
        size="xs"
        label="Stays inside the safe area"
        checked={place.stay === 'inside'}
        onChange={(event) => edit({ stay: event.currentTarget.checked ? 'inside' : 'free' })}
      />
      <Switch
        className="wide"
        size="xs"
        label="Leader line to the anchor"
        checked={place.leader !== null}
        onChange={(event) => edit({ leader: event.currentTarget.checked ? { widthPx: 2, colour: '#15233B' } : null })}
      />
      {place.leader && (
        <NumberField
          label="Line width"
          unit="px"
          step={0.5}
          value={place.leader.widthPx}
          least={0.25}
          greatest={40}
          onChange={(widthPx) => place.leader && edit({ leader: { ...place.leader, widthPx } })}
        />
      )}
    </div>
  );
}

const SETTINGS: Partial<Record<StepName, (props: Props) => React.ReactNode>> = {
  attach: AttachSettings,
  view: ViewSettings,
  size: SizeSettings,
  place: PlaceSettings,
};

export function StepSettings({ step, id }: { step: StepName; id: string }) {
  const document = useProject(shownDocument);
  const { info } = useBench();
  const element = document?.elements[id];
  const Settings = SETTINGS[step];
  if (!document || !element || !Settings) return null;
  const link = info?.links.find((l) => l.step === step);
  return (
    <section className="section" aria-label={`${STEP_TITLES[step]} of ${element.name}`}>
      <h2>
        {STEP_TITLES[step]} of {element.name}
        <span className="spring" />
        <button
          type="button"
          className="icon-button"
          aria-label={`Close ${STEP_TITLES[step]}`}
          title="Close (Esc)"
          onClick={() => useBench.setState({ openStep: null })}
        >
          <IconX size={16} />
        </button>
      </h2>
      <p className="hint">Now: {link?.says}</p>
      <Settings id={id} element={element} document={document} />
    </section>
  );
}
