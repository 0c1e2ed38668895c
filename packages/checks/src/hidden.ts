/** What is wrong with something just because it is hidden: a prompt that another on its key keeps away, a panel that turns its back. */
import { beforePanelM, PanelAt, type Solver, Verdict } from '@foreshore/core';
import type { Element } from '@foreshore/document';

/** Two prompts nearer to one another than this stand at one place: the player cannot go to the one and leave the other. */
export const ONE_PLACE_M = 1;

export interface HiddenFault {
  kind: 'oneKey' | 'oneSide';
  row: number;
  /** Metres between the two prompts; or from the eye to the panel. */
  value: number;
  bound: number;
  /** The row of the prompt that has the key. */
  by?: number;
}

/** Prompts that would show, were it not for another on the same key that has it, at the same place. */
function keptAway({ c, f, m }: Solver): HiddenFault[] {
  const place = (gate: number): number[] | null => {
    const at = c.gateAnchor[gate] as number;
    return at < 0 ? null : [0, 1, 2].map((k) => c.anchorWorld[at * 3 + k] as number);
  };
  const out: HiddenFault[] = [];
  for (const gates of c.contests) {
    const holders = gates.filter((gate) => m.gates.claimIn[gate] === 1 && f.gatePassed[gate] === 1);
    if (holders.length === 0) continue;
    for (const gate of gates) {
      const row = c.gated[gate] as number;
      const here = place(gate);
      if (f.failed[row] !== Verdict.Claim || !here) continue;
      for (const holder of holders) {
        const there = place(holder);
        const value = there ? Math.hypot(...here.map((v, k) => v - (there[k] as number))) : Number.POSITIVE_INFINITY;
        if (value < ONE_PLACE_M) out.push({ kind: 'oneKey', row, value, bound: ONE_PLACE_M, by: c.gated[holder] as number });
      }
    }
  }
  return out;
}

/** Panels with a front alone whose back is in the picture, in full sight, from as near as they are meant to be read. */
function turnedAway({ c, f }: Solver): HiddenFault[] {
  const out: HiddenFault[] = [];
  for (let p = 0; p < c.panels.length; p++) {
    const row = c.panels[p] as number;
    const { mount } = c.elements[row] as Element;
    if (mount.kind !== 'standing' || mount.sides !== 'front') continue;
    if (f.failed[row] !== Verdict.View || !((f.panelShare[p] as number) > 0)) continue;
    const at = p * PanelAt.Stride;
    if (beforePanelM(f.panels, at, f.eye) >= 0) continue;
    const half = [PanelAt.WidthPx, PanelAt.HeightPx].map(
      (k) => (f.panels[at + k] as number) / (f.panels[at + PanelAt.PxPerM] as number) / 2,
    );
    const middle = [0, 1, 2].map(
      (k) =>
        (f.panels[at + PanelAt.Origin + k] as number) +
        (half[0] as number) * (f.panels[at + PanelAt.Right + k] as number) +
        (half[1] as number) * (f.panels[at + PanelAt.Down + k] as number),
    ) as [number, number, number];
    const eye = [0, 1, 2].map((k) => f.eye[k] as number) as [number, number, number];
    const value = Math.hypot(...middle.map((v, k) => v - (eye[k] as number)));
    if (value > mount.readM || (c.level && c.level.sightline(...eye, ...middle) >= 0)) continue;
    out.push({ kind: 'oneSide', row, value, bound: mount.readM });
  }
  return out;
}

/** In the frame that was solved last; of an element that stands at many places, or waits for several, the nearest alone. */
export function hiddenFaults(solver: Solver): HiddenFault[] {
  const worst = new Map<string, HiddenFault>();
  for (const one of [...keptAway(solver), ...turnedAway(solver)]) {
    const key = `${one.kind} ${solver.c.sources[one.row]}`;
    if (one.value < (worst.get(key)?.value ?? Number.POSITIVE_INFINITY)) worst.set(key, one);
  }
  return [...worst.values()];
}
