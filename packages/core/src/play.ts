/**
 * Playing: what the elements of a game do with the pointer, the keys and the gamepad, and what comes of it. Used by the bench
 * while trying, and by a game that runs the interface. It draws nothing and knows no page: a host gives it the present frame and
 * takes over what changes.
 */
import type { Device, Document, FeedValue, Keys } from '@foreshore/document/types';
import { paintedRows } from './draw-list.ts';
import { mapAt, placeOf } from './frame.ts';
import { keysOf } from './keys.ts';
import { playMotion } from './motions.ts';
import { actingRow, isArriving, isOff, metOn, pointerOf, rowUnder, scrollingRow, scrollTo, valueSet, valueStepped } from './pointer.ts';
import { keyDown, keyUp, type Pressed, type Pressing, pressOn, pressShare, promptFor, targetOf } from './press.ts';
import { type Done, type Reacted, react } from './reactions.ts';
import { reachOf } from './readable.ts';
import { screenBox, screenMiddle } from './screen-box.ts';
import type { Solver } from './solve.ts';
import { localScale } from './spaces/panel.ts';
import { Verdict } from './steps/names.ts';

/** Why a press came to nothing: the element only blocks, is off, is still on its way in, or lies beyond the ray's reach. */
export type Swallowed = 'blocks' | 'off' | 'arriving' | 'reach';

/** What became of one press, key or tap. Elements are named by their rows' ids. */
export type Played =
  | { kind: 'sent'; action: string | null; source: string; target: string | null; did: readonly Done[] }
  /** A toggle or a slider set its feed. */
  | { kind: 'set'; source: string; feed: string; value: FeedValue }
  | { kind: 'swallowed'; by: string; because: Swallowed }
  /** No element was there: it went to the world. */
  | { kind: 'world' };

export type Changes = Pick<Reacted, 'values' | 'phase' | 'forced'>;

/** What surrounds the machine. */
export interface PlayHost {
  /** The present frame of the viewer that plays, or null. */
  solver(): Solver | null;
  document(): Document;
  phase(): string | null;
  /** Seconds on the clock of play. */
  nowS(): number;
  /** What every feed's value is now. */
  values(): Readonly<Record<string, FeedValue | undefined>>;
  device(): Device;
  setDevice(device: Device): void;
  set(feed: string, value: FeedValue): void;
  /** Takes over feed values, a phase, and what is shown or hidden. */
  change(changes: Changes): void;
  /** Scrolls a group, by its row's id, to so many design pixels. */
  scroll(group: string, toPx: number): void;
  /** Told of everything that was pressed. */
  played(what: Played): void;
  /** Something changed that the next picture shows. */
  invalidate(): void;
}

/** What is at a point of the picture: the row that has the pointer, and the acting one it belongs to; and why it does not act. */
export interface Under {
  has: string | null;
  acts: string | null;
  because: Swallowed | null;
}

export class Play {
  private readonly host: PlayHost;
  /** Feeds on their way to a number. */
  private readonly runs = new Map<string, { from: number; to: number; overS: number; goneS: number }>();
  private pressing: Pressing | null = null;

  constructor(host: PlayHost) {
    this.host = host;
  }

  /** @param u, v shares of the picture's width and height. */
  under(u: number, v: number): Under {
    const solver = this.host.solver();
    if (!solver) return { has: null, acts: null, because: null };
    const at = pixels(solver, [u, v]);
    const row = rowUnder(solver, ...at);
    if (row < 0) return { has: null, acts: null, because: null };
    const has = solver.c.ids[row] as string;
    const panel = solver.c.panelOf[row] as number;
    const isFar = panel >= 0 && (metOn(solver, panel, ...at)?.distanceM ?? 0) > reachOf(this.host.document());
    const acting = actingRow(solver, row);
    if (isFar && acting >= 0) return { has, acts: null, because: 'reach' };
    return acting >= 0 ? { has, acts: solver.c.ids[acting] as string, because: null } : { has, acts: null, because: whyNot(solver, row) };
  }

  /** Acting elements that are shown now, in the order of reading: from the back to the front, as they are painted. */
  acting(): string[] {
    const solver = this.host.solver();
    if (!solver) return [];
    // What is scrolled out of sight can be come to, and is brought into sight then.
    return [...paintedRows(solver)].flatMap((row) => {
      const failed = solver.f.failed[row];
      const shown = failed === Verdict.Shown || (failed === Verdict.Place && (solver.c.clipper[row] as number) >= 0);
      if (!shown || pointerOf(solver, row).takes !== 'acts' || isOff(solver, row)) return [];
      // What lies behind a veil is not come to by keys either.
      const over = rowUnder(solver, ...screenMiddle(solver, row));
      return over >= 0 && solver.c.root[over] !== solver.c.root[row] ? [] : [solver.c.ids[row] as string];
    });
  }

  /** Sends the action of an element, and does what the document says is done on it. A toggle changes over. @param at where it was pressed, as shares of the picture. */
  use(id: string, at: readonly [number, number] | null = null): void {
    const solver = this.host.solver();
    const row = solver?.c.ids.indexOf(id) ?? -1;
    const element = solver?.c.elements[row];
    if (!solver || !element || isOff(solver, row) || isArriving(solver, row)) return;
    const set = element.kind === 'slider' && !at ? null : valueSet(solver, row, ...pixels(solver, at));
    const action = element.pointer?.action ?? null;
    if (set) this.host.set(set.feed, set.value);
    // What only sets a feed has nothing to send.
    if (set && action === null) this.host.played({ kind: 'set', source: id, ...set });
    else this.send(action, id, targetOf(solver, row));
  }

  /** Tells of a press that no element acts on. */
  missed({ has, because }: Under): void {
    this.host.played(has === null ? { kind: 'world' } : { kind: 'swallowed', by: has, because: because ?? 'blocks' });
  }

  private send(action: string | null, source: string, target: string | null): void {
    const { host } = this;
    const reacted = action ? react(host.document(), action, host.values(), (shown) => this.isShown(shown), target) : null;
    if (reacted) host.change(reacted);
    host.played({ kind: 'sent', action, source, target, did: reacted?.did ?? [] });
    for (const [feed, { to, overS }] of Object.entries(reacted?.runs ?? {})) {
      const from = host.values()[feed];
      this.runs.set(feed, { from: typeof from === 'number' ? from : to, to, overS, goneS: 0 });
    }
    for (const element of reacted?.played ?? []) this.play(element);
    host.invalidate();
  }

  /** Time goes on: feeds that run, keys that are held. True while any of these goes on. */
  advance(dtS: number): boolean {
    for (const [feed, run] of this.runs) {
      run.goneS += dtS;
      const share = Math.min(1, run.goneS / run.overS);
      this.host.set(feed, run.from + (run.to - run.from) * share);
      if (share === 1) this.runs.delete(feed);
    }
    const solver = this.pressing && this.host.solver();
    if (solver && this.pressing) {
      const before = this.pressing;
      this.follow(solver, before.row, pressOn(solver, before, this.host.nowS() + dtS));
    }
    return this.runs.size > 0 || this.pressing !== null;
  }

  /** Playing is over: what runs is there, what is held is let go. */
  end(): void {
    for (const [feed, { to }] of this.runs) this.host.set(feed, to);
    this.runs.clear();
    this.pressing = null;
  }

  /** How much of a press is done, of the prompt it is on. */
  share(): { row: string; share: number } | null {
    return this.pressing && { row: this.pressing.row, share: pressShare(this.pressing, this.host.nowS()) };
  }

  /** A key of a device went down or up: the prompt that has it is pressed. True where one has. */
  press(device: Device, isKey: (keys: Keys) => boolean, down: boolean): boolean {
    const { host } = this;
    const solver = host.solver();
    if (!solver) return false;
    if (!down) {
      const held = this.pressing && isKey(keysOf(host.document(), this.pressing.press.action)) ? this.pressing : null;
      if (held) this.pressing = keyUp(held);
      if (held) host.invalidate();
      return held !== null;
    }
    // A phase that takes the input leaves the keys of prompts alone, as it does the walk.
    if (this.takesInput()) return false;
    const row = promptFor(solver, (action) => isKey(keysOf(host.document(), action)));
    if (host.device() !== device) host.setDevice(device);
    if (row < 0) return false;
    this.pressRow(solver, row);
    return true;
  }

  /** Whether the present phase takes the input: neither the camera nor the prompts of the world have it. */
  takesInput(): boolean {
    return this.host.document().phases[this.host.phase() ?? '']?.takesInput === true;
  }

  private pressRow(solver: Solver, row: number): void {
    this.follow(solver, solver.c.ids[row] as string, keyDown(solver, row, this.host.nowS(), this.pressing));
    this.host.invalidate();
  }

  private follow(solver: Solver, id: string, { now, sent }: Pressed): void {
    this.pressing = now;
    const row = solver.c.ids.indexOf(id);
    if (sent && row >= 0) this.send(solver.c.elements[row]?.press?.action ?? null, id, targetOf(solver, row));
  }

  /** The pointer, or a finger, on a prompt itself. False where the element is none. */
  touch(id: string, down: boolean): boolean {
    const solver = this.host.solver();
    const row = solver?.c.ids.indexOf(id) ?? -1;
    if (!solver?.c.elements[row]?.press) return false;
    if (down) this.pressRow(solver, row);
    else if (this.pressing) this.pressing = keyUp(this.pressing);
    return true;
  }

  /** A button of the pointer where no element is: prompts may have it for their key. */
  pointerButton(button: number, down: boolean): boolean {
    const name = `Pointer${['Left', 'Middle', 'Right'][button] ?? ''}`;
    return this.press('keyboard', (keys) => keys.keyboard === name, down);
  }

  /** A key of the keyboard, by its place: feeds that come from it follow, the prompt that has it is pressed. True where there is any. */
  key(code: string, down: boolean): boolean {
    const { host } = this;
    let any = false;
    for (const [id, { source, kind }] of Object.entries(host.document().feeds)) {
      if (source?.kind !== 'key' || source.code !== code || kind !== 'flag') continue;
      any = true;
      if (source.how === 'held') host.set(id, down);
      else if (down) host.set(id, host.values()[id] !== true);
    }
    if (host.device() !== 'keyboard') host.setDevice('keyboard');
    return this.press('keyboard', (keys) => keys.keyboard === code, down) || any;
  }

  private isShown(element: string): boolean {
    const solver = this.host.solver();
    return solver?.c.sources.some((source, row) => source === element && solver.f.failed[row] === Verdict.Shown) ?? false;
  }

  /** Plays the motion of entering of an element once more. */
  private play(element: string): void {
    const solver = this.host.solver();
    if (!solver) return;
    for (let row = 0; row < solver.c.count; row++) if (solver.c.sources[row] === element) playMotion(solver, row);
    this.host.invalidate();
  }

  /** Whether an element is dragged rather than pressed. */
  isSlider(id: string): boolean {
    const solver = this.host.solver();
    return solver?.c.elements[solver.c.ids.indexOf(id)]?.kind === 'slider';
  }

  /** Sets what a slider sets, from where the pointer is, as shares of the picture. */
  slide(id: string, at: readonly [number, number]): void {
    const solver = this.host.solver();
    const set = solver && valueSet(solver, solver.c.ids.indexOf(id), ...pixels(solver, at));
    if (set && set.value !== this.host.values()[set.feed]) this.host.set(set.feed, set.value);
  }

  /** Moves a slider by steps. False where the element is none. */
  slideBy(id: string, steps: number): boolean {
    const solver = this.host.solver();
    const set = solver && valueStepped(solver, solver.c.ids.indexOf(id), steps);
    if (set) this.host.set(set.feed, set.value);
    return Boolean(set);
  }

  /** Scrolls what is under a point of the picture by so many of the viewer's pixels. False where no element is there that has the pointer. */
  scrollAt(u: number, v: number, byPx: number): boolean {
    const solver = this.host.solver();
    if (!solver) return false;
    const row = rowUnder(solver, ...pixels(solver, [u, v]));
    if (row < 0) return false;
    const group = scrollingRow(solver, row);
    if (group >= 0) this.scroll(solver, group, (solver.f.scrolled[group] as number) + byPx / pixelOf(solver, group));
    return true;
  }

  /** Brings an element into the box of what scrolls around it. */
  reveal(id: string): void {
    const solver = this.host.solver();
    const row = solver?.c.ids.indexOf(id) ?? -1;
    const group = solver && row >= 0 ? scrollingRow(solver, solver.c.parent[row] as number) : -1;
    if (solver && group >= 0) this.scroll(solver, group, scrollTo(solver, group, row));
  }

  private scroll(solver: Solver, group: number, to: number): void {
    this.host.scroll(solver.c.ids[group] as string, Math.max(0, Math.min(solver.a.tree.surplus[group] as number, to)));
  }

  /** Every pointer area of the present frame, in the viewer's pixels, back to front. */
  areas(): { id: string; takes: 'acts' | 'blocks' | 'passes'; rect: [number, number, number, number] }[] {
    const solver = this.host.solver();
    if (!solver) return [];
    return [...paintedRows(solver)].flatMap((row) => {
      if (solver.f.failed[row] !== Verdict.Shown) return [];
      const { takes, padPx } = pointerOf(solver, row);
      const pad = padPx * (solver.a.fits[row] as number);
      const [x, y, w, h] = screenBox(solver, row);
      if (Number.isNaN(x)) return [];
      return [
        { id: solver.c.ids[row] as string, takes, rect: [x - pad, y - pad, w + 2 * pad, h + 2 * pad] as [number, number, number, number] },
      ];
    });
  }
}

/** Pixels of the viewer for one of a row's design pixels, about its middle. */
function pixelOf(solver: Solver, row: number): number {
  const panel = solver.c.panelOf[row] as number;
  if (panel < 0) return solver.a.fits[row] as number;
  const [x, y, w, h] = placeOf(solver.f, row, solver.f.viewCount).rect;
  return localScale(solver.f.maps, mapAt(solver.f, panel, solver.f.viewCount), x + w / 2, y + h / 2).best || 1;
}

function pixels(solver: Solver, at: readonly [number, number] | null): [number, number] {
  const { widthPx, heightPx } = solver.a.projection;
  return at ? [at[0] * widthPx, at[1] * heightPx] : [0, 0];
}

/** Why neither a row nor a group around it acts. */
function whyNot(solver: Solver, row: number): Swallowed {
  for (let at = row; at >= 0; at = solver.c.parent[at] as number)
    if (pointerOf(solver, at).takes === 'acts') return isOff(solver, at) ? 'off' : isArriving(solver, at) ? 'arriving' : 'blocks';
  return 'blocks';
}
