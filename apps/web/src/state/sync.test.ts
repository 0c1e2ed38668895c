/** The queue of unsent changes against the real server: conflicts, answers out of order, a lost connection, a closed tab. */
import 'fake-indexeddb/auto';
import type { Change, Document, Patch } from '@foreshore/document';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { startTestServer } from '../../../server/src/test-server.ts';
import { api } from './api.ts';
import { Sync, type SyncEvents } from './sync.ts';
import { asideOf, dropUnsent, keepUnsent, unsentOf } from './unsent.ts';

/** The page's end of the live connection, which the test speaks for. */
class Socket extends EventTarget {
  static last: Socket | null = null;
  constructor() {
    super();
    Socket.last = this;
  }
  close(): void {}
  tell(change: Change): void {
    this.dispatchEvent(Object.assign(new Event('message'), { data: JSON.stringify(change) }));
  }
}

/** What a page writes at once, in a browser. */
class Store {
  private readonly kept = new Map<string, string>();
  get length(): number {
    return this.kept.size;
  }
  key = (k: number): string | null => [...this.kept.keys()][k] ?? null;
  getItem = (key: string): string | null => this.kept.get(key) ?? null;
  setItem = (key: string, value: string): void => void this.kept.set(key, value);
  removeItem = (key: string): void => void this.kept.delete(key);
}
const store = new Store();
/** When the browser gives what it keeps. */
let answers: Promise<void> | null = null;
/** The page, which may end. */
const page = new EventTarget();

let server: Awaited<ReturnType<typeof startTestServer>>;
/** Tabs that live, by their ids. */
const living = new Set<string>();
/** What is done with a request before it goes to the server, and with its answer before it comes back. */
let before: (path: string, init?: RequestInit) => Promise<void> | void = () => {};
let after: (path: string, init?: RequestInit) => Promise<void> | void = () => {};
const real = globalThis.fetch;

beforeAll(async () => {
  server = await startTestServer();
  vi.stubGlobal('window', {
    location: { href: server.address },
    addEventListener: page.addEventListener.bind(page),
    removeEventListener: page.removeEventListener.bind(page),
  });
  vi.stubGlobal('localStorage', store);
  vi.stubGlobal('WebSocket', Socket);
  // Locks as a browser gives them to its tabs; a tab lives while its lock is held.
  vi.stubGlobal('navigator', {
    locks: {
      request: async (_name: string, run: () => unknown) => {
        await answers;
        return run();
      },
      query: async () => ({ held: [...living].map((tab) => ({ name: `foreshore-tab-${tab}` })) }),
    },
  });
  vi.stubGlobal('fetch', async (path: string, init?: RequestInit) => {
    await before(path, init);
    const response = await real(new URL(path, server.address), init);
    await after(path, init);
    return response;
  });
});
afterAll(async () => {
  vi.unstubAllGlobals();
  await server.remove();
});

let id = '';
let said: { aside: string[]; states: string[] };
let open: Sync[] = [];
beforeEach(async () => {
  before = after = () => {};
  answers = null;
  living.clear();
  ({ id } = await api.createEmpty('Low Water'));
  said = { aside: [], states: [] };
  open = [];
});
afterEach(() => {
  for (const one of open) one.close();
});

const syncOf = async (): Promise<Sync> => {
  const events: SyncEvents = {
    changed: () => {},
    state: (state) => said.states.push(state),
    setAside: ({ why }) => said.aside.push(why),
    keepsNothing: () => said.states.push('keeps nothing'),
  };
  const sync = await Sync.open(await api.open(id), events);
  open.push(sync);
  return sync;
};
const named = (from: string, to: string): Patch => [
  { op: 'test', path: '/name', value: from },
  { op: 'replace', path: '/name', value: to },
];
const eye = (document: Document, to: number): Patch => [
  { op: 'test', path: '/body/eyeHeightM', value: document.body.eyeHeightM },
  { op: 'replace', path: '/body/eyeHeightM', value: to },
];
const fromAnother = (base: number, patch: Patch) => api.change(id, base, patch, crypto.randomUUID());
const isChange = (path: string, init?: RequestInit) => path.endsWith('/changes') && init?.method === 'POST';
const kept = async () => (await api.open(id)).document;

describe('own changes', () => {
  it('are sent in their order, and wait nowhere once they are acknowledged', async () => {
    const sync = await syncOf();
    sync.push(named('Low Water', 'Ebb'));
    sync.push(named('Ebb', 'Slack water'));
    expect(sync.document.name).toBe('Slack water');
    await vi.waitFor(() => expect(sync.revision).toBe(2));
    expect((await kept()).name).toBe('Slack water');
    await sync.kept;
    expect(await unsentOf(id)).toEqual([]);
    expect(said.aside).toEqual([]);
  });

  it('outlive a lost connection and a closed tab, and are sent by the next', async () => {
    before = (path, init) => {
      if (isChange(path, init)) throw new TypeError('no network');
    };
    const first = await syncOf();
    first.push(named('Low Water', 'Ebb'));
    await vi.waitFor(() => expect(said.states).toContain('offline'));
    await first.kept;
    first.close();
    expect((await kept()).name).toBe('Low Water');
    before = () => {};
    const second = await syncOf();
    expect(second.document.name).toBe('Ebb');
    await vi.waitFor(() => expect(second.revision).toBe(1));
    expect((await kept()).name).toBe('Ebb');
  });

  it('outlive a page that ends before the browser has stored them, behind those that it has', async () => {
    before = (path, init) => {
      if (isChange(path, init)) throw new TypeError('no network');
    };
    const first = await syncOf();
    first.push(named('Low Water', 'Ebb'));
    await first.kept;
    first.push(named('Ebb', 'Slack water'));
    first.push(named('Slack water', 'Flood'));
    page.dispatchEvent(new Event('pagehide'));
    // The store has not taken them with the page.
    await first.kept;
    const [stored, ...late] = await unsentOf(id);
    expect(late).toHaveLength(2);
    await dropUnsent(late.map(({ changeId }) => changeId));
    first.close();
    // The browser says for a while that it lives.
    living.add(stored?.tab ?? '');
    before = () => {};
    const second = await syncOf();
    expect([second.document.name, store.length]).toEqual(['Flood', 0]);
    await vi.waitFor(() => expect(second.revision).toBe(3));
    expect((await kept()).name).toBe('Flood');
    await second.kept;
    expect([await unsentOf(id), said.aside]).toEqual([[], []]);
  });

  it('are not made twice when the answer to one is lost', async () => {
    let lost = false;
    after = (path, init) => {
      if (!isChange(path, init) || lost) return;
      lost = true;
      throw new TypeError('the connection broke');
    };
    const sync = await syncOf();
    sync.push(named('Low Water', 'Ebb'));
    await vi.waitFor(() => expect(sync.revision).toBe(1), { timeout: 5000 });
    expect((await api.open(id)).revision).toBe(1);
    expect(said.aside).toEqual([]);
  });
});

describe('changes of somebody else', () => {
  it('to another part go together with own ones', async () => {
    const sync = await syncOf();
    await fromAnother(0, eye(sync.document, 1.8));
    sync.push(named('Low Water', 'Ebb'));
    await vi.waitFor(() => expect(sync.revision).toBe(2));
    expect(sync.document).toMatchObject({ name: 'Ebb', body: { eyeHeightM: 1.8 } });
    expect(await kept()).toEqual(sync.document);
    expect(said.aside).toEqual([]);
  });

  it('to the same part set the own one aside, say so, and leave those that wait behind it', async () => {
    const sync = await syncOf();
    await fromAnother(0, named('Low Water', 'Flood'));
    sync.push(named('Low Water', 'Ebb'));
    sync.push(eye(sync.document, 1.5));
    await vi.waitFor(() => expect(sync.revision).toBe(2));
    expect(sync.document).toMatchObject({ name: 'Flood', body: { eyeHeightM: 1.5 } });
    expect(await kept()).toEqual(sync.document);
    expect(said.aside).toHaveLength(1);
    // It stays in the browser, with what it wanted, until somebody says what becomes of it.
    await sync.kept;
    expect(await asideOf(id)).toMatchObject([{ project: id, patch: named('Low Water', 'Ebb') }]);
    expect(await unsentOf(id)).toEqual([]);
  });

  it('may come over the live connection before the answer to an own one that was earlier', async () => {
    const sync = await syncOf();
    let answer = () => {};
    after = (path, init) => {
      if (!isChange(path, init)) return;
      after = () => {};
      return new Promise<void>((go) => {
        answer = go;
      });
    };
    sync.push(named('Low Water', 'Ebb'));
    // Ours is number 1 on the server by now; its answer waits while number 2 of another comes in.
    await vi.waitFor(async () => expect((await kept()).name).toBe('Ebb'));
    await fromAnother(1, eye(sync.document, 1.9));
    const { changes } = await api.changesSince(id, 1);
    Socket.last?.tell(changes[0] as Change);
    await vi.waitFor(() => expect(sync.revision).toBe(2));
    answer();
    await vi.waitFor(() => expect(said.states.at(-1)).toBe('saved'));
    expect(sync.revision).toBe(2);
    expect(sync.document).toEqual(await kept());
    expect(sync.document).toMatchObject({ name: 'Ebb', body: { eyeHeightM: 1.9 } });
    expect(said.aside).toEqual([]);
  });

  it('are not taken twice, nor out of their order', async () => {
    const sync = await syncOf();
    await fromAnother(0, named('Low Water', 'Ebb'));
    await fromAnother(1, named('Ebb', 'Flood'));
    const { changes } = await api.changesSince(id, 0);
    // The second first, then both again.
    for (const change of [changes[1], changes[0], changes[1]]) Socket.last?.tell(change as Change);
    await vi.waitFor(() => expect(sync.revision).toBe(2));
    expect(sync.document.name).toBe('Flood');
  });
});

describe('several tabs', () => {
  const left = (tab: string, place: number, patch: Patch) =>
    keepUnsent({ changeId: crypto.randomUUID(), project: id, tab, place, what: '', patch });

  it('keep a queue each: a second one takes over nothing of one that lives, and all of one that is gone', async () => {
    const { document } = await api.open(id);
    await left('living', 0, named('Low Water', 'Ebb'));
    await left('gone', 0, eye(document, 1.5));
    living.add('living');
    const sync = await syncOf();
    await vi.waitFor(() => expect(sync.revision).toBe(1));
    await sync.kept;
    expect((await kept()).body.eyeHeightM).toBe(1.5);
    expect((await unsentOf(id)).map(({ tab }) => tab)).toEqual(['living']);
    // It ends without having sent its own: the next tab does.
    living.clear();
    const next = await syncOf();
    await vi.waitFor(() => expect(next.revision).toBe(2));
    expect((await kept()).name).toBe('Ebb');
  });
  it('take over what a slow browser gives late, before what was changed since, and that once', async () => {
    const { document } = await api.open(id);
    await left('gone', 0, named('Low Water', 'Ebb'));
    let answer = (): void => {};
    answers = new Promise((resolve) => {
      answer = resolve;
    });
    before = (path, init) => {
      if (isChange(path, init)) throw new TypeError('no network');
    };
    const sync = await syncOf();
    expect(sync.document.name).toBe('Low Water');
    sync.push(eye(document, 1.5));
    await sync.kept;
    answer();
    await vi.waitFor(() => expect(sync.document.name).toBe('Ebb'));
    before = () => {};
    await vi.waitFor(() => expect(sync.revision).toBe(2), { timeout: 5000 });
    const { name, body } = await kept();
    expect([name, body.eyeHeightM, said.aside]).toEqual(['Ebb', 1.5, []]);
  });
  it('find what the server has taken though its answer never came, and do not list it as lost', async () => {
    const patch = named('Low Water', 'Ebb');
    const changeId = crypto.randomUUID();
    await api.change(id, 0, patch, changeId);
    await api.change(id, 1, named('Ebb', 'Flood'), crypto.randomUUID());
    await keepUnsent({ changeId, project: id, tab: 'gone', place: 0, what: '', patch });
    const sync = await syncOf();
    expect(said.aside).toEqual([]);
    expect(await unsentOf(id)).toEqual([]);
    expect(sync.document.name).toBe('Flood');
  });
  it('lose none of many changes made without a connection, and send them in their order', async () => {
    for (let k = 0; k < 10; k++) await left('gone', k, named(k === 0 ? 'Low Water' : `Step ${k - 1}`, `Step ${k}`));
    const sync = await syncOf();
    await vi.waitFor(() => expect(sync.revision).toBe(10));
    expect((await kept()).name).toBe('Step 9');
    expect(said.aside).toEqual([]);
  });
});

describe('a server that is not what it was', () => {
  it('behind this tab is told once; nothing is sent, and what waits stays', async () => {
    const sync = await syncOf();
    sync.push(named('Low Water', 'Ebb'));
    await vi.waitFor(() => expect(sync.revision).toBe(1));
    // Another data folder, with a project of the same name that is younger.
    let posts = 0;
    const other = await startTestServer();
    const made = await real(new URL('/api/projects', other.address), {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ from: 'empty', name: 'Low Water' }),
    }).then((answer) => answer.json() as Promise<{ id: string }>);
    vi.stubGlobal('fetch', (path: string, init?: RequestInit) => {
      if (init?.method === 'POST') posts++;
      return real(new URL(path.replace(id, made.id), other.address), init);
    });
    sync.push(named('Ebb', 'Flood'));
    await vi.waitFor(() => expect(said.states.at(-1)).toBe('behind'));
    sync.push(named('Flood', 'Slack'));
    await sync.kept;
    expect(posts).toBe(1);
    expect(await unsentOf(id)).toHaveLength(2);
    sync.close();
    vi.stubGlobal('fetch', (path: string, init?: RequestInit) => real(new URL(path, server.address), init));
    await other.remove();
  });
  it('with as many changes but other ones is taken for what it is, too', async () => {
    const sync = await syncOf();
    sync.push(named('Low Water', 'Ebb'));
    await vi.waitFor(() => expect(sync.revision).toBe(1));
    // A backup was put back, and another window has gone on from there: also one change, but not this one.
    const other = await api.createEmpty('Low Water');
    await api.change(other.id, 0, named('Low Water', 'Flood'), crypto.randomUUID());
    vi.stubGlobal('fetch', (path: string, init?: RequestInit) => real(new URL(path.replace(id, other.id), server.address), init));
    Socket.last?.dispatchEvent(new Event('open'));
    await vi.waitFor(() => expect(said.states.at(-1)).toBe('behind'));
    expect(sync.document.name).toBe('Ebb');
    sync.close();
    vi.stubGlobal('fetch', (path: string, init?: RequestInit) => real(new URL(path, server.address), init));
  });
  it('where the project was removed says so, and goes on when it is brought back', async () => {
    const sync = await syncOf();
    await api.remove(id);
    sync.push(named('Low Water', 'Ebb'));
    await vi.waitFor(() => expect(said.states.at(-1)).toBe('removed'));
    expect(said.aside).toEqual([]);
    await api.restore(id);
    Socket.last?.dispatchEvent(Object.assign(new Event('message'), { data: '{"removed":false}' }));
    await vi.waitFor(() => expect(sync.revision).toBe(1));
    expect((await kept()).name).toBe('Ebb');
  });
  it('says so, too, where it was removed while this window heard nothing', async () => {
    await syncOf();
    await api.remove(id);
    Socket.last?.dispatchEvent(new Event('open'));
    await vi.waitFor(() => expect(said.states.at(-1)).toBe('removed'));
    await api.restore(id);
    Socket.last?.dispatchEvent(new Event('open'));
    await vi.waitFor(() => expect(said.states.at(-1)).toBe('saved'));
  });
  it('whose disk is full keeps changes waiting here, and gets them once there is room', async () => {
    let full = true;
    const answer = () =>
      new Response(JSON.stringify({ status: 507, title: 'storage', detail: 'full' }), {
        status: 507,
        headers: { 'content-type': 'application/problem+json' },
      });
    vi.stubGlobal('fetch', async (path: string, init?: RequestInit) =>
      full && isChange(path, init) ? answer() : real(new URL(path, server.address), init),
    );
    const sync = await syncOf();
    sync.push(named('Low Water', 'Ebb'));
    await vi.waitFor(() => expect(said.states).toContain('full'));
    expect((await kept()).name).toBe('Low Water');
    full = false;
    await vi.waitFor(() => expect(sync.revision).toBe(1), { timeout: 5000 });
    expect(said.aside).toEqual([]);
  });
});
