/** The queue of unsent changes against the real server: conflicts, answers out of order, a lost connection, a closed tab. */
import type { Change, Document, Patch } from '@foreshore/document';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it, vi } from 'vitest';
import { startTestServer } from '../../../server/src/test-server.ts';
import { api } from './api.ts';
import { Sync } from './sync.ts';

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

let server: Awaited<ReturnType<typeof startTestServer>>;
const stored = new Map<string, string>();
/** What is done with a request before it goes to the server, and with its answer before it comes back. */
let before: (path: string, init?: RequestInit) => Promise<void> | void = () => {};
let after: (path: string, init?: RequestInit) => Promise<void> | void = () => {};
const real = globalThis.fetch;

beforeAll(async () => {
  server = await startTestServer();
  vi.stubGlobal('window', { location: { href: server.address }, addEventListener: () => {}, removeEventListener: () => {} });
  vi.stubGlobal('WebSocket', Socket);
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => stored.get(key) ?? null,
    setItem: (key: string, value: string) => stored.set(key, value),
    removeItem: (key: string) => stored.delete(key),
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
  stored.clear();
  ({ id } = await api.createEmpty('Low Water'));
  said = { aside: [], states: [] };
  open = [];
});
afterEach(() => {
  for (const one of open) one.close();
});

const syncOf = async (): Promise<Sync> => {
  const { revision, document } = await api.open(id);
  const sync = new Sync(
    id,
    { revision, document },
    {
      changed: () => {},
      state: (state) => said.states.push(state),
      setAside: (_, why) => said.aside.push(why),
    },
  );
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
    expect(stored.size).toBe(0);
    expect(said.aside).toEqual([]);
  });

  it('outlive a lost connection and a closed tab, and are sent by the next', async () => {
    before = (path, init) => {
      if (isChange(path, init)) throw new TypeError('no network');
    };
    const first = await syncOf();
    first.push(named('Low Water', 'Ebb'));
    await vi.waitFor(() => expect(said.states).toContain('offline'));
    first.close();
    expect((await kept()).name).toBe('Low Water');
    before = () => {};
    const second = await syncOf();
    expect(second.document.name).toBe('Ebb');
    await vi.waitFor(() => expect(second.revision).toBe(1));
    expect((await kept()).name).toBe('Ebb');
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
