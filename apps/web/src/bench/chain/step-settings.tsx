/** The settings of one step for the selected element. */

import type { StepName } from '@foreshore/core';
import { type Document, type Element, isAnchored, isMember, isOnHud, isOnPanel, isPinned, KINDS, MOUNTS } from '@foreshore/document';
import { STEP_TITLES, sayLink } from '@foreshore/words';
import { ActionIcon, Select, Switch, UnstyledButton } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { editElement } from '../../edits/edits.ts';
import type { ElementProps } from '../../fields/element-props.ts';
import { NumberField } from '../../fields/number-field.tsx';
import { Choice } from '../../fields/rows.tsx';
import { WhichNode } from '../../fields/which-node.tsx';
import { useBench, useBenchPart } from '../../state/bench.ts';
import { useShown } from '../../state/beside.tsx';
import { change } from '../../state/project.ts';
import { AttachSettings } from './attach-settings.tsx';
import { EdgeSettings } from './edge-settings.tsx';
import { ClaimSettings, LookSettings, RangeSettings, SightlineSettings } from './gate-settings.tsx';
import { ManySettings } from './many-settings.tsx';
import { PanelSizeSettings } from './panel-settings.tsx';
import { PhaseSettings } from './phase-settings.tsx';
import { ReadableSettings } from './readable-settings.tsx';
import { SpanSettings } from './span-settings.tsx';

function ViewSettings(props: ElementProps) {
  const { id, element } = props;
  const edit = (part: Partial<Element['view']>) => editElement('Change View', id, (e) => ({ ...e, view: { ...e.view, ...part } }));
  return (
    <div className="fields">
      {element.mount.kind !== 'trailing' && (
        <>
          <NumberField
            label="Margin outside the frame"
            unit="px"
            value={element.view.outsidePx}
            onChange={(outsidePx) => edit({ outsidePx })}
          />
          <NumberField label="Hysteresis" unit="px" value={element.view.leavePx} least={0} onChange={(leavePx) => edit({ leavePx })} />
          <p className="hint wide">Design pixels, measured from the frame's edge to the anchor. Negative: only when well inside.</p>
        </>
      )}
      <LookSettings {...props} />
    </div>
  );
}

function SizeSettings(props: ElementProps) {
  const { id, element } = props;
  const { size } = element;
  const isText = KINDS[element.kind].size === 'em';
  const what = isText ? 'Text size' : 'One design pixel is';
  const onePx = isText ? 28 : 1;
  const edit = (next: Element['size']) => editElement('Change Size', id, (e) => ({ ...e, size: next }));
  const floor = { hideBelowPx: size.hideBelowPx, leavePx: size.leavePx };
  const asRule = (rule: string) => {
    if (rule === 'screen') edit({ rule: 'screen', emPx: onePx, ...floor });
    else if (rule === 'angle') edit({ rule: 'angle', emArcmin: isText ? 32 : 1.8, ...floor });
    else
      edit(
        isText
          ? { rule: 'world', emM: 0.3, leastPx: 18, greatestPx: 48, ...floor }
          : { rule: 'world', emM: 0.005, leastPx: 0.5, greatestPx: 2, ...floor },
      );
  };
  const panel = isOnPanel(element.mount);
  // A group fills its panel; only what stands there by itself has a size of its own.
  if (panel && element.kind === 'group')
    return (
      <div className="fields">
        <PanelSizeSettings {...props} />
      </div>
    );
  return (
    <div className="fields">
      <PanelSizeSettings {...props} />
      <Select
        className="wide"
        size="xs"
        label="Rule"
        allowDeselect={false}
        value={size.rule}
        data={[
          { value: 'screen', label: 'Constant on the screen' },
          { value: 'angle', label: "Constant angle at the player's eye" },
          { value: 'world', label: 'As the world, between limits', disabled: !MOUNTS[element.mount.kind].worldSize },
        ]}
        onChange={(rule) => rule && asRule(rule)}
      />
      {size.rule === 'screen' && (
        <NumberField
          label={what}
          unit="px"
          step={onePx === 1 ? 0.1 : 1}
          value={size.emPx}
          least={0.05}
          greatest={1000}
          onChange={(emPx) => edit({ ...size, emPx })}
        />
      )}
      {size.rule === 'angle' && (
        <NumberField
          label={what}
          unit="arcmin"
          value={size.emArcmin}
          least={0.1}
          greatest={2000}
          onChange={(emArcmin) => edit({ ...size, emArcmin })}
        />
      )}
      {size.rule === 'world' && (
        <>
          <NumberField
            label={`${what} in the world`}
            unit="m"
            step={0.02}
            value={size.emM}
            least={0.001}
            onChange={(emM) => edit({ ...size, emM })}
          />
          {/* On a panel a metre is a metre: the limits are of the screen. */}
          {!panel && (
            <>
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
        </>
      )}
      {isAnchored(element.mount) && (
        <>
          <NumberField
            label="Hide when smaller than"
            unit="px"
            value={size.hideBelowPx}
            least={0}
            onChange={(hideBelowPx) => edit({ ...size, hideBelowPx })}
          />
          <NumberField
            label="Hysteresis"
            unit="px"
            step={0.5}
            value={size.leavePx}
            least={0}
            onChange={(leavePx) => edit({ ...size, leavePx })}
          />
        </>
      )}
      <p className="hint wide">Pixels are design pixels of the em; the fit brings them to each screen.</p>
    </div>
  );
}

const NINE = [0, 0.5, 1];

type Point = [number, number];

function Nine({ labelledBy, value, onChange }: { labelledBy: string; value: Point; onChange: (point: Point) => void }) {
  return (
    <div className="nine" role="group" aria-labelledby={labelledBy}>
      {NINE.flatMap((y) =>
        NINE.map((x) => (
          <UnstyledButton
            key={`${x} ${y}`}
            aria-label={`${['top', 'middle', 'bottom'][y * 2]} ${['left', 'centre', 'right'][x * 2]}`}
            aria-pressed={value[0] === x && value[1] === y}
            onClick={() => onChange([x, y])}
          />
        )),
      )}
    </div>
  );
}

/** The pin of the parent, and stretching over it: of what does not float. */
function PinSettings({ id, element, document }: ElementProps) {
  const { mount } = element;
  if (!isPinned(mount)) return null;
  const group = isMember(mount) ? document.elements[mount.group] : undefined;
  const lined = group?.kind === 'group' && group.layout.direction !== 'free';
  const edit = (part: { pin?: Point; stretch?: [boolean, boolean] }) =>
    editElement('Change the pin', id, (e) => (isPinned(e.mount) ? { ...e, mount: { ...e.mount, ...part } } : e));
  return (
    <>
      {!lined && (
        <>
          <div>
            <span className="field-label" id="pin">
              Pin, a point of the {isOnHud(mount) ? (mount.within === 'safe' ? 'safe area' : 'screen') : 'group'}
            </span>
            <Nine labelledBy="pin" value={mount.pin} onChange={(pin) => edit({ pin })} />
          </div>
          <div className="fields">
            {(['x', 'y'] as const).map((axis, k) => (
              <NumberField
                key={axis}
                label={`Pin ${axis}`}
                unit=""
                step={0.05}
                value={mount.pin[k] as number}
                least={0}
                greatest={1}
                onChange={(v) => edit({ pin: mount.pin.map((old, i) => (i === k ? v : old)) as Point })}
              />
            ))}
          </div>
        </>
      )}
      {(['Stretch horizontally', 'Stretch vertically'] as const).map((label, k) => (
        <Switch
          key={label}
          size="xs"
          label={label}
          checked={mount.stretch[k] as boolean}
          onChange={(event) =>
            edit({ stretch: mount.stretch.map((old, i) => (i === k ? event.currentTarget.checked : old)) as [boolean, boolean] })
          }
        />
      ))}
      {lined && <p className="hint wide">{group.name} places its members itself, one after the other.</p>}
    </>
  );
}

function PlaceSettings({ id, element, document }: ElementProps) {
  const { place } = element;
  const edit = (part: Partial<Element['place']>) =>
    editElement('Change Place', id, (e) => {
      const { edge, ...rest } = { ...e.place, ...part };
      return { ...e, place: edge ? { ...rest, edge } : rest };
    });
  return (
    <div className="fields">
      <PinSettings id={id} element={element} document={document} />
      <div>
        <span className="field-label" id="own-point">
          Own point, put on the {isAnchored(element.mount) ? 'anchor' : isPinned(element.mount) ? 'pin' : 'direction'}
        </span>
        <Nine labelledBy="own-point" value={place.ownPoint} onChange={(ownPoint) => edit({ ownPoint })} />
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
      {!isOnPanel(element.mount) && (
        <Switch
          className="wide"
          size="xs"
          label="Stays inside the safe area"
          checked={place.stay === 'inside'}
          onChange={(event) => edit({ stay: event.currentTarget.checked ? 'inside' : 'free' })}
        />
      )}
      {element.mount.kind === 'floating' && (
        <Switch
          className="wide"
          size="xs"
          label="Leader line to the anchor"
          checked={place.leader !== null}
          onChange={(event) => edit({ leader: event.currentTarget.checked ? { widthPx: 2, colour: '#15233B' } : null })}
        />
      )}
      {element.mount.kind === 'floating' && (
        <NumberField
          label="Distance kept from the view centre (0: none)"
          unit="px"
          value={place.clearPx ?? 0}
          least={0}
          greatest={2000}
          onChange={(clearPx) => edit({ clearPx })}
        />
      )}
      {element.mount.kind === 'floating' && <EdgeSettings id={id} place={place} edit={edit} />}
      {element.mount.kind === 'floating' && (
        <SpanSettings id={id} document={document} anchor={element.mount.anchor} place={place} edit={edit} />
      )}
      {(element.mount.kind === 'floating' || (element.kind === 'group' && element.template)) && (
        <ManySettings id={id} element={element} document={document} edit={edit} />
      )}
      {element.mount.kind === 'floating' && (
        <ApartSettings document={document} place={place} prompt={element.press !== undefined} edit={edit} />
      )}
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

type Labels = NonNullable<Document['labels']>;

const APART = { moves: 'makes room for others, or is hidden', stays: 'stays, and others make room', free: 'may lie over others' } as const;

/** Whether what floats keeps apart in the project, and what this element does about it. */
function ApartSettings({
  document,
  place,
  prompt,
  edit,
}: {
  document: Document;
  place: Element['place'];
  prompt: boolean;
  edit: (part: Partial<Element['place']>) => void;
}) {
  const { choices } = useBenchPart('choices');
  const labels = document.labels ?? { apart: false };
  const on = labels.apart;
  const set = (what: string, part: Partial<Labels>) =>
    change(what, ({ labels: before, ...d }) => {
      const { apart, touchS, patient, snap } = { apart: false, ...before, ...part };
      const next: Labels = { apart, ...(touchS && { touchS }), ...(patient && { patient }), ...(snap && { snap }) };
      return apart || snap ? { ...d, labels: next } : d;
    });
  return (
    <>
      <Switch
        className="wide"
        size="xs"
        label="Labels of the project keep apart"
        checked={on}
        onChange={(event) => set('Change whether labels keep apart', { apart: event.currentTarget.checked })}
      />
      <Switch
        className="wide"
        size="xs"
        label="Labels of the project lie on whole pixels at rest"
        checked={labels.snap === true}
        onChange={(event) => set('Change how labels lie at rest', { snap: event.currentTarget.checked || undefined })}
      />
      {on && (
        <NumberField
          label="Labels may touch for (0: never)"
          unit="s"
          step={0.1}
          value={labels.touchS ?? 0}
          least={0}
          greatest={10}
          onChange={(touchS) => set('Change how labels keep apart', { touchS })}
        />
      )}
      {on && (
        <Switch
          className="wide"
          size="xs"
          label="While time stands, hide as few as can be"
          description="Of all labels of the project; they may stand elsewhere than on the way."
          checked={labels.patient === true}
          onChange={(event) => set('Change how labels keep apart', { patient: event.currentTarget.checked || undefined })}
        />
      )}
      {on && (
        <Choice
          label="Where others are, it"
          value={place.apart ?? (prompt ? 'stays' : 'moves')}
          choices={APART}
          onChange={(apart) => edit({ apart })}
        />
      )}
      {on && (place.apart ?? (prompt ? 'stays' : 'moves')) === 'moves' && (
        <Switch
          className="wide"
          size="xs"
          label="Show its places in the picture"
          checked={choices}
          onChange={(event) => useBench.setState({ choices: event.currentTarget.checked })}
        />
      )}
      {on && choices && <p className="hint wide">Dashed: free. Struck through: taken, or beyond the frame. What has them is tinted.</p>}
      {on && (place.apart ?? (prompt ? 'stays' : 'moves')) === 'moves' && (
        <NumberField
          label="Rank: the higher goes first"
          unit=""
          value={place.rank ?? 0}
          least={-1000}
          greatest={1000}
          onChange={(rank) => edit({ rank })}
        />
      )}
    </>
  );
}

const SETTINGS: Partial<Record<StepName, (props: ElementProps) => React.ReactNode>> = {
  attach: AttachSettings,
  phase: PhaseSettings,
  range: RangeSettings,
  view: ViewSettings,
  size: SizeSettings,
  sightline: SightlineSettings,
  claim: ClaimSettings,
  place: PlaceSettings,
  readable: ReadableSettings,
};

/** What the step came to in the present frame. */
function Now({ step }: { step: StepName }) {
  const link = useBench((s) => s.info?.links.find((l) => l.step === step));
  const document = useShown();
  return !link || !document || link.state === 'absent' ? null : <p className="hint">Now: {sayLink(link, document)}.</p>;
}

export function StepSettings({ step, id }: { step: StepName; id: string }) {
  const document = useShown();
  const element = document?.elements[id];
  const Settings = SETTINGS[step];
  if (!document || !element || !Settings) return null;
  return (
    <section className="section" aria-label={`${STEP_TITLES[step]} of ${element.name}`}>
      <h2>
        {STEP_TITLES[step]} of {element.name}
        <span className="spring" />
        <ActionIcon
          variant="transparent"
          className="icon-button"
          aria-label={`Close ${STEP_TITLES[step]}`}
          title="Close (Esc)"
          onClick={() => useBench.setState({ openStep: null })}
        >
          <IconX size={16} />
        </ActionIcon>
      </h2>
      <WhichNode id={id} />
      <Now step={step} />
      <Settings id={id} element={element} document={document} />
    </section>
  );
}
