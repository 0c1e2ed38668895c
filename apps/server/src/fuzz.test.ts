/**
 * Every door is tried with sound input that was spoilt at random, with a fixed seed: none is an error of the server, none takes longer
 * than five seconds, and the server is there afterwards. FORESHORE_FUZZ asks for more cases.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { connect } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { demo } from '@foreshore/demo';
import { type Document, makeDocument, writeProjectFile } from '@foreshore/document';
import { zipSync } from 'fflate';
import { PNG } from 'pngjs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { addBox, newLevel, toBinary } from '../../../packages/level/src/sample.ts';
import { program, root } from '../../../scripts/house.mjs';
import { callAt, makeEmptyAt, startTestServer, type TestServer } from './test-server.ts';

const CASES = Number(process.env.FORESHORE_FUZZ ?? 2000);
const MOST_MS = 5000;

/** Numbers from 0 to 1 by a seed: a multiplicative congruential generator (Park and Miller, 1988). */
class Dice {
  private state: number;
  constructor(seed: number) {
    this.state = seed;
  }
  next(): number {
    this.state = (this.state * 48271) % 2147483647;
    return this.state / 2147483647;
  }
  below(n: number): number {
    return Math.floor(this.next() * n);
  }
  of<T>(list: readonly T[]): T {
    return list[this.below(list.length)] as T;
  }
}

const ODD_BYTES = [0, 1, 0x7f, 0x80, 0xff, 0x0a, 0x20, 0x22, 0x3c, 0x5b, 0x7b];
/** Some bytes replaced, a stretch taken out, doubled or cut off, a number made enormous. */
function spoilBytes(dice: Dice, bytes: Uint8Array): Uint8Array {
  let out = Uint8Array.from(bytes);
  for (let k = 1 + dice.below(6); k > 0; k--) {
    const at = dice.below(Math.max(1, out.length));
    const way = dice.below(6);
    if (way === 0) out[at] = dice.below(256);
    else if (way === 1) out[at] = dice.of(ODD_BYTES);
    else if (way === 2) out = out.slice(0, at);
    else if (way === 3) out = Uint8Array.from([...out.subarray(0, at), ...out.subarray(at + 1 + dice.below(40))]);
    else if (way === 4) out = Uint8Array.from([...out.subarray(0, at), ...out.subarray(at, at + dice.below(200)), ...out.subarray(at)]);
    else if (at + 4 <= out.length)
      new DataView(out.buffer).setUint32(at, dice.of([0, 1, 0x7fffffff, 0xffffffff, 0x40000000]), dice.below(2) === 0);
  }
  return out;
}

const ODD_VALUES: unknown[] = [
  null,
  true,
  -1,
  0,
  1e308,
  5,
  '',
  'x',
  [],
  {},
  [[]],
  { kind: 'label' },
  { __proto__: null },
  'a'.repeat(5000),
  -0,
  0.1,
  '\u0000',
  '\\',
  '../..',
];
/** One value of a tree of JSON replaced by an odd one, or a key added or taken out. */
function spoilJson(dice: Dice, value: unknown): unknown {
  const copy = structuredClone(value) as unknown;
  const places: [Record<string, unknown>, string][] = [];
  const walk = (at: unknown): void => {
    if (typeof at !== 'object' || at === null) return;
    for (const key of Object.keys(at)) {
      places.push([at as Record<string, unknown>, key]);
      walk((at as Record<string, unknown>)[key]);
    }
  };
  walk(copy);
  for (let k = 1 + dice.below(3); k > 0 && places.length; k--) {
    const [owner, key] = dice.of(places);
    const way = dice.below(4);
    if (way === 0) delete owner[key];
    else if (way === 1) owner[dice.of(['x', 'kind', 'constructor', 'id', '0'])] = dice.of(ODD_VALUES);
    else if (way === 2) owner[key] = Array.from({ length: dice.below(400) }, () => owner[key]);
    else owner[key] = dice.of(ODD_VALUES);
  }
  return copy;
}

let at: TestServer;
let project: { id: string; document: Document };
let folder: string;
const seeds: Record<string, Uint8Array> = {};
beforeAll(async () => {
  at = await startTestServer();
  project = await makeEmptyAt(at, 'Fuzz');
  folder = mkdtempSync(join(tmpdir(), 'foreshore-fuzz-'));
  const level = newLevel();
  const quay = addBox(level, 'Quay', 5, [0, -5, 0]);
  addBox(level, 'Crate', 1, [0, 1, 0], quay);
  seeds.level = await toBinary(level);
  const png = new PNG({ width: 24, height: 16 });
  seeds.png = new Uint8Array(PNG.sync.write(png));
  seeds.jpeg = new Uint8Array(demo.shelf());
  seeds.svg = new TextEncoder().encode(
    '<?xml version="1.0"?><svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 40 30"><defs><g id="a"><rect width="4" height="4" fill="url(#b)"/></g></defs><use href="#a"/><style>rect{fill:#123}</style></svg>',
  );
  const webp = new Uint8Array(40);
  webp.set(new TextEncoder().encode('RIFF'), 0);
  new DataView(webp.buffer).setUint32(4, 32, true);
  webp.set(new TextEncoder().encode('WEBPVP8L'), 8);
  webp[20] = 0x2f;
  seeds.webp = webp;
  seeds.font = new Uint8Array(
    readFileSync(join(root, 'node_modules/@fontsource/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-400-normal.woff')),
  );
  seeds.font2 = new Uint8Array(
    readFileSync(join(root, 'node_modules/@fontsource/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-400-normal.woff2')),
  );
  const whole = { ...makeDocument('Whole'), level: { file: 'quay.glb', hash: null, metresPerUnit: 1, upAxis: 'y' as const } };
  seeds.project = writeProjectFile({ document: whole, level: seeds.level, fonts: {}, pictures: {} });
});
afterAll(async () => {
  rmSync(folder, { recursive: true, force: true });
  await at.remove();
});

const post = (path: string, body: BodyInit, type: string) =>
  fetch(new URL(path, at.address), { method: 'POST', headers: { 'content-type': type }, body });
const postBytes = (path: string, bytes: Uint8Array) => post(path, bytes as BodyInit, 'application/octet-stream');
const postJson = (path: string, value: unknown) => post(path, JSON.stringify(value) ?? 'x', 'application/json');

type Door = (dice: Dice) => Promise<Response | null>;
const DOORS: Record<string, Door> = {
  document: (dice) =>
    postJson('/api/projects', { from: 'document', document: spoilJson(dice, dice.below(5) === 0 ? demo.document() : project.document) }),
  'document as text': (dice) =>
    post(
      '/api/projects',
      spoilBytes(dice, new TextEncoder().encode(JSON.stringify({ from: 'document', document: project.document }))) as BodyInit,
      'application/json',
    ),
  patch: (dice) => {
    const path = dice.of([
      '/name',
      '/body/radiusM',
      '/elements/a',
      '/viewers/desk',
      '/viewers/desk/lens/fovDeg',
      '/anchors/a/position/9',
      '',
      '/',
      '//',
      '/elements/a/b/c',
    ]);
    const patch = Array.from({ length: 1 + dice.below(3) }, () => ({
      op: dice.of(['add', 'replace', 'remove', 'test', 'move']),
      path,
      value: dice.of(ODD_VALUES),
    }));
    return postJson(
      `/api/projects/${project.id}/changes`,
      spoilJson(dice, { base: dice.of([0, 0, 1, -1]), patch, changeId: `c${dice.next()}`, clientId: 'f' }),
    );
  },
  'project file': (dice) => postBytes('/api/projects/import', spoilBytes(dice, seeds.project as Uint8Array)),
  'project file with a spoilt document': (dice) =>
    postBytes(
      '/api/projects/import',
      zipSync({ 'document.json': new TextEncoder().encode(JSON.stringify(spoilJson(dice, project.document))) }),
    ),
  svg: (dice) => postBytes('/api/pictures?name=a.svg', spoilBytes(dice, seeds.svg as Uint8Array)),
  png: (dice) => postBytes('/api/pictures?name=a.png', spoilBytes(dice, seeds.png as Uint8Array)),
  jpeg: (dice) => postBytes('/api/pictures?name=a.jpg', spoilBytes(dice, seeds.jpeg as Uint8Array)),
  webp: (dice) => postBytes('/api/pictures?name=a.webp', spoilBytes(dice, seeds.webp as Uint8Array)),
  font: (dice) => postBytes('/api/fonts?name=a', spoilBytes(dice, seeds[dice.of(['font', 'font2'])] as Uint8Array)),
  glTF: (dice) => postBytes('/api/levels?name=a.glb', spoilBytes(dice, seeds.level as Uint8Array)),
  'glTF with spoilt JSON': (dice) => {
    const bytes = seeds.level as Uint8Array;
    const view = new DataView(bytes.buffer, bytes.byteOffset);
    const length = view.getUint32(12, true);
    const json = new TextEncoder().encode(
      JSON.stringify(spoilJson(dice, JSON.parse(new TextDecoder().decode(bytes.subarray(20, 20 + length))))),
    );
    const padded = new Uint8Array((json.length + 3) & ~3).fill(0x20);
    padded.set(json);
    const rest = bytes.subarray(20 + length);
    const out = new Uint8Array(20 + padded.length + rest.length);
    out.set(bytes.subarray(0, 20));
    out.set(padded, 20);
    out.set(rest, 20 + padded.length);
    const to = new DataView(out.buffer);
    to.setUint32(8, out.length, true);
    to.setUint32(12, padded.length, true);
    return postBytes('/api/levels?name=a.glb', out);
  },
  address: (dice) => {
    const letters = ['%', '/', '..', '%00', '%2e', '\\', ' ', 'projects', '?', '&', 'since=', '-1', 'é', '1e9'];
    const path = Array.from({ length: 1 + dice.below(6) }, () => dice.of(letters)).join('');
    return fetch(`${at.address}api/${path}`).catch(() => null);
  },
  'live line': async (dice) => {
    const head = `GET ${dice.of(['/api/live?project=', '/api/games?project=', '/api/game?project=', '/', '//', '/api/live', '/api/live?project=%'])}${dice.of([project.id, '', 'x'])} HTTP/1.1\r\nHost: 127.0.0.1\r\nConnection: Upgrade\r\nUpgrade: websocket\r\nSec-WebSocket-Version: ${dice.of(['13', '8', 'x'])}\r\nSec-WebSocket-Key: dGhlIHNhbXBsZSBub25jZQ==\r\n\r\n`;
    const frames = Uint8Array.from({ length: dice.below(300) }, () => dice.below(256));
    await new Promise<void>((resolve) => {
      const socket = connect(Number(new URL(at.address).port), '127.0.0.1', () => {
        socket.write(spoilBytes(dice, new TextEncoder().encode(head)).length % 2 ? head : head.slice(0, -dice.below(20) || undefined));
        socket.write(frames);
        setImmediate(() => (dice.below(2) ? socket.resetAndDestroy() : socket.end()));
      });
      socket.on('error', () => {});
      socket.on('close', () => resolve());
      socket.setTimeout(60, () => socket.destroy());
    });
    return null;
  },
};

describe('spoilt input at every door of the server', () => {
  const names = Object.keys(DOORS);
  const each = Math.ceil(CASES / names.length);
  it.each(names)(`%s, ${each} times`, { timeout: 60_000 + each * 100 }, async (name) => {
    const dice = new Dice(1 + names.indexOf(name) * 7919);
    const taken = { refused: 0, taken: 0, slowestMs: 0 };
    for (let k = 0; k < each; k++) {
      const before = performance.now();
      const answer = await (DOORS[name] as Door)(dice);
      const text = (await answer?.text()) ?? '';
      taken.slowestMs = Math.max(taken.slowestMs, performance.now() - before);
      if (!answer) continue;
      expect(answer.status, `${name}, case ${k}: ${text.slice(0, 300)}`).toBeLessThan(500);
      expect(text).not.toMatch(/\n\s+at .*\.(m?js|ts):\d+/);
      if (answer.status >= 400) {
        taken.refused++;
        expect(answer.headers.get('content-type')).toMatch(/^application\/problem\+json/);
      } else taken.taken++;
    }
    expect(taken.slowestMs).toBeLessThan(MOST_MS);
    expect((await fetch(new URL('/healthz', at.address))).status).toBe(200);
  });
  it('leaves every project that was taken readable', async () => {
    const { projects } = (await callAt(at, 'GET', '/api/projects')).body as { projects: { id: string; unreadable?: object }[] };
    expect(projects.filter(({ unreadable }) => unreadable)).toEqual([]);
  });
});

describe('spoilt input on the command line', () => {
  const cli = program('cli');
  const run = (args: string[], input = '') => spawnSync(process.execPath, [cli, ...args], { input, encoding: 'utf8', timeout: 20_000 });
  it('ends with a documented status and no stack, for files and for arguments', () => {
    const dice = new Dice(20261126);
    const words = [
      'project',
      'solve',
      'reasons',
      'validate',
      'backup',
      '--lens',
      '{',
      '{"fovDeg":60}',
      '--pose',
      '0,0,0',
      '--at',
      '',
      '-1',
      'x',
      '--points',
      '-',
      folder,
      '/dev/null',
      '--json',
      '--viewer',
      'desk',
      '--svg',
    ];
    for (let k = 0; k < 10; k++) {
      const args = Array.from({ length: 1 + dice.below(7) }, () => dice.of(words));
      const { status, stderr } = run(args, 'x,y,z\n1,2,3\n');
      expect([0, 1, 2], `${args.join(' ')}: ${stderr}`).toContain(status);
      expect(stderr).not.toMatch(/\n\s+at .*:\d+:\d+/);
    }
    for (const [name, seed] of [
      ['a.foreshore.zip', 'project'],
      ['a.glb', 'level'],
      ['a.json', 'svg'],
    ] as const)
      for (let k = 0; k < 2; k++) {
        const file = join(folder, name);
        writeFileSync(file, spoilBytes(dice, seeds[seed] as Uint8Array));
        const { status, stderr } = run(['validate', file]);
        expect([0, 1], stderr).toContain(status);
        expect(stderr).not.toMatch(/\n\s+at .*:\d+:\d+/);
      }
    for (let k = 0; k < 3; k++) {
      const csv = new TextDecoder().decode(spoilBytes(dice, new TextEncoder().encode('x,y,z\n1,2,3\n4,5,6\n')));
      const { status, stderr } = run(
        ['project', '--lens', '{"fovDeg":60,"width":100,"height":100,"nearM":0.1}', '--pose', '0,0,0,0,0,0,1', '--points', '-'],
        csv,
      );
      expect([0, 2], stderr).toContain(status);
    }
  });
});
