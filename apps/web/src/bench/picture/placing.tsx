/** Placing: the mark on the surface under the pointer, the palette, and typing the text of what was chosen. */
import { type Document, inOrder, isOnHud } from '@foreshore/document';
import type { Face } from '@foreshore/level';
import { placeEdgeMarker, placeInstance, placeLabel, placeOnGlass, placePanel, placePrompt } from '../../edits/edits.ts';
import type { PlaceableKind } from '../../edits/placeable.ts';
import { nearestPin } from '../../edits/snap.ts';
import type { Engine } from '../../engine/engine.ts';
import { useEngine } from '../../questions/engine-context.ts';
import { type Hover, useBench } from '../../state/bench.ts';
import { Palette } from './palette.tsx';
import { Typing } from './typing.tsx';

/** A point of the picture that was chosen: the surface there, and the group under it. */
export interface Chosen {
  /** The flat rectangle of the level there. */
  face: Face | null;
  at: [number, number];
  hover: Hover | null;
  group: string | null;
}
/** What is placed at a spot once its text is typed. */
const MAKERS = { label: placeLabel, prompt: placePrompt, edge: placeEdgeMarker };
/** A text that is awaited for what is placed at a spot. */
export type Awaited = Hover & { as: keyof typeof MAKERS };

/** What is under a point of the picture, for the palette. */
export const chosenAt = (engine: Engine, u: number, v: number, hover: Hover | null): Chosen => ({
  at: [u, v],
  hover,
  face: hover ? engine.places.faceAt(hover) : null,
  group: engine.elementAt(u, v, (element) => element.kind === 'group')?.id ?? null,
});

const isStretched = ({ elements }: Document, id: string): boolean => {
  const mount = elements[id]?.mount;
  return isOnHud(mount) && mount.stretch.some(Boolean);
};

interface Props {
  document: Document;
  size: [number, number];
  chosen: Chosen | null;
  awaited: Awaited | null;
  onAwait: (awaited: Awaited | null) => void;
  /** A measure line begins there. */
  onMeasure: (from: Hover) => void;
  /** @param id of what was placed, or null where nothing was. */
  onDone: (id: string | null) => void;
}

export function Placing({ document, size, chosen, awaited, onAwait, onMeasure, onDone }: Props) {
  const engine = useEngine();
  const { tie } = useBench();
  const inside = (kind: PlaceableKind, { group, at }: Chosen) =>
    group === null ? null : placeOnGlass(kind, { group, ...engine.places.offsetIn(group, ...at) });
  const instance = (template: string, { hover, group, at }: Chosen) =>
    placeInstance(
      template,
      group ? { group } : hover ? { spot: engine.places.spot(hover, tie) } : { pin: nearestPin(...at), offsetPx: [0, 0] },
    );
  const panel = ({ hover, face }: Chosen, onFace: boolean): string | null => {
    if (!hover) return null;
    // On a face its middle is the middle of the face; elsewhere, where one pointed.
    const at = onFace && face ? { ...hover, position: face.centre } : hover;
    const on = onFace || Math.abs(hover.normal[1]) < 0.7 ? 'wall' : 'ground';
    const round = (m: number) => Number(m.toFixed(3));
    const placed = onFace && face ? { face: { widthM: round(face.widthM), heightM: round(face.heightM), turnDeg: face.turnDeg } } : {};
    return placePanel(engine.places.spot(at, tie), { ...engine.places.scaleAt(at.position), on, ...placed }, 'Panel');
  };
  return (
    <>
      {chosen && (
        <Palette
          at={[chosen.at[0] * size[0], chosen.at[1] * size[1]]}
          bare={!engine.model.hasSurfaces}
          surface={chosen.hover ? chosen.hover.node : null}
          group={
            chosen.group
              ? { id: chosen.group, name: document.elements[chosen.group]?.name ?? '', stretched: isStretched(document, chosen.group) }
              : null
          }
          onClose={() => onDone(null)}
          onLabel={() => chosen.hover && onAwait({ ...chosen.hover, as: 'label' })}
          face={chosen.face}
          onPanel={(onFace) => onDone(panel(chosen, onFace))}
          onPrompt={() => chosen.hover && onAwait({ ...chosen.hover, as: 'prompt' })}
          onEdge={() => chosen.hover && onAwait({ ...chosen.hover, as: 'edge' })}
          onMeasure={() => chosen.hover && onMeasure(chosen.hover)}
          onGlass={(kind) => onDone(placeOnGlass(kind, engine.places.hudSpot(...chosen.at)))}
          templates={inOrder(document.elements).flatMap(([id, e]) => (e.kind === 'group' && e.template ? [{ id, name: e.name }] : []))}
          onInstance={(template) => onDone(instance(template, chosen))}
          onInside={(kind) => onDone(inside(kind, chosen))}
        />
      )}
      {awaited && (
        <Typing
          x={awaited.x * size[0]}
          y={awaited.y * size[1]}
          start=""
          onDone={(text) => {
            const spot = engine.places.spot(awaited, tie);
            onDone(text?.trim() ? MAKERS[awaited.as](spot, text.trim()) : null);
          }}
        />
      )}
    </>
  );
}

const places = (v: readonly number[], digits: number): string => v.map((n) => n.toFixed(digits)).join(', ');

const readoutPlace = (hover: Hover, [w, h]: [number, number]) => ({
  ...(hover.x < 0.7 ? { left: hover.x * w + 16 } : { right: (1 - hover.x) * w + 16 }),
  ...(hover.y < 0.8 ? { top: hover.y * h + 16 } : { bottom: (1 - hover.y) * h + 16 }),
});

/** The surface under the pointer in numbers. */
export function Readout({ hover, size }: { hover: Hover; size: [number, number] }) {
  return (
    <div className="readout num" style={readoutPlace(hover, size)}>
      {places(hover.position, 2)} m
      <br />
      normal {places(hover.normal, 2)}
      <br />
      {hover.node}
      {hover.moves ? ' (moves)' : ''}, {hover.distanceM.toFixed(1)} m away
    </div>
  );
}

/** A cross-hair on the surface with its normal as a short mast. */
export function Marker({ hover, size: [w, h] }: { hover: Hover; size: [number, number] }) {
  const [x, y] = [hover.x * w, hover.y * h];
  const normal = useEngine().normalOnScreen(hover, w, h);
  return (
    <svg className="handles" viewBox={`0 0 ${w} ${h}`} aria-hidden="true">
      {['#FBF8F0', '#1B6E83'].map((colour, k) => (
        <g key={colour} stroke={colour} strokeWidth={k ? 2 : 5} fill="none" strokeLinecap="round">
          <circle cx={x} cy={y} r={7} />
          {normal && <path d={`M${x} ${y}L${normal[0]} ${normal[1]}`} />}
        </g>
      ))}
    </svg>
  );
}
