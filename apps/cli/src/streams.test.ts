/** What is around the command: pipes that close, folders and devices in place of files, and input without end. */
import { spawn, spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { makeDocument, writeProjectFile } from '@foreshore/document';
import { PNG } from 'pngjs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { program } from '../../../scripts/house.mjs';

const cli = program('cli');
let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'foreshore-streams-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));
const LENS = '{"fovDeg":90,"width":1000,"height":500,"nearM":0.1}';
const PROJECT = ['project', '--lens', LENS, '--pose', '0,0,0,0,0,0,1', '--points'];
const shell = (line: string, ...args: string[]) => spawnSync('bash', ['-c', line, process.execPath, cli, ...args], { encoding: 'utf8' });
const run = (...args: string[]) => spawnSync(process.execPath, [cli, ...args], { encoding: 'utf8' });
const noStack = (text: string) => expect(text).not.toMatch(/\n\s+at .*:\d+:\d+/);

describe('the command', () => {
  it('ends quietly where whoever reads it has read enough', () => {
    const file = join(folder, 'many.csv');
    writeFileSync(file, `x,y,z\n${'1,2,-3\n'.repeat(200_000)}`);
    const { stdout, stderr } = shell('"$0" "$@" | head -n 1; echo "status $PIPESTATUS"', ...PROJECT, file);
    expect(stdout).toBe('x,y,depthM,inFront,inFrame\nstatus 0\n');
    expect(stderr).toBe('');
  });
  it('says so where the device is full', () => {
    const file = join(folder, 'few.csv');
    writeFileSync(file, 'x,y,z\n1,2,-3\n');
    const { status, stderr } = shell('"$0" "$@" > /dev/full', ...PROJECT, file);
    expect([status, stderr]).toEqual([1, 'standard output: the device is full.\n']);
  });
  it.each<[string, string[], number, RegExp]>([
    ['a folder for points', [...PROJECT, '.'], 2, /--points: EISDIR/],
    ['a folder to validate', ['validate', '.'], 1, /is a folder/],
    ['a file that is not there', ['validate', '/nowhere/a.json'], 1, /is not there/],
    ['an empty time', ['solve', 'x.json', '--viewer', 'desk', '--route', 'a', '--at', '', '--json'], 2, /--at takes seconds/],
    ['a data folder that is none', ['backup', '/tmp/none', '--data', '/nowhere'], 1, /holds no Foreshore projects/],
  ])('names %s and leaves no stack', (_, args, wanted, words) => {
    const { status, stdout, stderr } = run(...args);
    expect([status, stdout]).toEqual([wanted, '']);
    expect(stderr).toMatch(words);
    noStack(stderr);
  });
  it('names a file that may not be read', () => {
    const file = join(folder, 'closed.json');
    writeFileSync(file, '{}');
    chmodSync(file, 0);
    // Whoever may read everything reads this, too, and finds that it is no document.
    const { status, stdout, stderr } = run('validate', file);
    expect(status).toBe(1);
    expect(stdout + stderr).toMatch(/may not be read|format/);
    noStack(stderr);
  });
  it('takes a million rows in little memory, and 60,000 empty lines at once', async () => {
    const file = join(folder, 'million.csv');
    writeFileSync(file, `x,y,z\n${'1.25,2.5,-3\n'.repeat(1_000_000)}`);
    // A heap of 64 MB: the rows as texts would not fit.
    const child = spawn(process.execPath, ['--max-old-space-size=64', cli, ...PROJECT, file], { stdio: ['ignore', 'pipe', 'inherit'] });
    let lines = 0;
    child.stdout.on('data', (data: Buffer) => {
      for (const byte of data) if (byte === 10) lines++;
    });
    const status = await new Promise((resolve) => child.once('exit', resolve));
    expect([status, lines]).toEqual([0, 1_000_001]);
    const empty = join(folder, 'empty.csv');
    writeFileSync(empty, `x,y,z\n1,2,-3\n${'\n'.repeat(60_000)}`);
    expect(run(...PROJECT, empty).status).toBe(0);
    writeFileSync(empty, `x,y,z\n${'\n'.repeat(60_000)}1,2,-3\n`);
    expect(run(...PROJECT, empty)).toMatchObject({ status: 2, stderr: 'line 2: is empty\n' });
  });
  it('refuses to validate what would be refused at import: bytes of a picture, their hash, that of the level', () => {
    const bytes = new Uint8Array(PNG.sync.write(new PNG({ width: 4, height: 4 })));
    const said = (hash: string, given: Uint8Array) => {
      const d = makeDocument('Low Water');
      d.pictures = { lamp: { name: 'Lamp', order: 'a0', hash, type: 'image/png', widthPx: 4, heightPx: 4 } };
      const file = join(folder, 'a.foreshore.zip');
      writeFileSync(file, writeProjectFile({ document: d, level: null, fonts: {}, pictures: { [hash]: given } }));
      return run('validate', file);
    };
    expect(said('0'.repeat(64), bytes)).toMatchObject({
      status: 1,
      stdout: '/pictures/lamp/hash: is not the hash of the bytes in the archive\n',
    });
    expect(said('1'.repeat(64), bytes.subarray(0, 40)).stdout).toMatch(/^\/pictures\/lamp: the picture "Lamp" .*breaks off/);
  });
});
