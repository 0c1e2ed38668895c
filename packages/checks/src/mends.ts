/**
 * Mends: for an element that is shown but not readable, the smallest changes that clear what falls short. Each was solved
 * again for every viewer: where the element was shown it is shown still, and nothing falls short that did not before.
 */
import {
  type Arranged,
  At,
  arrange,
  channels,
  compile,
  type Inputs,
  limitsOf,
  luminance,
  makeSolver,
  measureReadable,
  type Readability,
  type Shortfall,
  type Solver,
  solve,
  type TextShaper,
  Verdict,
} from '@foreshore/core';
import type { Element, Label } from '@foreshore/document';

export interface Mend {
  kind: Shortfall['kind'];
  says: string;
  /** The element that changes, and its fields that take on other values. */
  element: string;
  part: Partial<Element>;
  /** The viewers at which it clears what fell short, by their ids. */
  clears: string[];
}

export interface AskedMends {
  /** One for each viewer, by its id. */
  arranged: Readonly<Record<string, Arranged>>;
  /** As the frame was solved. */
  inputs: Inputs;
  /** The row's id. */
  row: string;
  text: TextShaper;
}

/** What one viewer gets of the row: null where it is not shown. */
function measured(arranged: Arranged, inputs: Inputs, id: string): { solver: Solver; row: number; read: Readability | null } {
  const solver = makeSolver(arranged);
  // With whatever covers it: that is told by the order in which things are painted.
  solve(solver, { ...inputs, stands: true, depthOrder: true });
  const row = arranged.compiled.ids.indexOf(id);
  const shown = row >= 0 && solver.f.failed[row] === Verdict.Shown;
  return { solver, row, read: shown ? measureReadable(solver, row) : null };
}

/** All mends, the smallest first; those that clear more viewers before those that clear fewer. */
export function mends(asked: AskedMends): Mend[] {
  const before = Object.entries(asked.arranged).map(([viewer, arranged]) => ({
    viewer,
    arranged,
    ...measured(arranged, asked.inputs, asked.row),
  }));
  const out: Mend[] = [];
  for (const one of before)
    for (const { kind } of one.read?.faults ?? [])
      for (const { element, says, part } of changes(one.solver, one.row, one.read as Readability, kind)) {
        if (out.some((mend) => mend.element === element && mend.says === says)) continue;
        const clears = clearedBy(asked, before, kind, element, part);
        if (clears.length > 0) out.push({ kind, says, element, part, clears });
      }
  return out.sort((a, b) => b.clears.length - a.clears.length);
}

/** The viewers at which a change clears a kind of fault; none if it makes anything worse anywhere. */
function clearedBy(
  { inputs, row, text }: AskedMends,
  before: readonly { viewer: string; arranged: Arranged; read: Readability | null }[],
  kind: Shortfall['kind'],
  id: string,
  part: Partial<Element>,
): string[] {
  const clears: string[] = [];
  const first = before[0]?.arranged.compiled;
  const element = first?.document.elements[id];
  if (!first || !element) return [];
  const elements = { ...first.document.elements, [id]: { ...element, ...part } as Element };
  const compiled = compile({ ...first.document, elements }, first.level);
  for (const { viewer, arranged, read } of before) {
    if (!read) continue;
    const after = measured(
      arrange(compiled, arranged.viewer, text, arranged.projection, arranged.language, arranged.device),
      inputs,
      row,
    ).read;
    if (!after) return [];
    const had = new Set(read.faults.map((fault) => fault.kind));
    if (after.faults.some((fault) => !had.has(fault.kind))) return [];
    if (had.has(kind) && !after.faults.some((fault) => fault.kind === kind)) clears.push(viewer);
  }
  return clears;
}

type Change = { element: string; says: string; part: Partial<Element> };
const up = (value: number, step: number): number => Number((Math.ceil(value / step - 1e-9) * step).toFixed(6));

/** Changes of one setting against a kind of fault, as small as they may be. */
function changes(solver: Solver, row: number, read: Readability, kind: Shortfall['kind']): Change[] {
  const { c } = solver;
  const top = c.root[row] as number;
  if (kind === 'small') return larger(solver, top, read);
  if (kind === 'cut') {
    const element = c.elements[top] as Element;
    return top < c.floatingCount && element.place.stay === 'free'
      ? [{ element: c.sources[top] as string, says: 'kept inside the safe area', part: { place: { ...element.place, stay: 'inside' } } }]
      : [];
  }
  if (kind === 'contrast') return clearer(solver, read);
  return [];
}

/** What ISO 9241-303 prefers for reading at length lies at 20 to 22 arcmin. */
const COMFORTABLE_ARCMIN = 20;

/** Of what floats, its own size; on the glass, that of the text. */
function larger({ c, a, f }: Solver, top: number, { capArcmin, capPx, smallest }: Readability): Change[] {
  const { leastArcmin, leastPx } = limitsOf(c.document);
  const by = Math.max(leastArcmin / capArcmin, leastPx / capPx);
  const row = top < c.floatingCount ? top : smallest;
  const element = c.elements[row];
  // What stands in a template is changed there, not here.
  if (!element || (row !== top && c.parameters[row])) return [];
  const { size } = element;
  const id = c.sources[row] as string;
  const make = (says: string, next: Element['size']): Change => ({ element: id, says, part: { size: next } });
  const unit = (px: number): string => (element.kind === 'label' ? `letters of ${px} px` : `${px} px for a design pixel`);
  if (size.rule === 'screen') {
    const emPx = up(size.emPx * by, element.kind === 'label' ? 0.5 : 0.01);
    const { hideBelowPx, leavePx } = size;
    // The same to the eye on every screen, comfortably: larger where pixels are small, and no larger than that elsewhere.
    const capNow = (size.emPx * (a.fits[row] as number)) / a.pixelsPerArcmin;
    const emArcmin = up(capNow * Math.max(COMFORTABLE_ARCMIN / capArcmin, leastPx / capPx), 0.05);
    return [
      make(`${COMFORTABLE_ARCMIN} arcmin on every screen`, { rule: 'angle', emArcmin, hideBelowPx, leavePx }),
      make(unit(emPx), { ...size, emPx }),
    ];
  }
  if (size.rule === 'angle') {
    const emArcmin = up(size.emArcmin * by, element.kind === 'label' ? 0.5 : 0.01);
    return [make(`${emArcmin} arcmin`, { ...size, emArcmin })];
  }
  const now =
    (f.places[(f.viewCount > 1 ? f.viewCount * f.count : 0) * At.Stride + row * At.Stride + At.EmPx] as number) / (a.fits[row] as number);
  const least = up(now * by, element.kind === 'label' ? 0.5 : 0.01);
  const kept = { ...size, leastPx: least, greatestPx: Math.max(size.greatestPx, least) };
  return [make(`never under ${unit(least)}`, kept)];
}

const DARK = '#15233BE6';
const LIGHT = '#FBF8F0E6';

/** A plate behind it, or an outline about its letters, of the other brightness. */
function clearer({ c }: Solver, { faintest }: Readability): Change[] {
  const label = c.elements[faintest];
  if (label?.kind !== 'label' || c.parameters[faintest]) return [];
  const id = c.sources[faintest] as string;
  const [r, g, b] = channels(label.paint.colour);
  const colour = luminance([r, g, b]) > 0.18 ? DARK : LIGHT;
  const word = colour === DARK ? 'dark' : 'light';
  const { paint } = label;
  const out: Change[] = [];
  if (!paint.outline)
    out.push({
      element: id,
      says: `a ${word} outline`,
      part: { paint: { ...paint, outline: { colour: colour.slice(0, 7), widthEm: 0.12 } } } as Partial<Element>,
    });
  out.push({
    element: id,
    says: `a ${word} plate`,
    part: { paint: { ...paint, plate: { ...(paint.plate ?? PLATE), colour } } } as Partial<Element>,
  });
  return out;
}
const PLATE: NonNullable<Label['paint']['plate']> = { colour: DARK, padEm: [0.5, 0.25], radiusEm: 0.25 };
