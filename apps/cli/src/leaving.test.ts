/** What leaves by the command line: exports, contracts compared, proof frames and what a port made of them. */
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { cpSync, existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath, pathToFileURL } from 'node:url';
import type { Contract, Proof } from '@foreshore/handoff';
import { marksOf, withMarks } from '@foreshore/level/marks';
import type * as Built from '@foreshore/runtime';
import { unzipSync } from 'fflate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

const BIN = fileURLToPath(new URL('../bin/foreshore.mjs', import.meta.url));
const DEMO = fileURLToPath(new URL('../../../demo/low-water.json', import.meta.url));
let folder: string;
let first: string;
const run = (...args: string[]) => {
  const { status, stdout, stderr } = spawnSync(process.execPath, [BIN, ...args], { encoding: 'utf8', maxBuffer: 64e6 });
  return { status, stdout, stderr };
};
const at = (...names: string[]) => join(folder, ...names);
const json = (...names: string[]) => JSON.parse(readFileSync(at(...names), 'utf8'));
/** The demo, copied with its files, and edited. */
function edited(name: string, edit: (document: Record<string, never> & Record<string, Record<string, never>>) => void): string {
  mkdirSync(at(name));
  cpSync(join(dirname(DEMO), 'pictures'), at(name, 'pictures'), { recursive: true });
  cpSync(join(dirname(DEMO), 'low-water.glb'), at(name, 'low-water.glb'));
  const document = JSON.parse(readFileSync(DEMO, 'utf8'));
  edit(document);
  writeFileSync(at(name, 'low-water.json'), JSON.stringify(document));
  return at(name, 'low-water.json');
}
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'foreshore-leaving-'));
  first = at('first');
  expect(run('export', DEMO, '--to', first).status).toBe(0);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('foreshore export', () => {
  it('writes what its manifest says, byte for byte, and the same again', () => {
    const manifest = json('first', 'manifest.json') as { files: { name: string; bytes: number; sha256: string }[] };
    for (const { name, bytes, sha256 } of manifest.files) {
      const file = readFileSync(join(first, name));
      expect(file.byteLength).toBe(bytes);
      expect(createHash('sha256').update(file).digest('hex')).toBe(sha256);
    }
    expect(manifest.files.map(({ name }) => name)).toContain('bundle.json');
    expect(run('export', DEMO, '--to', at('again.zip')).status).toBe(0);
    const before = readFileSync(at('again.zip'));
    expect(run('export', DEMO, '--to', at('again.zip')).status).toBe(0);
    expect(readFileSync(at('again.zip')).equals(before)).toBe(true);
    const archive = unzipSync(new Uint8Array(before));
    for (const name of Object.keys(archive))
      expect(Buffer.from(archive[name] as Uint8Array).equals(readFileSync(join(first, name)))).toBe(true);
    // Nothing is left beside them.
    expect(readdirSync(folder).sort()).toEqual(['again.zip', 'first']);
  });

  it('takes only what is asked for, with what that uses', () => {
    expect(run('export', DEMO, '--to', at('some'), '--elements', 'vitals,prompt-wheel', '--viewers', 'desk').status).toBe(0);
    const contract = json('some', 'contract.json') as Contract;
    expect(contract.feeds.map(({ id }) => id)).toContain('warmth');
    expect(contract.feeds.map(({ id }) => id)).not.toContain('samples');
    expect(contract.actions.map(({ id }) => id)).toEqual(['turn']);
    expect(Object.keys(json('some', 'bundle.json').document.viewers)).toEqual(['desk']);
  });

  it('cuts fonts to the letters that are used where that is asked for, and says so in the manifest', () => {
    expect(run('export', DEMO, '--to', at('used'), '--used-letters').status).toBe(0);
    const fonts = (of: string) =>
      (json(of, 'manifest.json') as { files: { name: string; bytes: number }[] }).files.filter(({ name }) => name.startsWith('fonts/'));
    const bytes = (of: string) => fonts(of).reduce((sum, one) => sum + one.bytes, 0);
    expect(fonts('used').map(({ name }) => name)).toEqual(fonts('first').map(({ name }) => name));
    expect(bytes('used')).toBeLessThan(bytes('first') / 2);
    expect([json('first', 'manifest.json').letters, json('used', 'manifest.json').letters]).toEqual(['all', 'used']);
    rmSync(at('used'), { recursive: true });
  });

  it('brings the runtime along where that is asked for: what leaves plays by itself', async () => {
    expect(run('export', DEMO, '--to', at('playable'), '--elements', 'vitals', '--viewers', 'desk', '--with-runtime').status).toBe(0);
    const bundle = json('playable', 'bundle.json') as Built.Bundle;
    const modules = readdirSync(at('playable', 'runtime'));
    const addOns = ['boxes', 'canvas', 'connect', 'letters', 'level', 'runtime', 'use', 'whole'];
    expect(modules.sort()).toEqual([...[...addOns, ...bundle.needs].map((name) => `foreshore-${name}.js`), 'harfbuzz.wasm'].sort());
    const load = (name: string) => import(/* @vite-ignore */ pathToFileURL(at('playable', 'runtime', `foreshore-${name}.js`)).href);
    const { Runtime } = (await load('runtime')) as typeof Built;
    const parts = await Promise.all(bundle.needs.map(async (name) => (await load(name))[name]));
    const letters = await (await load('letters')).lettersOf(bundle, async (file: string) => readFileSync(at('playable', file)));
    const game = new Runtime(bundle, { letters, parts });
    game.set('warmth', 40);
    game.setPhase('roaming');
    game.frame({ timeS: 0, pose: { position: [0, 1.7, 0], rotation: [0, 0, 0, 1] } });
    expect(game.lines(game.row('warmth-value'))?.lines[0]?.text).toBe('40 %');
    rmSync(at('playable'), { recursive: true });
  }, 120_000);

  it('names by name what is not there, before anything is written', () => {
    const faulty = run('export', DEMO, '--to', at('faulty'), '--elements', 'vitals,lantern');
    expect(faulty).toMatchObject({ status: 1 });
    expect(faulty.stderr).toContain('There is no element "lantern".');
    expect(run('export', DEMO, '--to', at('faulty'), '--elements', 'warmth-value').stderr).toContain(
      'is inside of "warmth-line"; name that.',
    );
    const lost = edited('lost', () => {});
    const picture = readdirSync(at('lost', 'pictures'))[0] as string;
    rmSync(at('lost', 'pictures', picture));
    const without = run('export', lost, '--to', at('faulty'));
    expect(without).toMatchObject({ status: 1 });
    expect(without.stderr).toMatch(/The picture ".+" is not there/);
    expect(existsSync(at('faulty'))).toBe(false);
  });

  it('writes over nothing but an export, and reads a convention with its faults', () => {
    mkdirSync(at('mine'));
    writeFileSync(at('mine', 'notes.txt'), 'mine');
    expect(run('export', DEMO, '--to', at('mine'))).toMatchObject({ status: 2 });
    expect(readdirSync(at('mine'))).toEqual(['notes.txt']);
    writeFileSync(at('axes.json'), JSON.stringify({ name: 'Ours', right: '+x' }));
    const faulty = run('export', DEMO, '--to', at('faulty'), '--convention', at('axes.json'));
    expect(faulty).toMatchObject({ status: 1 });
    expect(faulty.stderr).toContain('/up');
    expect(existsSync(at('faulty'))).toBe(false);
  });

  it('the sheet says places in the other world: centimetres, Z up, by hand', () => {
    const theirs = {
      ...{ name: 'Theirs', right: '+y', up: '+z', forward: '+x', unitsPerMetre: 100, fov: 'horizontal', angles: 'degrees' },
      ...{ quaternion: 'xyzw', screenOrigin: 'topLeft', screenY: 'down' },
    };
    writeFileSync(at('theirs.json'), JSON.stringify(theirs));
    expect(run('export', DEMO, '--to', at('theirs'), '--convention', at('theirs.json'), '--elements', 'lamp-mast').status).toBe(0);
    const rows = json('first', 'sheet.json').rows as { id: string; place: [number, number, number] }[];
    const [x, y, z] = rows.find(({ id }) => id === 'lamp-mast')?.place ?? [0, 0, 0];
    const [row] = json('theirs', 'sheet.json').rows as { place: number[] }[];
    // Ahead is our −z, to the right our x, up our y.
    [-z * 100, x * 100, y * 100].forEach((v, k) => {
      expect(row?.place[k]).toBeCloseTo(v, 6);
    });
    expect(readFileSync(at('theirs', 'sheet.html'), 'utf8')).toContain('Left-handed: +y to the right, +z up, +x ahead; lengths in cm');
  });
});

describe('foreshore contract', () => {
  it('says what a game must change: a feed renamed, another kind, an action gone', () => {
    expect(run('contract', first, first)).toMatchObject({ status: 0 });
    const other = edited('other', (document) => {
      const { feeds } = document as unknown as { feeds: Record<string, { name: string; range?: unknown; unit: string }> };
      (feeds.tide as { unit: string }).unit = 'cm';
      (feeds.clockS as { range: unknown }).range = [0, 600];
    });
    expect(run('export', other, '--to', at('second')).status).toBe(0);
    const { status, stdout } = run('contract', first, at('second'));
    expect(status).toBe(1);
    expect(stdout).toContain('must change: feed tide was in m, is in cm.');
    expect(stdout).toContain('may use: feed clockS ran over 0 to 240, runs over 0 to 600.');
    expect(run('contract', first, at('mine'))).toMatchObject({ status: 2 });
    writeFileSync(at('empty.json'), '{}');
    expect(run('contract', first, at('empty.json'))).toMatchObject({ status: 2, stderr: expect.stringContaining('holds no contract') });
  });
});

describe('foreshore prove', () => {
  it('gives frames; what a port made of them is judged from JSON and from CSV, and a fault is named', () => {
    const made = run('prove', DEMO, '--export', at('proof'));
    expect(made).toMatchObject({ status: 0 });
    expect(made.stdout).toMatch(/holds \d+ frames with \d+ points/);
    const proof = json('proof', 'proof.json') as Proof;
    // The proof's own results are results.
    expect(run('prove', at('proof', 'proof.json'), '--against', at('proof', 'proof.csv'))).toMatchObject({ status: 0 });
    const flipped = {
      frames: proof.frames.map(({ id, points, screen }) => ({
        id,
        points: Object.fromEntries(
          Object.entries(points).map(([name, p]) => [name, { x: p.x, y: p.y === null ? null : screen.heightPx - p.y, depth: p.depth }]),
        ),
      })),
    };
    writeFileSync(at('flipped.json'), JSON.stringify(flipped));
    const told = run('prove', at('proof', 'proof.json'), '--against', at('flipped.json'));
    expect(told.status).toBe(1);
    expect(told.stdout).toContain('y runs the other way on the screen.');
    expect(told.stdout).toMatch(/^First: frame-01, /m);
    expect(JSON.parse(run('prove', at('proof', 'proof.json'), '--against', at('flipped.json'), '--json').stdout)).toMatchObject({
      fault: 'yFlipped',
    });
  });

  it('says what is wrong with what it is given', () => {
    const proof = at('proof', 'proof.json');
    expect(run('prove', proof)).toMatchObject({ status: 2, stderr: expect.stringContaining('--export') });
    writeFileSync(at('half.json'), JSON.stringify({ ...json('proof', 'proof.json'), frames: [{ id: 'frame-01' }] }));
    expect(run('prove', at('half.json'), '--against', proof)).toMatchObject({ status: 2, stderr: expect.stringContaining('is not whole') });
    writeFileSync(at('no.json'), '{"frames": [{"id": 3}]}');
    expect(run('prove', proof, '--against', at('no.json'))).toMatchObject({ status: 2, stderr: expect.stringContaining('/frames/0/id') });
    writeFileSync(at('no.csv'), 'frame,point,x\n');
    expect(run('prove', proof, '--against', at('no.csv'))).toMatchObject({ status: 2, stderr: expect.stringContaining('no column "y"') });
    writeFileSync(at('bad.csv'), 'frame,point,x,y\nframe-01,lamp,1,up\n');
    expect(run('prove', proof, '--against', at('bad.csv'))).toMatchObject({ status: 2, stderr: expect.stringContaining('Line 2') });
    expect(run('prove', proof, '--against', at('nowhere.json'))).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('is not there'),
    });
  });
});

describe('foreshore anchors', () => {
  it('reads back what an export put into the level, and writes the project with what was moved', () => {
    const level = at('anchors.glb');
    expect(run('export', DEMO, '--to', level)).toMatchObject({ status: 0, stdout: expect.stringContaining('the level with its anchors') });
    expect(run('anchors', DEMO, level)).toMatchObject({ status: 0, stdout: expect.stringContaining('all as they are in the project') });
    const bytes = new Uint8Array(readFileSync(level));
    const marks = marksOf(bytes).map((mark) =>
      mark.name === 'anchor Lamp mast' ? { ...mark, translation: mark.translation.map((v, k) => v + (k === 1 ? 2 : 0)) as never } : mark,
    );
    writeFileSync(at('moved.glb'), withMarks(bytes, marks));
    const told = run('anchors', DEMO, at('moved.glb'), '--to', at('moved.json'));
    expect(told).toMatchObject({ status: 0, stdout: expect.stringContaining('Lamp mast: moved by 2 m') });
    const [before, after] = [JSON.parse(readFileSync(DEMO, 'utf8')), json('moved.json')];
    const mast = Object.keys(before.anchors).find((id) => before.anchors[id].name === 'Lamp mast') as string;
    expect(after.anchors[mast]).not.toEqual(before.anchors[mast]);
    expect({ ...after, anchors: null }).toEqual({ ...before, anchors: null });
    expect(Object.keys(JSON.parse(run('anchors', DEMO, level, '--json').stdout))).toEqual(['changes', 'found', 'missing', 'faults']);
  });

  it('says what is wrong with what it is given', () => {
    const level = at('anchors.glb');
    expect(run('export', DEMO, '--to', at('no.glb'), '--with-level')).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('--with-level'),
    });
    expect(run('anchors', DEMO, DEMO)).toMatchObject({ status: 1, stderr: expect.stringContaining('is not a glTF binary') });
    expect(run('anchors', DEMO, level, '--to', at('no.zip'))).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('not of one form'),
    });
    writeFileSync(at('bare.json'), JSON.stringify({ ...JSON.parse(readFileSync(DEMO, 'utf8')), level: null }));
    expect(run('export', at('bare.json'), '--to', at('no.glb'))).toMatchObject({
      status: 1,
      stderr: expect.stringContaining('has no level'),
    });
    expect(existsSync(at('no.glb'))).toBe(false);
  });
});
