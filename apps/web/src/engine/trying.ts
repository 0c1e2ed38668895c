/** Trying: what the game's elements do with the pointer, the keys and the gamepad, and what comes of it. */
import {
  actingRow,
  Verdict as Failed,
  formatValue,
  isArriving,
  isOff,
  keyDown,
  keysOf,
  keyUp,
  type Pressed,
  type Pressing,
  paintedRows,
  placeOf,
  playMotion,
  pointerOf,
  pressOn,
  pressShare,
  promptFor,
  react,
  rowUnder,
  type Solver,
  scrollingRow,
  scrollTo,
  targetOf,
  valueSet,
  valueStepped,
} from '@foreshore/core';
import type { Device, FeedValue, Keys } from '@foreshore/document';
import { useBench } from '../state/bench.ts';
import { hold, took } from '../state/live.ts';
import type { Engine } from './engine.ts';

const NOTHING_DONE = { values: {}, runs: {}, phase: null, forced: {}, played: [], did: [] };
/** Sticks that are let go do not stand quite in their middle. */
const STICK_REST = 0.18;
const STICK_DEG_PER_S = 110;

export class Trying {
  private readonly engine: Engine;

  /** Feeds on their way to a number. */
  private readonly runs = new Map<string, { from: number; to: number; overS: number; goneS: number }>();
  private pressing: Pressing | null = null;
  private buttons: boolean[] = [];
  /** The stick was walking. */
  private stick = false;

  constructor(engine: Engine) {
    this.engine = engine;
    window.addEventListener('gamepadconnected', this.plugged);
  }

  /** While trying: which element has the pointer at a point of the picture, and the acting one it belongs to. */
  pointerAt(u: number, v: number): { has: string | null; acts: string | null } {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    if (!solver) return { has: null, acts: null };
    const { widthPx, heightPx } = solver.a.projection;
    const row = rowUnder(solver, u * widthPx, v * heightPx);
    const acting = row < 0 ? -1 : actingRow(solver, row);
    return { has: solver.c.ids[row] ?? null, acts: solver.c.ids[acting] ?? null };
  }

  /** Acting elements that are shown now, in the order of reading: from the back to the front, as they are painted. */
  acting(): string[] {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    if (!solver) return [];
    // What is scrolled out of sight can be come to, and is brought into sight then.
    return [...paintedRows(solver)].flatMap((row) => {
      const failed = solver.f.failed[row];
      const shown = failed === Failed.Shown || (failed === Failed.Place && (solver.c.clipper[row] as number) >= 0);
      if (!shown || pointerOf(solver, row).takes !== 'acts' || isOff(solver, row)) return [];
      // What lies behind a veil is not come to by keys either.
      const [x, y, w, h] = placeOf(solver.f, row).rect;
      const over = rowUnder(solver, x + w / 2, y + h / 2);
      return over >= 0 && solver.c.root[over] !== solver.c.root[row] ? [] : [solver.c.ids[row] as string];
    });
  }

  /** Sends the action of an element, and does what the document says is done on it. A toggle is turned over. @param at where it was pressed, as shares of the picture. */
  use(id: string, at: readonly [number, number] | null = null): void {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver?.c.ids.indexOf(id) ?? -1;
    const element = solver?.c.elements[row];
    if (!solver || !element || isOff(solver, row) || isArriving(solver, row)) return;
    const set = element.kind === 'slider' && !at ? null : valueSet(solver, row, ...this.pixels(solver, at));
    const action = element.pointer?.action ?? null;
    if (set) this.set(set.feed, set.value);
    // What only sets a feed has nothing to send.
    if (set && action === null) {
      const did = [`${this.engine.document.feeds[set.feed]?.name ?? set.feed} ${formatValue(set.value)}`];
      took({ ...NOTHING_DONE, did }, { timeS: useBench.getState().timeS, action: 'sets', source: element.name });
    } else this.send(action, element.name, targetOf(solver, row));
  }

  /** Sends an action at a target, and does what the document says is done on it. */
  private send(action: string | null, source: string, target: string | null): void {
    const { document } = this.engine;
    const name = action ? (document.actions?.[action]?.name ?? action) : 'nothing: it has no action';
    const reacted = action ? react(document, action, this.engine.valuesNow(), (shown) => this.isShown(shown), target) : NOTHING_DONE;
    took(reacted, { timeS: useBench.getState().timeS, action: name, source: target === null ? source : `${source}, at ${target}` });
    for (const [feed, { to, overS }] of Object.entries(reacted.runs)) {
      const from = this.engine.valuesNow()[feed];
      this.runs.set(feed, { from: typeof from === 'number' ? from : to, to, overS, goneS: 0 });
    }
    for (const played of reacted.played) this.play(played);
    this.engine.invalidate();
  }

  /** Time goes on: feeds that run, keys that are held, the gamepad. True while any of these goes on. */
  advance(dtS: number): boolean {
    for (const [feed, run] of this.runs) {
      run.goneS += dtS;
      const share = Math.min(1, run.goneS / run.overS);
      this.set(feed, run.from + (run.to - run.from) * share);
      if (share === 1) this.runs.delete(feed);
    }
    const plugged = this.readGamepad(dtS);
    const solver = this.pressing && this.engine.frameOf(useBench.getState().viewer);
    if (solver && this.pressing) {
      const before = this.pressing;
      this.follow(solver, before.row, pressOn(solver, before, this.engine.tryS + dtS));
    }
    return this.runs.size > 0 || this.pressing !== null || plugged;
  }

  /** Trying is over: what runs is there, what is held is let go. */
  end(): void {
    for (const [feed, { to }] of this.runs) this.set(feed, to);
    this.runs.clear();
    this.pressing = null;
  }

  /** How much of a press is done, of the prompt it is on. */
  share(): { row: string; share: number } | null {
    return this.pressing && { row: this.pressing.row, share: pressShare(this.pressing, this.engine.tryS) };
  }

  /** A key of a device went down or up: the prompt that has it is pressed. True where one has. */
  private press(device: Device, isKey: (keys: Keys) => boolean, down: boolean): boolean {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    if (!solver) return false;
    if (!down) {
      const held = this.pressing && isKey(keysOf(this.engine.document, this.pressing.press.action)) ? this.pressing : null;
      if (held) this.pressing = keyUp(held);
      if (held) this.engine.invalidate();
      return held !== null;
    }
    // A phase that takes the input leaves the keys of prompts alone, as it does the walk.
    if (this.engine.document.phases[this.engine.phase() ?? '']?.takesInput) return false;
    const row = promptFor(solver, (action) => isKey(keysOf(this.engine.document, action)));
    if (useBench.getState().device !== device) useBench.setState({ device });
    if (row < 0) return false;
    this.pressRow(solver, row);
    return true;
  }

  private pressRow(solver: Solver, row: number): void {
    this.follow(solver, solver.c.ids[row] as string, keyDown(solver, row, this.engine.tryS, this.pressing));
    this.engine.invalidate();
  }

  private follow(solver: Solver, id: string, { now, sent }: Pressed): void {
    this.pressing = now;
    const row = solver.c.ids.indexOf(id);
    const element = solver.c.elements[row];
    if (sent && element) this.send(element.press?.action ?? null, element.name, targetOf(solver, row));
  }

  /** The pointer, or a finger, on a prompt itself. */
  touch(id: string, down: boolean): boolean {
    const solver = this.engine.frameOf(useBench.getState().viewer);
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

  /** Buttons that went down or up since they were last read, and the sticks: the left one walks, the right one looks. True while one is plugged in. */
  private readGamepad(dtS: number): boolean {
    const pad = (navigator.getGamepads?.() ?? []).find((one) => one?.connected) ?? null;
    if (!pad) return false;
    const now = pad.buttons.map(({ pressed }) => pressed);
    now.forEach((down, button) => {
      if (down !== (this.buttons[button] ?? false)) this.press('gamepad', (keys) => keys.gamepad === button, down);
    });
    if (now.some(Boolean) && useBench.getState().device !== 'gamepad') useBench.setState({ device: 'gamepad' });
    this.buttons = now;
    const axis = (k: number) => (Math.abs(pad.axes[k] ?? 0) > STICK_REST ? (pad.axes[k] ?? 0) : 0);
    if (axis(2) || axis(3)) this.engine.turn(-axis(2) * STICK_DEG_PER_S * dtS, -axis(3) * STICK_DEG_PER_S * dtS);
    const walks = axis(0) !== 0 || axis(1) !== 0;
    if (walks || this.stick) this.engine.intent = { right: axis(0), up: 0, forward: -axis(1), fast: false };
    this.stick = walks;
    return true;
  }

  private readonly plugged = (): void => this.engine.invalidate();

  dispose(): void {
    window.removeEventListener('gamepadconnected', this.plugged);
  }

  private set(feed: string, value: FeedValue): void {
    hold(feed, value);
  }

  private pixels(solver: Solver, at: readonly [number, number] | null): [number, number] {
    const { widthPx, heightPx } = solver.a.projection;
    return at ? [at[0] * widthPx, at[1] * heightPx] : [0, 0];
  }

  private isShown(element: string): boolean {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    return solver?.c.sources.some((source, row) => source === element && solver.f.failed[row] === Failed.Shown) ?? false;
  }

  /** Plays the motion of entering of an element once more. */
  private play(element: string): void {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    if (!solver) return;
    for (let row = 0; row < solver.c.count; row++) if (solver.c.sources[row] === element) playMotion(solver, row);
    this.engine.invalidate();
  }

  /** Whether an element is dragged rather than pressed. */
  isSlider(id: string): boolean {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    return solver?.c.elements[solver.c.ids.indexOf(id)]?.kind === 'slider';
  }

  /** Sets what a slider sets, from where the pointer is, as shares of the picture. */
  slide(id: string, at: readonly [number, number]): void {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const set = solver && valueSet(solver, solver.c.ids.indexOf(id), ...this.pixels(solver, at));
    if (set && set.value !== this.engine.valuesNow()[set.feed]) this.set(set.feed, set.value);
  }

  /** Moves a slider by steps. False where the element is none. */
  slideBy(id: string, steps: number): boolean {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const set = solver && valueStepped(solver, solver.c.ids.indexOf(id), steps);
    if (set) this.set(set.feed, set.value);
    return Boolean(set);
  }

  /** Scrolls what is under a point of the picture by so many of the viewer's pixels. False where nothing there scrolls. */
  scrollAt(u: number, v: number, byPx: number): boolean {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    if (!solver) return false;
    const { widthPx, heightPx } = solver.a.projection;
    const row = rowUnder(solver, u * widthPx, v * heightPx);
    const group = row < 0 ? -1 : scrollingRow(solver, row);
    if (group < 0) return false;
    this.scroll(solver, group, (solver.f.scrolled[group] as number) + byPx / (solver.a.fits[group] as number));
    return true;
  }

  /** Brings an element into the box of what scrolls around it. */
  reveal(id: string): void {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    const row = solver?.c.ids.indexOf(id) ?? -1;
    const group = solver && row >= 0 ? scrollingRow(solver, solver.c.parent[row] as number) : -1;
    if (solver && group >= 0) this.scroll(solver, group, scrollTo(solver, group, row));
  }

  private scroll(solver: Solver, group: number, to: number): void {
    const within = Math.max(0, Math.min(solver.a.tree.surplus[group] as number, to));
    useBench.setState(({ scrolled }) => ({ scrolled: { ...scrolled, [solver.c.ids[group] as string]: within } }));
  }

  /** A key of the keyboard went down or up while trying: feeds that come from it follow, the prompt that has it is pressed. True where there is any. */
  key(code: string, down: boolean): boolean {
    let any = false;
    for (const [id, { source, kind }] of Object.entries(this.engine.document.feeds)) {
      if (source?.kind !== 'key' || source.code !== code || kind !== 'flag') continue;
      any = true;
      if (source.how === 'held') this.set(id, down);
      else if (down) this.set(id, this.engine.valuesNow()[id] !== true);
    }
    if (useBench.getState().device !== 'keyboard') useBench.setState({ device: 'keyboard' });
    return this.press('keyboard', (keys) => keys.keyboard === code, down) || any;
  }

  /** Every pointer area of the present frame, in the chosen viewer's pixels, back to front. */
  areas(): { id: string; takes: 'acts' | 'blocks' | 'passes'; rect: [number, number, number, number] }[] {
    const solver = this.engine.frameOf(useBench.getState().viewer);
    if (!solver) return [];
    return [...paintedRows(solver)].flatMap((row) => {
      if (solver.f.failed[row] !== Failed.Shown) return [];
      const { takes, padPx } = pointerOf(solver, row);
      const pad = padPx * (solver.a.fits[row] as number);
      const [x, y, w, h] = placeOf(solver.f, row).rect;
      return [
        { id: solver.c.ids[row] as string, takes, rect: [x - pad, y - pad, w + 2 * pad, h + 2 * pad] as [number, number, number, number] },
      ];
    });
  }
}
