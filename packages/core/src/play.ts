/**
 * Playing: what the elements of a game do with the pointer, the keys and the gamepad, and what comes of it. Used by the bench
 * while trying, and by a game that runs the interface. It draws nothing and knows no page: a host gives it the present frame and
 * takes over what changes.
 */
import type { Device, Document, FeedValue, Keys } from '@foreshore/document/types';
import { paintedRows } from './draw-list.ts';
import { mapAt, placeOf } from './frame.ts';
import { keysOf } from './keys.ts';
import { forBegun, playMotion } from './motions.ts';
import { actingRow, isArriving, isOff, pagePoint, pointerOf, rowUnder, scrollingRow, scrollTo, valueSet, valueStepped } from './pointer.ts';
import { dwellOf, isBeyondReach, type Met, metBy, type Pointing, pixelOnPlane, sourcesOf } from './pointing.ts';
import { keyDown, keyUp, type Pressed, type Pressing, pressOn, pressShare, promptFor, targetOf } from './press.ts';
import type { RaySource } from './reach.ts';
import { type Done, type Reacted, react } from './reactions.ts';
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

/** With what each source presses, where the project does not say: keys that lie about the ones that walk, a gamepad's triggers, a controller's trigger. */
export const RAY_BUTTONS: Record<'aim' | 'left' | 'right', Keys> = {
  aim: { keyboard: 'KeyX', gamepad: 5, touch: 'tap', hand: 0 },
  left: { keyboard: 'KeyZ', gamepad: 6, touch: 'tap', hand: 0 },
  right: { keyboard: 'KeyC', gamepad: 7, touch: 'tap', hand: 0 },
};

/** What the pointer does on a page. */
export type OnPage = 'move' | 'down' | 'up' | 'leave' | 'wheel';

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
  /** The acting element that the source used last points at, and the one that it presses. */
  point(pointed: string | null, pressed: string | null): void;
  /**
   * What the pointer does on a page that is content, at a place in the page's pixels; `leave` has none.
   * @param page the hash of its bytes. @param byPx of a wheel: so far it scrolls, in the page's pixels.
   */
  page?(page: string, what: OnPage, x: number, y: number, byPx?: number): void;
  /** Told of everything that was pressed. */
  played(what: Played): void;
  /** Something changed that the next picture shows. */
  invalidate(): void;
}

/** What a source points at: the row that has it, and the acting one that belongs to; and why it does not act. */
export interface Under {
  has: string | null;
  acts: string | null;
  because: Swallowed | null;
  /** Where; null where there is no frame. */
  met: Met | null;
}
const NOTHING: Under = { has: null, acts: null, because: null, met: null };

/** Who got a press: an element, which may do nothing with it; a prompt that has the button for its key; the world; or nobody, because another source is pressing. */
export type Taken = 'element' | 'prompt' | 'world' | 'busy';

export class Play {
  private readonly host: PlayHost;
  /** Feeds on their way to a number. */
  private readonly runs = new Map<string, { from: number; to: number; overS: number; goneS: number }>();
  private pressing: Pressing | null = null;
  /** Where each source points now. */
  private readonly pointing = new Map<RaySource, Pointing>();
  /** The source used last: it alone points at something. */
  private source: RaySource = 'mouse';
  /** The source that presses, and the row it holds: null where the world has it. Until it lets go, no other presses. */
  private held: { source: RaySource; row: string | null } | null = null;
  /** When the motion of each row last began to move, as far as its action was sent for that. */
  private readonly begun = new Map<string, number>();
  /** The row of the page that the pointer is on. */
  private onPage: { row: string; page: string } | null = null;
  /** How long the head has stayed on a row, seconds; negative once it has pressed it, until it has been elsewhere. */
  private dwell: { row: string; s: number } | null = null;

  constructor(host: PlayHost) {
    this.host = host;
  }

  /** What a place of the picture, as shares of its width and height, belongs to. */
  under(u: number, v: number): Under {
    const solver = this.host.solver();
    return solver ? this.underBy(solver, share(solver, [u, v])) : NOTHING;
  }

  private underBy(solver: Solver, pointing: Pointing): Under {
    const met = metBy(solver, pointing);
    if (met.row < 0) return { ...NOTHING, met };
    const has = solver.c.ids[met.row] as string;
    const acting = actingRow(solver, met.row);
    if (acting < 0) return { has, acts: null, because: whyNot(solver, met.row), met };
    if (isBeyondReach(solver, met)) return { has, acts: null, because: 'reach', met };
    return { has, acts: solver.c.ids[acting] as string, because: null, met };
  }

  /** What a source points at now. */
  meets(source: RaySource): Under {
    const solver = this.host.solver();
    const pointing = this.pointing.get(source);
    return solver && pointing ? this.underBy(solver, pointing) : NOTHING;
  }

  /** Where a source points; null where it does not. */
  pointingOf(source: RaySource): Pointing | null {
    return this.pointing.get(source) ?? null;
  }

  /** The source that holds: the one used last. */
  get uses(): RaySource {
    return this.source;
  }

  /** A source is taken up: from now on it is the one that points. What another holds, that keeps. */
  take(source: RaySource): void {
    if (this.source === source || this.held) return;
    this.source = source;
    this.tell();
  }

  /** A source points elsewhere, or nowhere. What it holds follows it: a slider, beyond its panel's edge too. */
  point(source: RaySource, pointing: Pointing | null): void {
    if (pointing) this.pointing.set(source, pointing);
    else this.pointing.delete(source);
    if (source !== this.source) return;
    const { held } = this;
    if (held?.row && pointing && this.isSlider(held.row)) {
      this.slide(held.row, pointing);
      return;
    }
    this.tell();
    this.followOnPage();
  }

  /** A page hears of the pointer while it is on it, and while it holds it. */
  private followOnPage(): void {
    const row = this.held?.row ?? this.meets(this.source).acts;
    if (this.onPage && this.onPage.row !== row) {
      this.host.page?.(this.onPage.page, 'leave', 0, 0);
      this.onPage = null;
    }
    if (row) this.toPage(row, 'move', this.pointing.get(this.source) ?? null);
  }

  /** True where the row is a page. @param pointing where on it; without it, in its middle. */
  private toPage(id: string, what: OnPage, pointing: Pointing | null, byPx?: number): boolean {
    const solver = this.host.solver();
    const row = solver?.c.ids.indexOf(id) ?? -1;
    if (solver?.c.elements[row]?.kind !== 'page') return false;
    const [x, y] = pointing ? pixelOnPlane(solver, row, pointing) : screenMiddle(solver, row);
    const at = pagePoint(solver, row, x, y);
    if (!at) return true;
    this.onPage = { row: id, page: at.page };
    this.host.page?.(at.page, what, at.x, at.y, byPx);
    return true;
  }

  /** A place of the picture as shares of its width and height; for the mouse and a finger. */
  pointAt(u: number, v: number): void {
    const solver = this.host.solver();
    if (solver) this.point('mouse', share(solver, [u, v]));
  }

  /** Tells the host what is pointed at. What is held is pointed at only while the source is on it. */
  private tell(): void {
    const { acts } = this.meets(this.source);
    const row = this.held?.row ?? null;
    this.host.point(this.held === null || row === acts ? acts : null, row);
  }

  /**
   * A source's button went down: exactly one gets it. The source becomes the one that points.
   * @param button of the mouse, which prompts may have for their key.
   */
  down(source: RaySource, button: number | null = null): Taken {
    if (this.held && this.held.source !== source) return 'busy';
    this.source = source;
    const under = this.meets(source);
    const { has, acts } = under;
    const prompt = has === null && button !== null && this.pointerButton(button, true);
    this.held = { source, row: acts };
    this.host.point(acts, acts);
    const pointing = this.pointing.get(source);
    if (acts) {
      this.touch(acts, true);
      if (pointing && this.isSlider(acts)) this.slide(acts, pointing);
      this.toPage(acts, 'down', pointing ?? null);
    } else if (!prompt && (has !== null || button !== null)) this.missed(under);
    return has !== null ? 'element' : prompt ? 'prompt' : 'world';
  }

  /** A source's button went up: what it held is used, if it is on it still. False where that source held nothing. */
  up(source: RaySource, button: number | null = null): boolean {
    const { held } = this;
    if (held?.source !== source) return false;
    this.held = null;
    if (button !== null) this.pointerButton(button, false);
    if (held.row !== null && !this.toPage(held.row, 'up', this.pointing.get(source) ?? null)) {
      const { acts, met } = this.meets(source);
      if (!this.touch(held.row, false) && acts === held.row && met) this.use(held.row, met);
    }
    this.tell();
    return true;
  }

  /** Lets go without using what is held: the pointer was taken away, or playing is over. */
  drop(): void {
    if (this.onPage) this.host.page?.(this.onPage.page, 'leave', 0, 0);
    this.onPage = null;
    this.held = null;
    this.dwell = null;
    this.pointing.clear();
    this.source = 'mouse';
    this.host.point(null, null);
  }

  /** How much of the head's staying is done, 0..1; 0 where it rests on nothing that acts. */
  get dwelt(): number {
    return this.dwell && this.dwell.s >= 0 ? Math.min(1, this.dwell.s / dwellOf(this.host.document())) : 0;
  }

  /** The head stays on what it points at: after a time that presses it, once. True while it goes on. */
  private stay(dtS: number): boolean {
    if (this.source !== 'head' || this.held) return false;
    const { acts, met } = this.meets('head');
    // What has to be held is held until the head goes elsewhere.
    if (this.dwell && this.dwell.row !== acts && this.dwell.s < 0) this.touch(this.dwell.row, false);
    if (acts === null || !met) {
      this.dwell = null;
      return false;
    }
    if (this.dwell?.row !== acts) this.dwell = { row: acts, s: 0 };
    if (this.dwell.s < 0) return false;
    this.dwell.s += dtS;
    if (this.dwell.s < dwellOf(this.host.document()) - 1e-9) return true;
    this.dwell.s = -1;
    if (this.isSlider(acts)) this.slide(acts, met);
    else if (this.toPage(acts, 'down', met)) this.toPage(acts, 'up', met);
    else if (!this.touch(acts, true)) this.use(acts, met);
    return false;
  }

  /** Acting elements that are shown now, in the order of reading: from the back to the front, as they are painted. */
  acting(): string[] {
    const solver = this.host.solver();
    if (!solver) return [];
    // What is scrolled out of sight can be come to, and is brought into sight then.
    return paintedRows(solver).flatMap((row) => {
      const failed = solver.f.failed[row];
      // A page has the keys of its own player only, which is none.
      if (solver.c.elements[row]?.kind === 'page') return [];
      const shown = failed === Verdict.Shown || (failed === Verdict.Place && (solver.c.clipper[row] as number) >= 0);
      if (!shown || pointerOf(solver, row).takes !== 'acts' || isOff(solver, row)) return [];
      // What lies behind a veil is not come to by keys either.
      const over = rowUnder(solver, ...screenMiddle(solver, row));
      return over >= 0 && solver.c.root[over] !== solver.c.root[row] ? [] : [solver.c.ids[row] as string];
    });
  }

  /** Sends the action of an element, and does what the document says is done on it. A toggle changes over. @param at the pixel at which it was pressed. */
  use(id: string, at: { x: number; y: number } | null = null): void {
    const solver = this.host.solver();
    const row = solver?.c.ids.indexOf(id) ?? -1;
    const element = solver?.c.elements[row];
    if (!solver || !element || isOff(solver, row) || isArriving(solver, row)) return;
    const set = element.kind === 'slider' && !at ? null : valueSet(solver, row, at?.x ?? 0, at?.y ?? 0);
    const action = element.pointer?.action ?? null;
    if (set) this.host.set(set.feed, set.value);
    // What only sets a feed has nothing to send.
    if (set && action === null) this.host.played({ kind: 'set', source: id, ...set });
    else this.send(action, id, targetOf(solver, row));
  }

  /** A page sends an action of its own, by its id or its name. False where the project has none such. */
  sendFrom(id: string, named: string): boolean {
    const actions = this.host.document().actions ?? {};
    const action = Object.hasOwn(actions, named) ? named : Object.keys(actions).find((one) => actions[one]?.name === named);
    const solver = this.host.solver();
    const row = solver?.c.ids.indexOf(id) ?? -1;
    if (action === undefined || !solver || row < 0 || isOff(solver, row)) return false;
    this.send(action, id, targetOf(solver, row));
    return true;
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

  /** Time goes on: feeds that run, keys that are held, the head that stays. True while any of these goes on. */
  advance(dtS: number): boolean {
    const stays = this.stay(dtS);
    this.stages();
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
    return stays || this.runs.size > 0 || this.pressing !== null;
  }

  /** Motions that have begun to move send their actions, each once. */
  private stages(): void {
    const solver = this.host.solver();
    if (!solver) return;
    forBegun(solver, ({ row, beganS, sends }) => {
      const id = solver.c.ids[row] as string;
      if (this.begun.get(id) === beganS) return;
      this.begun.set(id, beganS);
      this.send(sends, id, targetOf(solver, row));
    });
  }

  /** Playing is over: what runs is there, what is held is let go. */
  end(): void {
    for (const [feed, { to }] of this.runs) this.host.set(feed, to);
    this.runs.clear();
    this.pressing = null;
    this.begun.clear();
    this.drop();
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
    const used = this.rayButton((keys) => keys.keyboard === code, down);
    return used || this.press('keyboard', (keys) => keys.keyboard === code, down) || any;
  }

  /** A key or button with which a source presses. True where an element got it: what gets none may be a prompt's. */
  rayButton(isKey: (keys: Keys) => boolean, down: boolean): boolean {
    const document = this.host.document();
    for (const source of sourcesOf(document)) {
      const keys = source === 'mouse' || source === 'head' ? undefined : (document.ray?.buttons?.[source] ?? RAY_BUTTONS[source]);
      if (!keys || !isKey(keys)) continue;
      if (!down) {
        if (this.up(source)) return true;
        continue;
      }
      if (this.down(source) === 'element') return true;
      // The world's: a source that holds nothing holds nothing back.
      if (this.held?.source === source && this.held.row === null) this.held = null;
    }
    return false;
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

  /** Sets what a slider sets, from where it is pointed at. */
  private slide(id: string, pointing: Pointing): void {
    const solver = this.host.solver();
    const row = solver?.c.ids.indexOf(id) ?? -1;
    if (!solver || row < 0) return;
    const [x, y] = pixelOnPlane(solver, row, pointing);
    const set = Number.isNaN(x) ? null : valueSet(solver, row, x, y);
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
    const { x, y } = share(solver, [u, v]);
    return this.scrollMet(solver, metBy(solver, { x, y }), byPx);
  }

  /** Scrolls what a source points at. */
  scrollBy(source: RaySource, byPx: number): boolean {
    const solver = this.host.solver();
    const { met } = this.meets(source);
    return Boolean(solver && met && this.scrollMet(solver, met, byPx));
  }

  private scrollMet(solver: Solver, met: Met, byPx: number): boolean {
    const { row } = met;
    if (row < 0) return false;
    if (this.toPage(solver.c.ids[row] as string, 'wheel', met, byPx / pixelOf(solver, row))) return true;
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
    return paintedRows(solver).flatMap((row) => {
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
  const [x, y, w, h] = placeOf(solver.f, row).rect;
  return localScale(solver.f.maps, mapAt(solver.f, panel), x + w / 2, y + h / 2).best || 1;
}

function share(solver: Solver, [u, v]: readonly [number, number]): { x: number; y: number } {
  const { widthPx, heightPx } = solver.a.projection;
  return { x: u * widthPx, y: v * heightPx };
}

/** Why neither a row nor a group around it acts. */
function whyNot(solver: Solver, row: number): Swallowed {
  for (let at = row; at >= 0; at = solver.c.parent[at] as number)
    if (pointerOf(solver, at).takes === 'acts') return isOff(solver, at) ? 'off' : isArriving(solver, at) ? 'arriving' : 'blocks';
  return 'blocks';
}
