/** Settings of panels: how they stand or trail (Attach), and how large they and the letters on them are (Size). */
import type { Stretch } from '@foreshore/checks';
import { arcminM, pageCapPx, pixelsPerMetre, routePose, type Solver, type Vec3, Verdict } from '@foreshore/core';
import { type Element, isOnPanel, type PanelMount, type Route } from '@foreshore/document';
import { Checkbox, Select } from '@mantine/core';
import { editElement } from '../../edits/edits.ts';
import type { ElementProps } from '../../fields/element-props.ts';
import { NumberField } from '../../fields/number-field.tsx';
import { useShownBands } from '../../questions/bands.ts';
import { useEngine } from '../../questions/engine-context.ts';
import { useBenchPart } from '../../state/bench.ts';

const editPanel = (what: string, id: string, part: Partial<PanelMount>) =>
  editElement(what, id, (e) => (isOnPanel(e.mount) ? ({ ...e, mount: { ...e.mount, ...part } } as Element) : e));

const FACINGS = [
  { value: 'fixed', label: 'Fixed, as its anchor lies' },
  { value: 'upright', label: 'Upright, turns to the viewer' },
  { value: 'full', label: 'Turns wholly to the viewer' },
];
const BLOCKED = [
  { value: 'nearer', label: 'Comes nearer, same angle' },
  { value: 'hide', label: 'Is hidden' },
  { value: 'dim', label: 'Is dimmed' },
  { value: 'show', label: 'Shows through' },
];

const NO_BAND: readonly Stretch[] = [];

/** How a panel stands on its anchor, or trails the viewer. */
export function PanelMountSettings({ id, element }: ElementProps) {
  const { mount } = element;
  if (!isOnPanel(mount)) return null;
  const edit = (part: object) => editPanel('Change the mount', id, part as Partial<PanelMount>);
  return (
    <>
      {mount.kind === 'standing' ? (
        <>
          <Select
            className="wide"
            size="xs"
            label="Facing"
            allowDeselect={false}
            value={mount.facing}
            data={FACINGS}
            onChange={(facing) => facing && edit({ facing })}
          />
          <NumberField
            label="Turned left"
            unit="deg"
            value={mount.turnDeg}
            least={-360}
            greatest={360}
            onChange={(turnDeg) => edit({ turnDeg })}
          />
          <NumberField
            label="Tilted back"
            unit="deg"
            value={mount.tiltDeg}
            least={-180}
            greatest={180}
            onChange={(tiltDeg) => edit({ tiltDeg })}
          />
          <NumberField
            label="Off the surface"
            unit="m"
            step={0.01}
            value={mount.liftM}
            least={-1000}
            greatest={1000}
            onChange={(liftM) => edit({ liftM })}
          />
        </>
      ) : (
        <>
          <NumberField
            label="Distance"
            unit="m"
            step={0.1}
            value={mount.distanceM}
            least={Math.max(0.05, mount.leastM)}
            greatest={1000}
            onChange={(distanceM) => edit({ distanceM })}
          />
          <NumberField
            label="Right of ahead"
            unit="deg"
            value={mount.rightDeg}
            least={-180}
            greatest={180}
            onChange={(rightDeg) => edit({ rightDeg })}
          />
          <NumberField label="Above ahead" unit="deg" value={mount.upDeg} least={-89} greatest={89} onChange={(upDeg) => edit({ upDeg })} />
          <NumberField
            label="Follows in (0: rigid)"
            unit="s"
            step={0.05}
            value={mount.followS}
            least={0}
            greatest={10}
            onChange={(followS) => edit({ followS })}
          />
          <NumberField
            label="Dead zone"
            unit="deg"
            value={mount.deadDeg}
            least={0}
            greatest={90}
            onChange={(deadDeg) => edit({ deadDeg })}
          />
          <Select
            size="xs"
            label="Keeps"
            allowDeselect={false}
            value={mount.keeps}
            data={[
              { value: 'upright', label: 'Upright' },
              { value: 'head', label: 'With the head' },
            ]}
            onChange={(keeps) => keeps && edit({ keeps })}
          />
          <Select
            className="wide"
            size="xs"
            label="Where the level is in the way it"
            allowDeselect={false}
            value={mount.blocked}
            data={BLOCKED}
            onChange={(blocked) => blocked && edit({ blocked })}
          />
          {mount.blocked === 'nearer' && (
            <NumberField
              label="No nearer than"
              unit="m"
              step={0.05}
              value={mount.leastM}
              least={0.05}
              greatest={mount.distanceM}
              onChange={(leastM) => edit({ leastM })}
            />
          )}
        </>
      )}
      <Select
        size="xs"
        label="Seen from"
        allowDeselect={false}
        value={mount.sides}
        data={[
          { value: 'front', label: 'Its front' },
          { value: 'both', label: 'Both sides' },
        ]}
        onChange={(sides) => sides && edit({ sides })}
      />
      <Checkbox
        size="xs"
        className="wide"
        label="Laid out so large that a hand's ray hits what acts"
        checked={mount.raySized === true}
        onChange={(event) => edit({ raySized: event.currentTarget.checked })}
      />
    </>
  );
}

/** How high the capitals of the smallest text of a panel are, design pixels; null where it has no text. */
function smallestText({ c, a, f }: Solver, row: number): { capPx: number } | null {
  const panel = c.panelOf[row] as number;
  let least = Number.POSITIVE_INFINITY;
  for (let i = 0; i < c.count; i++) {
    const element = c.elements[i];
    if (c.panelOf[i] !== panel) continue;
    if (element?.kind === 'page') {
      const cap = pageCapPx({ a, c, f }, i);
      if (cap > 0) least = Math.min(least, cap);
    }
    if (element?.kind !== 'label') continue;
    const cap = (a.ems[i] as number) * (a.blocks[i]?.capHeightEm ?? 0.7);
    if (cap > 0) least = Math.min(least, cap);
  }
  return Number.isFinite(least) ? { capPx: least } : null;
}

const metres = (v: number): number => Math.max(0.01, Number(v.toFixed(4)));
const whole = (v: number): number => Number(v.toPrecision(4));

/** How far inside of the face it was placed on its sides are; where those differ, the narrower way. */
function Inset({
  faceM,
  sizeM,
  onChange,
}: {
  faceM: readonly [number, number];
  sizeM: readonly [number, number];
  onChange: (sizeM: [number, number]) => void;
}) {
  const [across, down] = [(faceM[0] - sizeM[0]) / 2, (faceM[1] - sizeM[1]) / 2];
  return (
    <NumberField
      label="Inset from its face"
      unit="cm"
      step={1}
      value={whole(Math.min(across, down) * 100)}
      least={-1000}
      greatest={(Math.min(...faceM) / 2) * 100 - 1}
      onChange={(cm) => onChange([metres(faceM[0] - cm / 50), metres(faceM[1] - cm / 50)])}
    />
  );
}

/** So often a route is looked at, seconds. */
const EVERY_S = 0.2;
/** From how near and how far a panel is seen on a route while it is shown, metres; null where it never is. */
function distancesOn(route: Route, band: readonly Stretch[], place: Vec3): [nearM: number, farM: number] | null {
  let [near, far] = [Number.POSITIVE_INFINITY, 0];
  for (const { fromS, toS, verdict } of band) {
    if (verdict !== Verdict.Shown) continue;
    for (let timeS = fromS; timeS < toS; timeS += EVERY_S) {
      const distance = Math.hypot(...routePose(route, timeS).position.map((v, k) => v - (place[k] as number)));
      [near, far] = [Math.min(near, distance), Math.max(far, distance)];
    }
  }
  return far > 0 ? [near, far] : null;
}

/** Metres, text density, and what they make of the smallest letters: any of them can be typed, the others follow. */
export function PanelSizeSettings({ id, element, document }: ElementProps) {
  const engine = useEngine();
  const { viewer, route, info } = useBenchPart('viewer', 'route', 'info');
  const band = useShownBands((s) => s.bands.get(id)) ?? NO_BAND;
  const { mount } = element;
  if (!isOnPanel(mount)) return null;
  const { sizeM, pxPerM, readM } = mount;
  const edit = (part: Partial<PanelMount>) => editPanel('Change Size', id, part);
  const solver = engine.frameOf(viewer);
  const row = solver && info?.row ? solver.c.ids.indexOf(info.row) : -1;
  const text = solver && row >= 0 ? smallestText(solver, row) : null;
  const way = document.routes[route];
  const place = mount.kind === 'standing' ? engine.anchorPlace(id) : null;
  const seenFrom = way && place ? distancesOn(way, band, place) : null;
  const oneM = solver ? arcminM(solver.a, readM) : Number.NaN;
  // As wide as the whole frame, where it is read from.
  const pictureM = solver ? solver.a.projection.widthPx / pixelsPerMetre(solver.a.projection, readM) : Number.NaN;
  const viewerName = document.viewers[viewer]?.name ?? viewer;
  const setDensity = (next: number) => edit({ pxPerM: whole(Math.max(1, Math.min(next, 20_000 / Math.max(...sizeM)))) });
  return (
    <>
      <NumberField
        label="Width"
        unit="m"
        step={0.05}
        value={sizeM[0]}
        least={0.01}
        greatest={20_000 / pxPerM}
        onChange={(w) => edit({ sizeM: [w, sizeM[1]] })}
      />
      <NumberField
        label="Height"
        unit="m"
        step={0.05}
        value={sizeM[1]}
        least={0.01}
        greatest={20_000 / pxPerM}
        onChange={(h) => edit({ sizeM: [sizeM[0], h] })}
      />
      {mount.kind === 'standing' && mount.faceM && <Inset faceM={mount.faceM} sizeM={sizeM} onChange={(next) => edit({ sizeM: next })} />}
      <NumberField label="Text density" unit="px/m" step={10} value={pxPerM} least={1} greatest={100_000} onChange={setDensity} />
      <NumberField
        label="Read from"
        unit="m"
        step={0.1}
        value={readM}
        least={0.05}
        greatest={1000}
        onChange={(next) => edit({ readM: next })}
      />
      {solver && (
        <NumberField
          label={`Share of the view at ${whole(readM)} m`}
          unit="%"
          value={whole((100 * sizeM[0]) / pictureM)}
          least={0.1}
          greatest={1000}
          onChange={(share) => {
            const [w, h] = [
              (share / 100) * pictureM,
              ((share / 100) * pictureM * solver.a.projection.heightPx) / solver.a.projection.widthPx,
            ];
            const sized: [number, number] = [metres(w), metres(h)];
            edit({ sizeM: sized, pxPerM: Math.min(pxPerM, 20_000 / Math.max(...sized)) });
          }}
        />
      )}
      {text && (
        <>
          <NumberField
            label="Smallest capitals"
            unit="cm"
            step={0.1}
            value={whole((text.capPx / pxPerM) * 100)}
            least={0.01}
            onChange={(cm) => setDensity(text.capPx / (cm / 100))}
          />
          <NumberField
            label={`at ${whole(readM)} m, ${viewerName}`}
            unit="arcmin"
            value={whole(text.capPx / pxPerM / oneM)}
            least={0.5}
            greatest={5000}
            onChange={(arcmin) => setDensity(text.capPx / (arcmin * oneM))}
          />
          {solver && way && seenFrom && (
            <p className="hint wide" data-route-arcmin>
              On {way.name}, square on:{' '}
              {seenFrom
                .map((m) => `${(text.capPx / pxPerM / arcminM(solver.a, m)).toPrecision(2)} arcmin at ${m.toPrecision(2)} m`)
                .join(', ')}
              .
            </p>
          )}
        </>
      )}
      <p className="hint wide" data-panel-px={sizeM.map((v) => Math.round(v * pxPerM)).join(' ')}>
        {Math.round(sizeM[0] * pxPerM)} x {Math.round(sizeM[1] * pxPerM)} design pixels. Another size leaves letters their height; density
        sets it.
      </p>
    </>
  );
}
