import { spawnSync } from 'node:child_process';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { readDocument, writeProjectFile } from '@foreshore/document';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';

const BIN = fileURLToPath(new URL('../bin/foreshore.mjs', import.meta.url));
const DEMO = fileURLToPath(new URL('../../../demo/low-water.json', import.meta.url));
const LEVEL = fileURLToPath(new URL('../../../demo/low-water.glb', import.meta.url));
let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'foreshore-cli-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** The bytes beside the demo's document, by their hash. */
const demoPictures = (): Record<string, Uint8Array> =>
  Object.fromEntries(
    readdirSync(join(dirname(DEMO), 'pictures')).map((name) => [
      name.split('.')[0] as string,
      new Uint8Array(readFileSync(join(dirname(DEMO), 'pictures', name))),
    ]),
  );

const run = (args: string[], input = '') => {
  const { status, stdout, stderr } = spawnSync(process.execPath, [BIN, ...args], { input, encoding: 'utf8' });
  return { status, stdout, stderr };
};
const LENS = '{"fovDeg":90,"width":1000,"height":500,"nearM":0.1}';
const project = (csv: string, lens = LENS, pose = '0,0,0,0,0,0,1') =>
  run(['project', '--lens', lens, '--pose', pose, '--points', '-'], csv);

describe('foreshore project', () => {
  it('gives a row for a row, in order', () => {
    // 90° vertical over 500 px: 250 px for a tangent of 1.
    const { status, stdout } = project('x,y,z\n0,0,-10\n4,2,-10\n0,0,10\n100,0,-10\n0,0,-0.1\n');
    expect(status).toBe(0);
    const [header, ...rows] = stdout.trim().split('\n');
    expect(header).toBe('x,y,depthM,inFront,inFrame');
    const cells = rows.map((r) => r.split(','));
    expect(cells[0]?.slice(2)).toEqual(['10', 'true', 'true']);
    expect(cells[1]?.map(Number).slice(0, 2)).toEqual([expect.closeTo(600, 9), expect.closeTo(200, 9)]);
    expect(cells[2]).toEqual(['', '', '-10', 'false', 'false']);
    expect(cells[3]?.slice(3)).toEqual(['true', 'false']);
    expect(cells[4]).toEqual(['', '', '0.1', 'false', 'false']);
  });
  it('reads a file, and knows the other kinds of lens', () => {
    const file = join(folder, 'points.csv');
    writeFileSync(file, 'x,y,z\r\n1,1,-5\r\n');
    const { stdout } = run([
      'project',
      '--lens',
      '{"kind":"orthographic","halfHeightM":5,"width":1000,"height":500,"nearM":0.1}',
      '--pose',
      '0,0,0,0,0,0,1',
      '--points',
      file,
    ]);
    expect(stdout.split('\n')[1]).toBe('550,200,5,true,true');
  });
  it.each([
    ['a row of two', 'x,y,z\n1,2,3\n4,5\n', /line 3/],
    ['a word', 'x,y,z\n1,tide,3\n', /line 2/],
    ['an infinity', 'x,y,z\n1,2,1e999\n', /line 2/],
    ['another header', 'a,b,c\n1,2,3\n', /line 1/],
  ])('stops at %s, with its line, and writes nothing', (_, csv, message) => {
    const { status, stdout, stderr } = project(csv);
    expect([status, stdout]).toEqual([2, '']);
    expect(stderr).toMatch(message);
  });
  it.each([
    ['a lens that is no JSON', ['project', '--lens', '{', '--pose', '0,0,0,0,0,0,1', '--points', '-']],
    ['a lens of no width', ['project', '--lens', '{"fovDeg":60,"height":5,"nearM":1}', '--pose', '0,0,0,0,0,0,1', '--points', '-']],
    ['a pose of six numbers', ['project', '--lens', LENS, '--pose', '0,0,0,0,0,1', '--points', '-']],
    ['a missing option', ['project', '--lens', LENS]],
    ['an unknown command', ['tide']],
    ['a file that is not there', ['project', '--lens', LENS, '--pose', '0,0,0,0,0,0,1', '--points', '/nowhere/points.csv']],
  ])('exits 2 for %s', (_, args) => {
    const { status, stdout, stderr } = run(args, 'x,y,z\n');
    expect([status, stdout]).toEqual([2, '']);
    expect(stderr.length).toBeGreaterThan(10);
  });
  it.each([[['--help']], [['project', '--help']], [['solve', '--help']], [['validate', '--help']]])('explains itself: %s', (args) => {
    const { status, stdout } = run(args);
    expect(status).toBe(0);
    expect(stdout).toContain('Usage: foreshore');
  });
});

describe('foreshore solve', () => {
  it('solves for either eye of a headset, and for each player of a split screen', () => {
    const of = (viewer: string, ...more: string[]) => {
      const { status, stdout, stderr } = run([
        'solve',
        DEMO,
        '--viewer',
        viewer,
        '--pose',
        '5.25,2.38,6.75,-0.048,0.604,0.036,0.795',
        '--json',
        ...more,
      ]);
      expect(status, stderr).toBe(0);
      return JSON.parse(stdout).elements as { id: string; point: [number, number] | null; rect: number[] | null; depthM: number }[];
    };
    const at = (all: ReturnType<typeof of>, id: string) => all.find((one) => one.id === id);
    const [left, right] = [of('headset', '--eye', 'left'), of('headset', '--eye', 'right')];
    const { headset } = JSON.parse(readFileSync(DEMO, 'utf8')).viewers;
    const tan = (deg: number) => Math.tan((deg * Math.PI) / 180);
    const { leftDeg, rightDeg } = headset.lens;
    const focal = headset.widthPx / (tan(rightDeg) - tan(leftDeg));
    // Of what both see: as far apart as the eyes are, beside what the lenses' own axes are.
    const both = left.filter(({ id, point }) => point && at(right, id)?.point && !id.includes('(')).filter(({ depthM }) => depthM > 1);
    expect(both.length).toBeGreaterThan(20);
    for (const { id, point, depthM } of both) {
      const [a, b] = [point as [number, number], at(right, id)?.point as [number, number]];
      const tangent = (a[0] - -tan(leftDeg) * focal - (b[0] - tan(rightDeg) * focal)) / focal;
      expect(tangent, id).toBeCloseTo(headset.eyeDistanceM / depthM, 6);
    }
    // The HUD of the second player begins at the middle of the screen, without an inset there.
    const [one, two] = [of('couch', '--player', '1'), of('couch', '--player', '2')];
    expect([at(one, 'vitals')?.rect?.[0], at(two, 'vitals')?.rect?.[0]].map((x) => Math.round(x ?? -1))).toEqual([192, 0]);
    for (const wrong of [
      ['--viewer', 'headset', '--eye', 'third'],
      ['--viewer', 'desk', '--eye', 'left'],
      ['--viewer', 'couch', '--player', '3'],
      ['--viewer', 'desk', '--player', '0'],
    ]) {
      const { status, stderr } = run(['solve', DEMO, ...wrong, '--pose', '0,3,0,0,0,0,1', '--json']);
      expect([status, stderr.trim().split('\n').length], wrong.join(' ')).toEqual([2, 1]);
    }
  });

  it('solves the demo on a route, as JSON and as SVG, from the document and from the project file alike', () => {
    const svg = join(folder, 'overlay.svg');
    const args = ['--viewer', 'handheld', '--route', 'out-to-the-lamp', '--at', '6', '--json'];
    const fromDocument = run(['solve', DEMO, ...args, '--svg', svg]);
    expect(fromDocument.status).toBe(0);
    const frame = JSON.parse(fromDocument.stdout);
    expect(frame).toMatchObject({ viewer: 'handheld', timeS: 6, pose: { position: expect.any(Array), rotation: expect.any(Array) } });
    // One that stands at many nodes is there once for each: `stakes@Stake 01` and so on.
    // What is inside of a template stands where its instances are, as `board-oil.instrument-title`.
    const sources = new Set(frame.elements.map((e: { id: string }) => e.id.split(/[@.]/)[0]));
    const pattern = [
      'instrument',
      'instrument-title',
      'instrument-reading',
      'instrument-bar',
      'prompt',
      'prompt-key',
      'prompt-words',
      'prompt-verb',
      'prompt-thing',
    ];
    const written = Object.keys(JSON.parse(readFileSync(DEMO, 'utf8')).elements).filter((id) => !pattern.includes(id));
    expect([...sources].sort()).toEqual(written.sort());
    expect(frame.elements.filter((e: { id: string }) => e.id.endsWith('.instrument-title'))).toHaveLength(2);
    expect(frame.elements.filter((e: { id: string }) => e.id.startsWith('stakes@'))).toHaveLength(40);
    const wheel = frame.elements.find((e: { id: string }) => e.id === 'sluice-1-wheel');
    expect(wheel).toMatchObject({ shown: true, failed: null, opacity: 1 });
    expect(frame.elements.find((e: { id: string }) => e.id === 'pump-house')).toMatchObject({
      shown: false,
      failed: 'view',
      rect: null,
      opacity: 0,
    });
    expect(readFileSync(svg, 'utf8')).toContain('<g id="sluice-1-wheel">');
    const zip = join(folder, 'demo.foreshore.zip');
    writeFileSync(
      zip,
      writeProjectFile({
        document: readDocument(readFileSync(DEMO, 'utf8')),
        level: new Uint8Array(readFileSync(LEVEL)),
        fonts: {},
        pictures: demoPictures(),
      }),
    );
    expect(run(['solve', zip, ...args]).stdout).toBe(fromDocument.stdout);
  });
  it('draws in the language that is asked for, with the pictures in it', () => {
    const svg = join(folder, 'arabic.svg');
    const at = ['--viewer', 'desk', '--route', 'out-to-the-lamp', '--at', '6'];
    expect(run(['solve', DEMO, ...at, '--svg', svg, '--language', 'ar']).status).toBe(0);
    const drawn = readFileSync(svg, 'utf8');
    expect(drawn).toContain('\u0627\u0644\u062f\u0641\u0621');
    expect(drawn).toContain('href="data:image/svg+xml;base64,');
    const wrong = run(['solve', DEMO, ...at, '--svg', svg, '--language', 'nn']);
    expect([wrong.status, wrong.stderr]).toEqual([2, expect.stringContaining('en, de, ar')]);
  });
  it('takes a pose instead of a route', () => {
    const { stdout } = run(['solve', DEMO, '--viewer', 'desk', '--pose', '0,3,0,0,0,0,1', '--json']);
    expect(JSON.parse(stdout).pose.position).toEqual([0, 3, 0]);
  });
  it.each([
    ['an unknown viewer', ['--viewer', 'window', '--pose', '0,0,0,0,0,0,1', '--json'], /there are: desk/],
    ['an unknown route', ['--viewer', 'desk', '--route', 'home', '--at', '1', '--json'], /there are: out-to-the-lamp/],
    ['a time after its end', ['--viewer', 'desk', '--route', 'out-to-the-lamp', '--at', '99', '--json'], /ends at 40 s/],
    ['no camera', ['--viewer', 'desk', '--json'], /--route ID --at SECONDS, or --pose/],
  ])('exits 2 for %s and says what there is', (_, args, message) => {
    const { status, stderr, stdout } = run(['solve', DEMO, ...args]);
    expect([status, stdout]).toEqual([2, '']);
    expect(stderr).toMatch(message);
  });
});

describe('foreshore reasons', () => {
  const { opening } = JSON.parse(readFileSync(DEMO, 'utf8'));
  const pose = [...opening.pose.position, ...opening.pose.rotation].join(',');
  const wheel = 'prompt-wheel@Sluice 2 wheel';
  it('tells the chain of a hidden prompt, and what would show it', () => {
    const { status, stdout } = run(['reasons', DEMO, wheel, '--viewer', 'desk', '--pose', pose, '--would-show', '--json']);
    expect(status).toBe(0);
    const { element, links, wouldShow } = JSON.parse(stdout);
    expect(element).toBe(wheel);
    expect(links.map(({ step }: { step: string }) => step).join(' ')).toBe(
      'attach phase range view size sightline claim place paint readable',
    );
    expect(links[5]).toMatchObject({
      state: 'no',
      says: expect.stringMatching(/^Sluice 2 posts covers \d+ %; \d+ % is free, needs \d+ %$/),
    });
    expect(wouldShow[0]).toMatchObject({ kind: 'place', says: expect.stringMatching(/^0\.\d m left/) });
    // Where it says one should stand, it shows.
    const { position, rotation } = wouldShow[0].pose;
    const shown = run(['reasons', DEMO, wheel, '--viewer', 'desk', '--pose', [...position, ...rotation].join(','), '--would-show']).stdout;
    const lines = shown.trimEnd().split('\n');
    expect(lines[0]).toBe(`${wheel} (Turn the wheel)`);
    expect(lines[6]).toMatch(/^ {2}sightline +yes/);
    // Nothing is offered for what is shown.
    expect(lines).toHaveLength(11);
  });
  it('is about the phase that is asked for', () => {
    const at = ['--viewer', 'desk', '--pose', pose];
    expect(run(['reasons', DEMO, 'prompt-door', ...at, '--phase', 'cinematic']).stdout).toMatch(/phase +NO +hidden in Cinematic/);
    expect(run(['reasons', DEMO, 'prompt-door', ...at, '--phase', 'ashore'])).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('there are: roaming'),
    });
    expect(run(['reasons', DEMO, 'prompt-window', ...at])).toMatchObject({ status: 2, stderr: expect.stringContaining('prompt-door') });
  });
  it('knows the devices of players', () => {
    const at = ['--viewer', 'desk', '--route', 'out-to-the-lamp', '--at', '8'];
    const widthOf = (device: string): number => {
      const { elements } = JSON.parse(run(['solve', DEMO, ...at, '--json', '--device', device]).stdout);
      return elements.find(
        (e: { id: string }) => e.id === 'prompt-wheel@Sluice 1 wheel.prompt-key' || e.id.endsWith('.prompt-key@Sluice 1 wheel'),
      ).rect[2];
    };
    expect(widthOf('gamepad')).toBeGreaterThan(0);
    expect(run(['solve', DEMO, ...at, '--json', '--device', 'piano'])).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('gamepad'),
    });
  });
});

describe('foreshore validate', () => {
  it('is content with the demo: its document, its level', () => {
    for (const file of [DEMO, LEVEL]) expect(run(['validate', file])).toMatchObject({ status: 0, stdout: '' });
  });
  it('gives each fault a line with its pointer', () => {
    const document = JSON.parse(readFileSync(DEMO, 'utf8'));
    document.glass.widthPx = -5;
    document.elements.dinghy.mount.anchor = 'gone';
    const file = join(folder, 'broken.json');
    writeFileSync(file, JSON.stringify(document));
    const { status, stdout } = run(['validate', file]);
    expect(status).toBe(1);
    expect(stdout).toMatch(/^\/glass\/widthPx: /m);
    delete document.glass;
    document.glass = { widthPx: 1920, heightPx: 1080, fit: 'smaller' };
    writeFileSync(file, JSON.stringify(document));
    expect(run(['validate', file]).stdout).toMatch(/^\/elements\/dinghy\/mount\/anchor: .*"gone"/m);
  });
  it('names what is wrong with a broken level and a broken archive', () => {
    const level = join(folder, 'short.glb');
    writeFileSync(level, readFileSync(LEVEL).subarray(0, 5000));
    expect(run(['validate', level])).toMatchObject({ status: 1, stdout: expect.stringMatching(/cut short/) });
    const zip = join(folder, 'bad.foreshore.zip');
    writeFileSync(zip, 'no archive');
    expect(run(['validate', zip])).toMatchObject({ status: 1, stdout: expect.stringMatching(/zip archive/) });
  });
});
