/**
 * The level with what stands in it: its own file, in which every anchor is a node called "anchor NAME" and every standing panel a node
 * called "panel NAME", with their settings in the node's extras. Everything else of the file stays as it is.
 */
import { arrange, compile, type Level, lookingPose, makeSolver, PanelAt, type Solver, solve, type TextShaper } from '@foreshore/core';
import { type Anchor, type Document, type Element, inOrder } from '@foreshore/document';
import { BY_HAND, invertAffine, type Mark, quaternionOf, rootMatrix, withMarks } from '@foreshore/level';
import { ExportError } from './faults.ts';

type Vec3 = [number, number, number];
type Place = Pick<Mark, 'translation' | 'rotation' | 'scale'>;
const UNTURNED: Mark['rotation'] = [0, 0, 0, 1];

/** The least rotation that takes up to a direction of length 1. */
function turnedUp([x, y, z]: readonly number[]): [number, number, number, number] {
  const [nx, ny, nz] = [x as number, y as number, z as number];
  if (ny < -1 + 1e-12) return [1, 0, 0, 0];
  const length = Math.hypot(nz, nx, 1 + ny);
  return [nz / length, 0, -nx / length, (1 + ny) / length];
}

/** Places in the world as a space sees them: a node's, or the file's own. */
class Space {
  private readonly inverse = new Float64Array(16);

  constructor(matrix: ArrayLike<number>, at: number) {
    if (!invertAffine(this.inverse, matrix, at)) throw new RangeError('flat');
  }

  point([x, y, z]: ArrayLike<number> & Iterable<number>): Vec3 {
    const [px, py, pz] = [x as number, y as number, z as number];
    const m = this.inverse;
    return [0, 1, 2].map(
      (k) => (m[k] as number) * px + (m[4 + k] as number) * py + (m[8 + k] as number) * pz + (m[12 + k] as number),
    ) as Vec3;
  }
  /** A direction, of length 1 again. */
  direction([x, y, z]: readonly number[]): Vec3 {
    const m = this.inverse;
    const v = [0, 1, 2].map(
      (k) => (m[k] as number) * (x as number) + (m[4 + k] as number) * (y as number) + (m[8 + k] as number) * (z as number),
    );
    const length = Math.hypot(...v) || 1;
    return v.map((c) => c / length) as Vec3;
  }
  /** How many of its units a metre of the world is, on the whole. */
  get perM(): number {
    const m = this.inverse;
    return [0, 4, 8].reduce((sum, k) => sum + Math.hypot(m[k] as number, m[k + 1] as number, m[k + 2] as number), 0) / 3;
  }
}

/** @throws ExportError where there is no level, or its file cannot take the marks. */
export function gltfWith(document: Document, level: Level | null, bytes: Uint8Array | null, text: TextShaper): Uint8Array {
  if (!level || !bytes || !document.level) throw new ExportError(['The project has no level: there is nothing for anchors to stand in.']);
  level.poses(new Float64Array(level.clipDurationsS.length));
  const viewer = Object.values(document.viewers)[0];
  if (!viewer) throw new ExportError(['The project has no viewer.']);
  const c = compile(document, level);
  const solver = makeSolver(arrange(c, viewer, text));
  solve(solver, { timeS: 0, head: lookingPose([0, 0, 0], 0, 0), depthOrder: false, stands: true });
  const file = new Space(rootMatrix(document.level), 0);
  const spaceOf = (node: string | null): Space => (node === null ? file : new Space(level.worldMatrices, level.nodeIndex(node) * 16));
  const marks = [...anchorMarks(document, solver, file), ...panelMarks(document, solver, spaceOf)];
  try {
    return withMarks(bytes, marks);
  } catch (error) {
    throw new ExportError([`The level's file cannot take the anchors: ${(error as Error).message}`]);
  }
}

const carried = (id: string, anchor: Anchor) => ({ anchor: id, ...(structuredClone(anchor) as object) });

/** Where an anchor is in the file: on which nodes, and how it lies on them. What hangs on a node that is not there has no place. */
function placesOf(id: string, anchor: Anchor, { c }: Solver, file: Space): (Partial<Place> & Pick<Mark, 'node'>)[] {
  const rows = c.anchorIds.flatMap((row, k) => ((row === id || row.startsWith(`${id}@`)) && c.anchorFault[k] === null ? [k] : []));
  const nodes = rows.map((row) => c.level?.nodeIds[c.anchorFirst[row] as number] as string);
  switch (anchor.kind) {
    case 'surface': {
      const { node, position, normal } = anchor;
      if (rows.length === 0) return [];
      return node === null
        ? [{ node, translation: file.point(position), rotation: turnedUp(file.direction(normal)) }]
        : [{ node, translation: position, rotation: turnedUp(normal) }];
    }
    case 'node':
    case 'nodes':
      return nodes.map((node) => ({ node, translation: anchor.offset }));
    case 'midpoint':
      return rows.map((row) => ({ node: null, translation: file.point(c.anchorWorld.subarray(row * 3, row * 3 + 3)) }));
    case 'event':
      return [];
  }
}

const anchorMarks = (document: Document, solver: Solver, file: Space): Mark[] =>
  inOrder(document.anchors).flatMap(([id, anchor]) =>
    placesOf(id, anchor, solver, file).map((place) => ({
      ...{ name: `${BY_HAND}${anchor.name}`, translation: [0, 0, 0] as const, rotation: UNTURNED, scale: 1, carries: carried(id, anchor) },
      ...place,
    })),
  );

function panelMarks(document: Document, { c, f }: Solver, spaceOf: (node: string | null) => Space): Mark[] {
  return Array.from(c.panels).flatMap((row, p): Mark[] => {
    const element = c.elements[row] as Element;
    const { mount } = element;
    if (mount.kind !== 'standing' || c.lost[row]) return [];
    const id = c.sources[row] as string;
    const anchor = c.elementAnchor[row] as number;
    const at = p * PanelAt.Stride;
    const three = (from: PanelAt): Vec3 => [0, 1, 2].map((k) => f.panels[at + from + k] as number) as Vec3;
    const pxPerM = f.panels[at + PanelAt.PxPerM] as number;
    // As seen from its front, wherever the frame was seen from.
    const side = f.panels[at + PanelAt.Side] as number;
    const [right, down, origin] = [three(PanelAt.Right), three(PanelAt.Down), three(PanelAt.Origin)];
    const [w, h] = [(f.panels[at + PanelAt.WidthPx] as number) / pxPerM, (f.panels[at + PanelAt.HeightPx] as number) / pxPerM];
    const middle = origin.map((v, k) => v + ((right[k] as number) * w + (down[k] as number) * h) / 2) as Vec3;
    const on = c.panelNode[p] as number;
    const node = on < 0 ? null : (c.level?.nodeIds[on] as string);
    const space = spaceOf(node);
    // One that turns towards the viewer lies no way in the file.
    const fixed = mount.facing === 'fixed';
    const own = fixed ? middle : (Array.from(c.anchorWorld.subarray(anchor * 3, anchor * 3 + 3)) as Vec3);
    return [
      {
        ...{ node, name: `panel ${element.name}`, translation: space.point(own) },
        rotation: fixed
          ? quaternionOf([
              space.direction(right).map((v) => side * v),
              space.direction(down).map((v) => -v),
              space.direction(three(PanelAt.Front)).map((v) => side * v),
            ])
          : UNTURNED,
        scale: space.perM,
        carries: {
          ...{ panel: id, name: document.elements[id]?.name ?? element.name, anchor: mount.anchor },
          ...{ widthM: mount.sizeM[0], heightM: mount.sizeM[1], pxPerM: mount.pxPerM, facing: mount.facing, sides: mount.sides },
        },
      },
    ];
  });
}
