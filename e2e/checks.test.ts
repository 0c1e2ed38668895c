/** Checks in the real application: measured, cancelled, filtered, followed to the moment, accepted, compared, in a small project and in Low Water. */
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { type Document, insideOf, makeDocument, makeGroup, makeLabel, makeText, onGlass } from '../packages/document/src/index.ts';
import { createProject, editAt, openBrowser, press, type Session } from './browser.ts';

const address = inject('address');
let session: Session;
let id: string;
beforeAll(async () => {
  session = await openBrowser();
  const document: Document = makeDocument('Yard');
  const pose = (timeS: number) => ({
    timeS,
    position: [0, 1.6, -timeS] as [number, number, number],
    rotation: [0, 0, 0, 1] as [number, number, number, number],
  });
  document.routes = { walk: { name: 'Walk', order: 'a0', poses: [pose(0), pose(4)], feeds: [], phases: [] } };
  document.viewers = { desk: document.viewers.desk as never, phone: document.viewers.phone as never };
  document.anchors.hut = { kind: 'surface', name: 'Hut', order: 'a0', node: null, position: [0, 1.6, -9], normal: [0, 1, 0] };
  const hut = makeLabel('hut', 'Hut', 'a0');
  document.elements.hut = { ...hut, size: { rule: 'screen', emPx: 200, hideBelowPx: 0, leavePx: 0 } };
  const tiny = makeText(onGlass([0.5, 0.2]), 'Low tide at seven', 'a1');
  document.elements.tiny = { ...tiny, size: { rule: 'screen', emPx: 6, hideBelowPx: 0, leavePx: 0 } };
  document.anchors.behind = { kind: 'surface', name: 'Behind', order: 'a1', node: null, position: [0, 1.6, 9], normal: [0, 1, 0] };
  document.elements.behind = { ...makeLabel('behind', 'Behind', 'a2'), name: 'Behind' };
  id = await createProject(address, { from: 'document', document });
});
afterAll(() => session.close());

const open = async (project = id): Promise<void> => {
  await session.page.goto(new URL(`/p/${project}/checks`, address).href);
  await session.page.waitForSelector('aria/Measure');
};
/** Measures, and waits until it is whole; gives the rows by kind and element. */
const measure = async (): Promise<string[]> => {
  const { page } = session;
  const before = await page.evaluate(() => document.querySelector('[data-parts]')?.textContent ?? '');
  await press(page, 'Measure');
  await page.waitForFunction(
    (was) => {
      const said = document.querySelector('[data-parts]')?.textContent ?? '';
      return document.querySelector('[aria-label="Measuring"]') === null && said !== '' && said !== was;
    },
    { polling: 50 },
    before,
  );
  return rows();
};
const rows = () =>
  session.page.$$eval('.finding', (all) => all.map((el) => `${(el as HTMLElement).dataset.kind} ${(el as HTMLElement).dataset.element}`));
const rowsAre = (wanted: string[]) =>
  session.page.waitForFunction(
    (these) =>
      JSON.stringify([...document.querySelectorAll<HTMLElement>('.finding')].map((el) => `${el.dataset.kind} ${el.dataset.element}`)) ===
      JSON.stringify(these),
    { polling: 50 },
    wanted,
  );

/** A text that is too small, and that no size makes right: a notice lies close below it. */
function narrowRoom(): Document {
  const narrow: Document = makeDocument('Narrow');
  const pose = (timeS: number) => ({ timeS, position: [0, 1.6, 0], rotation: [0, 0, 0, 1] }) as Document['routes'][string]['poses'][number];
  narrow.routes = { wait: { name: 'Wait', order: 'a0', poses: [pose(0), pose(3)], feeds: [], phases: [] } };
  narrow.viewers = { desk: narrow.viewers.desk as never };
  const tide = makeText(onGlass([0.5, 0.2]), 'Low tide at seven', 'a0');
  narrow.elements.tide = { ...tide, name: 'Tide', size: { rule: 'screen', emPx: 7, hideBelowPx: 0, leavePx: 0 } };
  // On a plate so near below it that no size that can be read has room.
  const below = makeText(onGlass([0.5, 0.2], [0, 15]), 'The water comes back', 'a1');
  narrow.elements.below = {
    ...{ ...below, name: 'Notice' },
    paint: { ...below.paint, plate: { colour: '#15233B', padEm: [0.3, 0.1], radiusEm: 0 } },
  };
  return narrow;
}

describe('checks', () => {
  it('measure the project, list what falls short, and lead to the moment with the step open', async () => {
    const { page } = session;
    await open();
    expect(await page.$('.checks-nothing')).not.toBeNull();
    await measure();
    // What is told of the whole comes once it is whole.
    await page.waitForFunction(
      () =>
        [...document.querySelectorAll<HTMLElement>('.finding')]
          .map((el) => `${el.dataset.kind} ${el.dataset.element}`)
          .sort()
          .join() === 'neverShown behind,small tiny',
      { polling: 50 },
    );
    // By kind, by words, by a cell of the table.
    await page.click('[data-kind="small"]');
    await rowsAre(['small tiny']);
    await page.click('[data-kind="small"]');
    const search = await page.waitForSelector('aria/Search');
    await search?.type('behi');
    await rowsAre(['neverShown behind']);
    await search?.click({ count: 3 });
    await page.keyboard.press('Backspace');
    await press(page, 'Low tide at seven at Phone: 1');
    await rowsAre(['small tiny']);
    const link = await page.waitForSelector('.finding[data-element="tiny"] a');
    await link?.click();
    await page.waitForFunction(() => globalThis.foreshore?.engine.settled === true, { polling: 50 });
    expect(
      await page.evaluate(() => {
        const { viewer, route, selection, openStep } = globalThis.foreshore?.bench.getState() ?? {};
        return { viewer, route, selection, openStep };
      }),
    ).toEqual({ viewer: 'phone', route: 'walk', selection: 'tiny', openStep: 'readable' });
    // What the check says is what the chain says there.
    expect(await page.$eval('[data-step="readable"]', (el) => el.textContent)).toMatch(/arcmin/);
    expect(session.errors).toEqual([]);
  });

  it('take a finding as accepted, with a reason and a name, and no longer; kept with the project, and undone', async () => {
    const { page } = session;
    await open();
    await page.waitForSelector('.finding[data-element="behind"]');
    const accepts = await page.$$('.finding[data-element="behind"] button');
    await accepts.at(-1)?.click();
    const because = await page.waitForSelector('aria/Because');
    await because?.type('It is for the way back.');
    const name = await page.waitForSelector('aria/Your name');
    await name?.type('Ada');
    await page.keyboard.press('Enter');
    await rowsAre(['small tiny']);
    await page.waitForSelector('[data-save="saved"][data-revision="1"]');
    await page.reload();
    await page.waitForSelector('[data-accepted="1"]');
    await rowsAre(['small tiny']);
    await press(page, 'Accepted, too');
    await page.waitForFunction(
      () => document.body.textContent?.includes('Accepted by Ada on') && document.body.textContent.includes('way back.'),
    );
    await press(page, 'No longer');
    await page.waitForSelector('[data-accepted="0"]');
    await press(page, 'Undo: Accept a finding no longer');
    await page.waitForSelector('[data-accepted="1"]');
    // A kind that is not told.
    await press(page, 'Kinds of findings');
    await press(page, 'Letters too small');
    await page.waitForSelector('[data-findings="0"]');
    await press(page, 'Undo: Choose which kinds are told');
    await page.waitForSelector('[data-findings="1"]');
    expect(session.errors).toEqual([]);
  });

  it('find five faults of five kinds in the first draft of Low Water, and mend them to none', async () => {
    const { page } = session;
    const before = await createProject(address, { from: 'demo', which: 'before' });
    await open(before);
    await measure();
    await page.waitForSelector('[data-findings="5"]');
    expect((await rows()).sort()).toEqual(['contrast sluice-2', 'cut post', 'flickers middle-span', 'reach slate', 'small warmth']);
    // One by itself, tried before it is taken, and undone.
    await page.click('.finding[data-element="warmth"] button:not(.finding-picture)');
    await page.waitForSelector('.finding[data-element="warmth"] [data-mend="small"]');
    await press(page, 'Take it');
    await page.waitForSelector('.finding[data-element="warmth"] [data-mended]');
    await press(page, 'Undo: Mend: 20 arcmin on every screen');
    await page.waitForFunction(() => document.querySelector('[data-mended]') === null);
    // Of one that is left nothing is there to take.
    await page.type('input[placeholder="element or kind"]', 'warm');
    await press(page, 'Mend it');
    const only = () => page.evaluate(() => document.querySelector<HTMLElement>('[data-proposal] input')?.click());
    const buttons = () => page.$$eval('.checks-mending button', (all) => all.map((one) => one.textContent));
    await page.waitForSelector('[data-proposed="1"]');
    expect(await buttons()).toEqual(['Take it', 'Leave']);
    await only();
    await page.waitForSelector('[data-proposed="0"]');
    expect(await buttons()).toEqual(['Leave']);
    await only();
    await page.waitForSelector('[data-proposed="1"]');
    await press(page, 'Leave');
    await page.focus('input[placeholder="element or kind"]');
    for (let k = 0; k < 4; k++) await page.keyboard.press('Backspace');
    // All that are there.
    await press(page, 'Mend all 5');
    await page.waitForSelector('[data-proposed="5"] [data-trial]');
    // One of them is left, and taken in again: it is not asked anew.
    const post = () => page.evaluate(() => document.querySelector<HTMLElement>('[data-proposal]:nth-child(3) input')?.click());
    await post();
    await page.waitForSelector('[data-proposed="4"]');
    await post();
    await page.waitForSelector('[data-proposed="5"] [data-trial="done"][data-clears="5"][data-bad="0"]');
    expect(await page.$$eval('[data-mended]', (all) => all.length)).toBe(0);
    // Beside what is told of the trial, what is pressed has room for its words.
    const cut = await page.$$eval(
      '.checks-mending button *',
      (all) => all.filter((one) => one.scrollWidth > one.clientWidth + 1 && one.clientWidth > 0).length,
    );
    expect(cut).toBe(0);
    await press(page, 'Take all 5');
    await page.waitForFunction(() => document.querySelectorAll('[data-mended]').length === 5);
    // One undo for all of them.
    const says = () => page.evaluate(() => document.querySelector('.checks-filter')?.textContent?.includes('5 mended') === true);
    expect(await says()).toBe(true);
    await press(page, 'Undo: Mend 5 findings');
    await page.waitForFunction(() => document.querySelector('[data-mended]') === null);
    expect(await says()).toBe(false);
    await press(page, 'Redo: Mend 5 findings');
    await page.waitForFunction(() => document.querySelectorAll('[data-mended]').length === 5);
    await measure();
    await page.waitForSelector('[data-findings="0"]');
    expect(session.errors).toEqual([]);
  });

  it('say what stands in the way where no single change clears a finding', async () => {
    const { page } = session;
    await open(await createProject(address, { from: 'document', document: narrowRoom() }));
    expect(await measure()).toEqual(['small tide']);
    await press(page, 'Mend…');
    await page.waitForSelector('[data-mend="none"] .finding-refused');
    const said = await page.$$eval('.finding-refused', (all) => all.map((one) => one.textContent));
    expect(said.length).toBeGreaterThan(1);
    for (const one of said)
      expect(one).toMatch(/^(Letters of [\d.]+ px|\d+ arcmin on every screen); then Tide: Notice covers \d+ % \(Desk monitor\)\.$/);
    // With all at once the same is said, and nothing is there to take.
    await press(page, 'Mend it');
    await page.waitForSelector('[data-proposed="0"] .finding-refused');
    expect(await page.$eval('.checks-mending', (el) => [...el.querySelectorAll('button')].map((one) => one.textContent))).toEqual([
      'Leave',
    ]);
    // What is accepted meanwhile changes nothing about it; another edit does.
    const project = new URL(page.url()).pathname.split('/')[2] as string;
    await editAt(address, project, (d) => {
      d.checks = { accepted: [{ kind: 'cut', element: 'below', reason: 'As drawn.', by: 'Ada', on: '2026-11-29' }] };
    });
    await page.waitForSelector('[data-save="saved"][data-revision="1"]');
    expect(await page.$('[data-proposed="0"]')).not.toBeNull();
    // What no setting clears says so without being asked.
    await editAt(address, project, (d) => {
      Object.assign(d.elements.tide as object, { text: '' });
    });
    await page.waitForSelector('[data-save="saved"][data-revision="2"]');
    await page.waitForFunction(() => document.querySelector('.checks-mending') === null);
    expect((await measure()).sort()).toEqual(['empty tide']);
    expect(await page.$eval('[data-mend="none"]', (el) => el.textContent)).toBe('No change of a setting clears it: it wants a text.');
    expect(session.errors).toEqual([]);
  });

  it('propose what can be mended before what cannot, and find a member that is told with its group', async () => {
    const { page } = session;
    const slipped = narrowRoom();
    // A card that has slipped out of the frame with what is on it.
    slipped.elements.card = makeGroup(onGlass([1, 0.5], [300, 0]), 'Card', 'column', 'a2');
    slipped.elements.wind = { ...makeText(insideOf('card'), 'Wind from the south-west', 'a0'), name: 'Wind' };
    await open(await createProject(address, { from: 'document', document: slipped }));
    expect((await measure()).sort()).toEqual(['cut card', 'small tide']);
    await press(page, 'Mend all 2');
    await page.waitForSelector('[data-proposed="1"]');
    const proposed = () => page.$$eval('[data-proposal]', (all) => all.map((one) => (one as HTMLElement).dataset.proposal));
    expect(await proposed()).toEqual(['mend', 'none']);
    expect(await page.$eval('[data-proposal="none"]', (el) => el.textContent)).toContain('Tide: letters too small');
    await press(page, 'Leave');
    expect(await page.$eval('[title="Card: Wind"]', (el) => el.textContent)).toContain('with one of its members');
    await page.type('input[placeholder="element or kind"]', 'wind');
    await page.waitForFunction(() => document.querySelectorAll('.finding').length === 1);
    expect(await rows()).toEqual(['cut card']);
    expect(session.errors).toEqual([]);
  });

  it('measure only what depends on a change, and compare with the check before', async () => {
    const { page } = session;
    await editAt(address, id, (d) => {
      d.viewers.phone = { ...(d.viewers.phone as object), distanceM: 3 } as never;
    });
    await open();
    await page.waitForSelector('[data-findings="1"]');
    await measure();
    expect(await page.$eval('[data-kept]', (el) => [(el as HTMLElement).dataset.kept, (el as HTMLElement).dataset.parts])).toEqual([
      '1',
      '2',
    ]);
    await page.waitForSelector('aria/Compared with');
    // A click may fall while what stands above still grows: it is opened by what it is, not by where, until it is open.
    await page.waitForFunction(
      () => {
        if ([...document.querySelectorAll('[role="option"]')].some((one) => (one as HTMLElement).offsetParent !== null)) return true;
        for (const label of document.querySelectorAll('label'))
          if (label.textContent === 'Compared with') (document.getElementById(label.htmlFor) as HTMLElement | null)?.click();
        return false;
      },
      { polling: 400 },
    );
    await page.evaluate(() => {
      const option = [...document.querySelectorAll('[role="option"]')].find((one) => (one as HTMLElement).offsetParent !== null);
      (option as HTMLElement).click();
    });
    await page.waitForSelector('.checks-compared');
    // Far away, the hut's letters are too small, too, and the text's more than before.
    await page.waitForSelector('.checks-compared[data-new="1"][data-worse="1"][data-gone="0"]');
    await press(page, 'Only new and worse');
    // The worst first: the text falls short by a larger share of what is asked.
    await rowsAre(['small tiny', 'small hut']);
    expect(session.errors).toEqual([]);
  });

  it('measure variants that are chosen, and lead to the bench as it is there', async () => {
    const { page } = session;
    const gusts: Document = makeDocument('Gale');
    const pose = (timeS: number) =>
      ({ timeS, position: [0, 1.6, 0], rotation: [0, 0, 0, 1] }) as Document['routes'][string]['poses'][number];
    gusts.routes = { wait: { name: 'Wait', order: 'a0', poses: [pose(0), pose(3)], feeds: [], phases: [] } };
    gusts.viewers = { desk: gusts.viewers.desk as never };
    const steps = { kind: 'steps', everyS: 60, values: ['calm', 'a whole gale from the north-west '.repeat(8)] } as const;
    gusts.feeds.wind = { name: 'Wind', order: 'a0', kind: 'text', unit: '', initial: 'calm', source: steps } as never;
    gusts.elements.wind = { ...makeText(onGlass([0.5, 0.2]), '{wind}', 'a0'), name: 'Wind' };
    const gale = await createProject(address, { from: 'document', document: gusts });
    await open(gale);
    expect(await measure()).toEqual([]);
    await press(page, 'Variants: as recorded');
    // By what they are, not by where: what stands above them may still move.
    for (const name of ['All feeds at their greatest', 'Camera shaken'])
      await (await page.waitForSelector(`aria/${name}[role="checkbox"]`))?.evaluate((box) => (box as HTMLElement).click());
    await page.waitForSelector('[data-parts-chosen="3"]');
    await page.waitForSelector('aria/Times a second');
    await page.waitForSelector('[data-save="saved"][data-revision="2"]');
    expect(await measure()).toEqual(['cut wind']);
    expect(await page.$eval('.finding', (el) => el.textContent)).toContain('all feeds at their greatest');
    // What is so as recorded was known.
    await page.waitForSelector('[data-kept="1"][data-parts="3"]');
    await page.evaluate(() => document.querySelector<HTMLElement>('.finding a')?.click());
    await page.waitForFunction(() => globalThis.foreshore?.engine.settled === true, { polling: 50 });
    expect(await page.evaluate(() => globalThis.foreshore?.bench.getState().extreme)).toBe('greatest');
    const shown = await page.evaluate(() => globalThis.foreshore?.live.getState().held.wind);
    expect(shown).toBe(steps.values[1]);
    // Whoever comes again by another way finds the bench as it was recorded.
    await press(page, 'Checks');
    await page.waitForSelector('.finding');
    await press(page, 'Bench');
    await page.waitForFunction(() => globalThis.foreshore?.engine.settled === true, { polling: 50 });
    expect(await page.evaluate(() => globalThis.foreshore?.live.getState().held)).toEqual({});
    expect(session.errors).toEqual([]);
  });

  it('find what is shown in a phase that is to be quiet, and hide it there', async () => {
    const { page } = session;
    const lull: Document = makeDocument('Lull');
    const pose = (timeS: number) =>
      ({ timeS, position: [0, 1.6, 0], rotation: [0, 0, 0, 1] }) as Document['routes'][string]['poses'][number];
    lull.phases = { round: { name: 'Round', order: 'a0' }, lull: { name: 'Lull', order: 'a1' } };
    const phases = [
      { timeS: 0, phase: 'round' },
      { timeS: 4, phase: 'lull' },
    ];
    lull.routes = { wait: { name: 'Wait', order: 'a0', poses: [pose(0), pose(8)], feeds: [], phases } };
    lull.viewers = { desk: lull.viewers.desk as never };
    lull.elements.tide = { ...makeText(onGlass([0.5, 0.2]), 'Low tide at seven', 'a0'), name: 'Tide' };
    lull.elements.wind = { ...makeText(onGlass([0.5, 0.6]), 'Wind from the west', 'a1'), name: 'Wind' };
    await open(await createProject(address, { from: 'document', document: lull }));
    await press(page, 'Quiet phases: none');
    await press(page, 'Lull[role="checkbox"]');
    await press(page, 'Shown in Lull all the same[role="combobox"]');
    await page.waitForFunction(() => document.querySelectorAll('[role="option"]').length === 2, { polling: 50 });
    await page.evaluate(() => document.querySelector<HTMLElement>('[role="option"]')?.click());
    await page.keyboard.press('Escape');
    await page.waitForSelector('[data-save="saved"][data-revision="2"]');
    expect(await measure()).toEqual(['unwanted wind']);
    expect(await page.$eval('.finding', (el) => el.textContent)).toContain('Shown in the phase Lull, which is to be quiet');
    await press(page, 'Mend…');
    await page.waitForSelector('[data-mend="unwanted"]');
    expect(await page.$eval('[data-mend]', (el) => el.textContent)).toContain('Hidden in the phase Lull');
    // While it is offered it is tried on all that was measured.
    await page.waitForSelector('[data-trial="done"]');
    expect(await page.$eval('[data-trial]', (el) => el.textContent)).toBe('On the one part: clears 1 finding, makes none new or worse.');
    await press(page, 'Take it');
    await page.waitForSelector('[data-save="saved"][data-revision="3"]');
    expect(await measure()).toEqual([]);
    // Two texts are two pieces: more than a budget of one.
    await press(page, 'Budget of a frame: 2000 pieces');
    const pieces = await page.waitForSelector('[aria-label="Budget of a frame"] input');
    await pieces?.click({ clickCount: 3 });
    await page.keyboard.type('1');
    await page.keyboard.press('Enter');
    await page.waitForSelector('[data-save="saved"][data-revision="4"]');
    expect((await measure()).map((row) => row.split(' ')[0])).toEqual(['costly']);
    expect(await page.$eval('.finding', (el) => el.textContent)).toContain('A frame draws 2 pieces, its budget is 1');
    expect(session.errors).toEqual([]);
  });

  it('go on while the page is loaded again, and are cancelled', async () => {
    const { page } = session;
    const demo = await createProject(address, { from: 'demo', measured: false });
    await open(demo);
    await press(page, 'Measure');
    await page.waitForSelector('[aria-label="Measuring"]');
    await page.waitForFunction(() => document.querySelectorAll('.finding').length > 0, { polling: 100 });
    await page.reload();
    await page.waitForSelector('[aria-label="Measuring"]');
    // Of part of it, nothing is said to be shown nowhere.
    await page.waitForFunction(() => document.querySelectorAll('.finding').length > 0, { polling: 100 });
    expect((await rows()).some((row) => row.startsWith('neverShown'))).toBe(false);
    await press(page, 'Cancel');
    await page.waitForSelector('[data-last="cancelled"]');
    await page.waitForSelector('aria/Measure');
    expect(session.errors).toEqual([]);
  });

  it('show a small picture of each moment, with what is meant marked, and large where it is pressed', async () => {
    const { page } = session;
    await open();
    const picture = await page.waitForSelector('.finding[data-element="tiny"] [data-picture="there"]');
    const svg = await page.$eval('.finding[data-element="tiny"] [data-picture="there"] img', async (el) =>
      (await fetch((el as HTMLImageElement).src)).text(),
    );
    expect([svg.includes('Low tide at seven'), svg.includes('#C8321F')]).toEqual([true, true]);
    await picture?.click();
    await page.waitForFunction(() => (document.querySelector<HTMLImageElement>('.finding-large')?.naturalWidth ?? 0) > 0);
    await page.keyboard.press('Escape');
    await page.waitForFunction(() => document.querySelector('.finding-large') === null);
    // What is shown nowhere has no moment.
    expect(await page.$('.finding[data-element="behind"] [data-picture]')).toBeNull();
    expect(session.errors).toEqual([]);
  });

  it('tell what no route reaches, and make routes that do: the next check finds all of it reached', async () => {
    const { page } = session;
    const { document: first } = (await (await fetch(new URL(`/api/projects/${id}`, address))).json()) as { document: Document };
    const yard = await createProject(address, { from: 'document', document: first });
    await editAt(address, yard, (d) => {
      d.elements = { hut: d.elements.hut as never, behind: d.elements.behind as never };
      d.checks = {};
      d.phases = { roaming: { name: 'Roaming', order: 'a0' }, paused: { name: 'Paused', order: 'a1' } };
    });
    await open(yard);
    await measure();
    const missed = await page.waitForSelector('.checks-coverage[data-missed="2"] button');
    expect(await missed?.evaluate((el) => el.textContent)).toBe('On none of the routes: 1 element and 1 phase');
    await missed?.click();
    await press(page, 'Make a route: To Behind');
    const said = await page.waitForSelector('[data-id="behind"] [data-made]');
    expect(await said?.evaluate((el) => el.textContent)).toMatch(/“To Behind” is made: Behind shows from \d+\.\d s at/);
    await press(page, 'Make a route: In Paused');
    await page.waitForSelector('[data-id="paused"] [data-made]');
    await measure();
    await page.waitForSelector('.checks-coverage[data-missed="0"]');
    expect((await rows()).filter((row) => row.startsWith('neverShown'))).toEqual([]);
    await press(page, 'Undo: Make a route: In Paused');
    await page.waitForFunction(() => !globalThis.foreshore?.project.getState().document?.routes.in_paused);
    expect(session.errors).toEqual([]);
  });

  it('say what to do where there is nothing to measure', async () => {
    const { page } = session;
    const empty = await createProject(address, { from: 'empty', name: 'Nothing' });
    await open(empty);
    await press(page, 'Measure');
    await page.waitForFunction(() => document.body.textContent?.includes('The project has no route'));
  });

  it('keep what is measured as it is chosen, also when all of it is chosen again', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'empty', name: 'Chosen' });
    await open(id);
    const kept = async () => (await (await fetch(new URL(`/api/projects/${id}`, address))).json()).document.checks?.viewers;
    const phone = '[aria-label="What is measured"] ::-p-aria(Phone[role="checkbox"])';
    await (await page.waitForSelector(phone))?.click();
    await expect.poll(kept).toEqual(['desk', 'handheld', 'television', 'ultrawide']);
    await page.waitForSelector('[data-save="saved"]');
    await (await page.waitForSelector(phone))?.click();
    await expect.poll(kept).toBeUndefined();
    await page.waitForSelector('[data-save="saved"]');
    expect(await page.evaluate(() => document.body.textContent?.includes('set aside'))).toBe(false);
  });
});
