/**
 * The project's pages while they run: each in a sandboxed frame of its own, once, wherever it is shown; what it draws is taken as a
 * picture. A page that is shown nowhere is unloaded; one that does not answer, floods or leaves is stopped, and says so.
 */
import type { OnPage } from '@foreshore/core';
import type { Document, FeedValue } from '@foreshore/document';
import { create } from 'zustand';

type PageFile = NonNullable<Document['pictures']>[string];

/** `rests`: it is shown nowhere. */
export type PageState = 'starts' | 'runs' | 'rests' | 'silent' | 'left' | 'floods' | 'failed';
export interface PageFacts {
  state: PageState;
  /** The least height of its capitals, pixels of the page; infinite without a text; undefined while it is not measured. */
  capPx?: number;
  /** An action that it sent and the project does not have. */
  unknown?: string;
  /** Where a link led that was not followed. */
  link?: string;
  /** Why it could not be drawn. */
  because?: string;
}
/** What is known of the pages, by the hash of their bytes. */
export const usePages = create<{ pages: Readonly<Record<string, PageFacts>> }>(() => ({ pages: {} }));

/** The heights of letters that are known, for whoever judges them. */
export const pageCaps = (): Record<string, number> =>
  Object.fromEntries(
    Object.entries(usePages.getState().pages).flatMap(([page, { capPx }]) => (capPx === undefined ? [] : [[page, capPx]])),
  );

/**
 * This server by its other name: another site, for which browsers have another process, so that a page that hangs hangs alone.
 * Served under a name of its own, it has but that.
 */
const OTHER_NAMES: Record<string, string> = { '127.0.0.1': 'localhost', localhost: '127.0.0.1' };
const OTHER_SITE = location.origin.replace(`//${location.hostname}`, `//${OTHER_NAMES[location.hostname] ?? location.hostname}`);

/** Asked so often whether it still answers; without an answer for so long it is stopped. */
const PING_MS = 1000;
const SILENT_MS = 6000;
/** More messages in a second are a flood, and more actions. */
const MOST_MESSAGES = 300;
const MOST_ACTIONS = 30;

/** A page runs in the window, so that it is not held back, and is seen only as the picture of itself. */
const UNSEEN = { position: 'fixed', inset: '0 auto auto 0', zIndex: '-1', border: '0', opacity: '0', pointerEvents: 'none' } as const;

interface Running {
  frame: HTMLIFrameElement;
  ready: boolean;
  loads: number;
  heardMs: number;
  second: number;
  messages: number;
  actions: number;
  fed: string;
}

/** What surrounds the pages. */
export interface PagesHost {
  /** A page has drawn itself anew, or its state is another. */
  changed(): void;
  /** A page sends an action, by its id or its name; false where there is none such. */
  acts(page: string, action: string): boolean;
}

/** What stands for a page that was stopped. */
function crossedOut(): HTMLCanvasElement {
  const canvas = document.createElement('canvas');
  Object.assign(canvas, { width: 320, height: 200 });
  const pen = canvas.getContext('2d');
  if (!pen) return canvas;
  pen.fillStyle = '#3A4352';
  pen.fillRect(0, 0, 320, 200);
  pen.strokeStyle = '#B9C0CA';
  pen.lineWidth = 4;
  for (const [from, to] of [
    [2, 198],
    [198, 2],
  ] as const) {
    pen.beginPath();
    pen.moveTo(2, from);
    pen.lineTo(318, to);
    pen.stroke();
  }
  pen.strokeRect(2, 2, 316, 196);
  return canvas;
}

export class Pages {
  private readonly host: PagesHost;
  private files = new Map<string, PageFile>();
  private readonly running = new Map<string, Running>();
  private readonly drawn = new Map<string, ImageBitmap>();
  private readonly asked = new Map<string, number>();
  private told: { feeds: Record<string, FeedValue>; language: string } = { feeds: {}, language: '' };
  private crossed: HTMLCanvasElement | null = null;
  private readonly timer: ReturnType<typeof setInterval>;

  constructor(host: PagesHost) {
    this.host = host;
    usePages.setState({ pages: {} });
    window.addEventListener('message', this.hear);
    document.addEventListener('visibilitychange', this.seen);
    window.addEventListener('blur', this.blurred);
    this.timer = setInterval(this.ping, PING_MS);
  }

  dispose(): void {
    window.removeEventListener('message', this.hear);
    document.removeEventListener('visibilitychange', this.seen);
    window.removeEventListener('blur', this.blurred);
    clearInterval(this.timer);
    for (const page of [...this.running.keys()]) this.unload(page);
    for (const bitmap of this.drawn.values()) bitmap.close();
  }

  want(pictures: Document['pictures'] = {}): void {
    this.files = new Map(Object.values(pictures).flatMap((file) => (file.type === 'text/html' ? [[file.hash, file]] : [])));
    for (const page of [...this.running.keys()]) {
      const frame = this.running.get(page)?.frame;
      const file = this.files.get(page);
      // Brought back, by undo for instance, it begins anew.
      if (!file) this.halt(page);
      else if (frame && (frame.width !== `${file.widthPx}` || frame.height !== `${file.heightPx}`))
        Object.assign(frame, { width: `${file.widthPx}`, height: `${file.heightPx}` });
    }
  }

  /** Whether any runs. */
  get run(): boolean {
    return this.running.size > 0;
  }

  /** What is known of each, for tests. */
  known(): Readonly<Record<string, PageFacts>> {
    return usePages.getState().pages;
  }

  has(page: string): boolean {
    return this.files.has(page);
  }

  /** Nothing that is shown is still to come for the first time. */
  get complete(): boolean {
    return [...this.running.keys()].every((page) => this.drawn.has(page) || this.factsOf(page).state === 'failed');
  }

  /** A page as it drew itself last; one that is asked for runs from then on. One that was stopped is crossed out. */
  get(page: string): ImageBitmap | HTMLCanvasElement | undefined {
    this.asked.set(page, performance.now());
    const { state } = this.factsOf(page);
    if (state === 'rests' && !document.hidden) this.load(page);
    return state === 'starts' || state === 'runs' || state === 'rests' ? this.drawn.get(page) : (this.crossed ??= crossedOut());
  }

  /** Those that were asked for before a time, and not since, are shown nowhere. */
  rest(sinceMs: number): void {
    for (const page of [...this.running.keys()]) if ((this.asked.get(page) ?? 0) < sinceMs) this.halt(page);
  }

  private halt(page: string): void {
    this.unload(page);
    this.tell(page, { state: 'rests' });
  }

  /** It begins anew. */
  again(page: string): void {
    this.unload(page);
    this.tell(page, { state: 'rests', unknown: undefined, link: undefined, because: undefined });
    this.host.changed();
  }

  /** What feeds are worth now, by their ids, and the language of the texts; only pages that run hear of it, and only of what has changed. */
  feed(values: Readonly<Record<string, FeedValue | undefined>>, language: string): void {
    const feeds = Object.fromEntries(Object.entries(values).filter((one): one is [string, FeedValue] => one[1] !== undefined));
    this.told = { feeds, language };
    for (const page of this.running.keys()) this.sendFeeds(page);
  }

  point(page: string, kind: OnPage, x: number, y: number, by = 0): void {
    const one = this.running.get(page);
    if (one?.ready) one.frame.contentWindow?.postMessage({ foreshore: { kind, x, y, by } }, '*');
  }

  private factsOf(page: string): PageFacts {
    return usePages.getState().pages[page] ?? { state: 'rests' };
  }

  private tell(page: string, facts: Partial<PageFacts>): void {
    const before = this.factsOf(page);
    if (Object.entries(facts).every(([key, value]) => before[key as keyof PageFacts] === value)) return;
    usePages.setState(({ pages }) => ({ pages: { ...pages, [page]: { ...before, ...facts } } }));
  }

  private load(page: string): void {
    const file = this.files.get(page);
    if (!file || this.running.has(page)) return;
    const frame = document.createElement('iframe');
    frame.setAttribute('sandbox', 'allow-scripts');
    frame.setAttribute('aria-hidden', 'true');
    // It takes neither the keyboard nor the pointer for itself.
    frame.inert = true;
    frame.tabIndex = -1;
    frame.title = file.name;
    Object.assign(frame.style, UNSEEN);
    Object.assign(frame, { width: `${file.widthPx}`, height: `${file.heightPx}` });
    const one: Running = { frame, ready: false, loads: 0, heardMs: performance.now(), second: 0, messages: 0, actions: 0, fed: '' };
    frame.addEventListener('load', () => {
      if (++one.loads > 1) this.stop(page, 'left');
    });
    this.running.set(page, one);
    this.tell(page, { state: 'starts', because: undefined });
    frame.src = new URL(`/api/pages/${page}`, OTHER_SITE).href;
    document.body.append(frame);
  }

  private unload(page: string): void {
    this.running.get(page)?.frame.remove();
    this.running.delete(page);
  }

  private stop(page: string, state: PageState): void {
    this.unload(page);
    this.drawn.get(page)?.close();
    this.drawn.delete(page);
    this.tell(page, { state, capPx: undefined });
    this.host.changed();
  }

  private sendFeeds(page: string): void {
    const one = this.running.get(page);
    if (!one?.ready) return;
    const now = JSON.stringify(this.told);
    if (now === one.fed) return;
    one.fed = now;
    one.frame.contentWindow?.postMessage(this.told, '*');
  }

  private readonly ping = (): void => {
    for (const [page, one] of this.running) {
      if (performance.now() - one.heardMs > SILENT_MS && !document.hidden) this.stop(page, 'silent');
      else one.frame.contentWindow?.postMessage({ foreshore: { kind: 'ping' } }, '*');
    }
  };

  /** A page that takes the keyboard all the same gives it back. */
  private readonly blurred = (): void => {
    setTimeout(() => {
      const now = [...this.running.values()].find(({ frame }) => frame === document.activeElement);
      if (!now) return;
      now.frame.blur();
      window.focus();
    });
  };

  /** A window that nobody sees runs no pages. */
  private readonly seen = (): void => {
    if (document.hidden) this.rest(Number.POSITIVE_INFINITY);
    else this.host.changed();
  };

  private readonly hear = (event: MessageEvent): void => {
    const found = [...this.running].find(([, { frame }]) => frame.contentWindow === event.source);
    if (!found) return;
    const [page, one] = found;
    const now = performance.now();
    one.heardMs = now;
    const second = Math.floor(now / 1000);
    if (second !== one.second) Object.assign(one, { second, messages: 0, actions: 0 });
    const data = event.data as { action?: unknown; foreshore?: Record<string, unknown> } | null;
    const acts = typeof data?.action === 'string';
    if (++one.messages > MOST_MESSAGES || (acts && ++one.actions > MOST_ACTIONS)) {
      this.stop(page, 'floods');
      return;
    }
    if (typeof data?.action === 'string') {
      const action = data.action.slice(0, 200);
      this.tell(page, { unknown: this.host.acts(page, action) ? undefined : action });
    }
    if (data?.foreshore) this.take(page, one, data.foreshore);
  };

  private take(page: string, one: Running, { kind, bitmap, capPx, because, to }: Record<string, unknown>): void {
    if (kind === 'ready') {
      one.ready = true;
      one.fed = '';
      this.sendFeeds(page);
      this.tell(page, { state: 'runs' });
    } else if (kind === 'picture' && bitmap instanceof ImageBitmap) {
      this.drawn.get(page)?.close();
      this.drawn.set(page, bitmap);
      const measured = capPx === 'none' ? Number.POSITIVE_INFINITY : typeof capPx === 'number' && capPx > 0 ? capPx : undefined;
      this.tell(page, { state: 'runs', capPx: measured });
      this.host.changed();
    } else if (kind === 'failed') {
      this.tell(page, { state: 'failed', because: String(because).slice(0, 300), capPx: undefined });
      this.host.changed();
    } else if (kind === 'link') this.tell(page, { link: String(to).slice(0, 300) });
  }
}
