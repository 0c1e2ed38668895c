/** Prompts as a player meets them and as a developer sets them: near, looked at, in sight, with their keys. */
import type { KeyInput } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import type { Document } from '../packages/document/src/index.ts';
import { createProject, inPicture, openBench, openBrowser, press, type Session, saved, settled } from './browser.ts';

const address = inject('address');
let session: Session;
beforeAll(async () => {
  session = await openBrowser();
});
afterAll(() => session.close());

/** Standing on the second sluice, before its wheel. */
const AT_THE_WHEEL = { position: [2.1, 2.57, 3.6], rotation: [0, 0.976, 0.216, 0] };
/** On the causeway, a metre too far from it, looking at it. */
const SHORT_OF_IT = { position: [-2.6, 2.57, 2.9], rotation: [-0.034, -0.871, -0.061, 0.487] };
const goTo = (pose: { position: number[]; rotation: number[] }) =>
  session.page.evaluate((p) => globalThis.foreshore?.engine.goTo(p as never), pose);
/** What the chosen viewer's present frame says of a row. */
const verdict = (row: string) =>
  session.page.evaluate((wanted) => {
    const { engine, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
    const solver = engine.frameOf(bench.getState().viewer);
    return solver?.f.failed[solver.c.ids.indexOf(wanted)];
  }, row);
const SHOWN = 255;
const untilShown = (row: string, shown = true) =>
  session.page.waitForFunction(
    (wanted, expected) => {
      const { engine, bench } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      const solver = engine.frameOf(bench.getState().viewer);
      return (solver?.f.failed[solver.c.ids.indexOf(wanted)] === 255) === expected;
    },
    { polling: 50 },
    row,
    shown,
  );
const link = (step: string) =>
  session.page.$eval(`[data-step="${step}"]`, (el) => ({
    state: (el as HTMLElement).dataset.state,
    says: el.querySelector('.link-says')?.textContent ?? '',
  }));
const feed = (id: string) => session.page.evaluate((f) => globalThis.foreshore?.engine.valuesNow()[f], id);
/** All colours of text in the present overlay, to tell what is drawn on keys. */
const drawn = (row: string) => session.page.evaluate((wanted) => globalThis.foreshore?.engine.drawnOf(wanted) ?? [], row);

describe('at a sluice wheel', () => {
  it('a prompt shows as one comes near, says which key, fills while it is held, and the wheel turns', async () => {
    const { page } = session;
    await openBench(page, address, 'low-water', '?t=8&sel=prompt-wheel');
    await goTo({ position: [-1.9, 2.6, 3.3], rotation: [-0.034, -0.871, -0.061, 0.487] });
    await settled(page);
    expect(await verdict('prompt-wheel@Sluice 2 wheel')).not.toBe(SHOWN);
    expect(await link('range')).toMatchObject({ state: 'no' });
    await press(page, 'Try');
    // Walks there as a player does.
    await page.keyboard.down('KeyW');
    await untilShown('prompt-wheel@Sluice 2 wheel');
    await page.keyboard.up('KeyW');
    expect((await drawn('prompt-wheel.prompt-key@Sluice 2 wheel')).map(({ kind }) => kind)).toEqual(['plate', 'text']);

    await page.keyboard.down('KeyE');
    await page.waitForFunction(() => (globalThis.foreshore?.engine.trying.share()?.share ?? 0) > 0.2, { polling: 20 });
    expect((await drawn('prompt-wheel.prompt-key@Sluice 2 wheel')).map(({ kind }) => kind)).toContain('arc');
    await page.waitForFunction(() => globalThis.foreshore?.live.getState().log.length === 1, { polling: 50 });
    await page.keyboard.up('KeyE');
    const entry = await page.evaluate(() => globalThis.foreshore?.live.getState().log[0]);
    expect(entry?.what).toMatchObject({
      kind: 'sent',
      action: 'turn',
      source: 'prompt-wheel@Sluice 2 wheel',
      did: [{ kind: 'run', feed: 'gate2', to: 1, overS: 4 }],
    });
    await page.waitForFunction(() => Number(globalThis.foreshore?.engine.valuesNow().gate2) > 0.3, { polling: 50 });
    // The gate of the level follows, and no other.
    const lifted = () =>
      page.evaluate(() => {
        const { model } = (globalThis.foreshore as NonNullable<typeof globalThis.foreshore>).engine;
        return [1, 2].map((n) => model.worldMatrices[model.nodeIndex(`Sluice ${n} gate`) * 16 + 13]);
      });
    const [first, second] = await lifted();
    expect(first).toBeCloseTo(0.1, 6);
    expect(second).toBeGreaterThan(0.4);
    expect(await feed('gate1')).toBe(0);
    await page.keyboard.press('Escape');
  });

  it('letting go too early sends nothing; looking away takes the prompt and the press with it', async () => {
    const { page } = session;
    await openBench(page, address, 'low-water', '?t=8&sel=prompt-wheel');
    await goTo(AT_THE_WHEEL);
    await press(page, 'Try');
    await untilShown('prompt-wheel@Sluice 2 wheel');
    await page.focus('.picture');
    await page.keyboard.down('KeyE');
    await page.waitForFunction(() => globalThis.foreshore?.engine.trying.share() !== null, { polling: 20 });
    await page.keyboard.up('KeyE');
    await page.waitForFunction(() => globalThis.foreshore?.engine.trying.share() === null, { polling: 20 });
    await page.keyboard.down('KeyE');
    await page.waitForFunction(() => globalThis.foreshore?.engine.trying.share() !== null, { polling: 20 });
    await page.evaluate(() => globalThis.foreshore?.engine.turn(120, 0));
    await page.waitForFunction(() => globalThis.foreshore?.engine.trying.share() === null, { polling: 20 });
    await untilShown('prompt-wheel@Sluice 2 wheel', false);
    await page.keyboard.up('KeyE');
    expect(await page.evaluate(() => globalThis.foreshore?.live.getState().log.length)).toBe(0);
    await page.keyboard.press('Escape');
  });

  it('a gamepad takes over: the glyph follows, its button acts, and a key takes it back', async () => {
    const { page } = session;
    await page.evaluateOnNewDocument(() => {
      const pad = { connected: true, axes: [0, 0, 0, 0], buttons: Array.from({ length: 17 }, () => ({ pressed: false, value: 0 })) };
      Object.assign(globalThis, { padForTests: pad, padIsThere: false });
      navigator.getGamepads = () => ((globalThis as unknown as { padIsThere: boolean }).padIsThere ? [pad as unknown as Gamepad] : []);
    });
    await openBench(page, address, 'low-water', '?t=8&sel=prompt-wheel');
    await goTo(AT_THE_WHEEL);
    await press(page, 'Try');
    await untilShown('prompt-wheel@Sluice 2 wheel');
    await page.focus('.picture');
    const button = (down: boolean) =>
      page.evaluate((pressed) => {
        const g = globalThis as unknown as { padIsThere: boolean; padForTests: { buttons: { pressed: boolean }[] } };
        g.padIsThere = true;
        (g.padForTests.buttons[0] as { pressed: boolean }).pressed = pressed;
        window.dispatchEvent(new Event('gamepadconnected'));
      }, down);
    await button(true);
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().device === 'gamepad', { polling: 50 });
    // The device is drawn, of plates: the cap and four buttons, the lower one the largest.
    await page.waitForFunction(
      () =>
        globalThis.foreshore?.engine.drawnOf('prompt-wheel.prompt-key@Sluice 2 wheel').filter(({ kind }) => kind === 'plate').length === 5,
      { polling: 50 },
    );
    expect((await drawn('prompt-wheel.prompt-key@Sluice 2 wheel')).some(({ kind }) => kind === 'text')).toBe(false);
    await page.waitForFunction(
      () => {
        const what = globalThis.foreshore?.live.getState().log[0]?.what;
        return what?.kind === 'sent' && what.action === 'turn';
      },
      { polling: 50 },
    );
    await button(false);
    await page.evaluate(() => Object.assign(globalThis, { padIsThere: false }));
    await page.keyboard.press('KeyL');
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().device === 'keyboard', { polling: 50 });
    expect((await drawn('prompt-wheel.prompt-key@Sluice 2 wheel')).some(({ kind }) => kind === 'text')).toBe(true);
    await page.keyboard.press('Escape');
  });
});

describe('would show', () => {
  it('offers the way that is left, goes there, and the prompt shows; another offer is a setting, and is undone', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'demo' });
    await openBench(page, address, id, '?t=8&sel=prompt-wheel');
    await goTo(SHORT_OF_IT);
    await page.waitForSelector('[data-offer="place"]');
    expect(await page.$eval('[data-offer]', (el) => el.textContent)).toMatch(/^Would show: [01]\.\d m ahead/);
    // The ghost stands where it would be.
    expect(await page.$('[data-ghost="true"]')).not.toBeNull();
    await press(page, 'Go there');
    await page.waitForSelector('[data-step="range"][data-state="yes"]');
    expect(await verdict('prompt-wheel@Sluice 2 wheel')).toBe(SHOWN);

    await goTo(SHORT_OF_IT);
    await page.waitForSelector('[data-offer="place"]');
    await page.click('.offer-next');
    await page.waitForSelector('[data-offer="setting"]');
    await press(page, 'Apply');
    await page.waitForSelector('[data-step="range"][data-state="yes"]');
    await saved(page, 1);
    await press(page, 'Undo: Would show: within 4.6 m');
    await page.waitForSelector('[data-step="range"][data-state="no"]');
    await saved(page);
  });
});

describe('at the pump house', () => {
  /** Before the door, looking in at where the dials are. */
  const BEFORE_THE_DOOR = { position: [-44.11, 3.51, -24.95], rotation: [-0.0199, -0.0871, -0.0017, 0.996] };
  it('the shut door blocks the dials behind it: its feed is offered; opened by its own prompt, the dials show', async () => {
    const { page } = session;
    await openBench(page, address, 'low-water', '?t=8&sel=prompt-pump');
    // The dials are asked from farther away than a hand reaches.
    await page.evaluate(() => {
      const { project } = globalThis.foreshore as NonNullable<typeof globalThis.foreshore>;
      const { document } = project.getState();
      const pump = document?.elements['prompt-pump'];
      if (!document || !pump?.range) throw new Error('no pump');
      project.setState({
        document: {
          ...document,
          elements: { ...document.elements, 'prompt-pump': { ...pump, range: { ...pump.range, enterM: 9, leaveM: 9.5 } } },
        },
      });
    });
    await goTo(BEFORE_THE_DOOR);
    await settled(page);
    expect(await link('sightline')).toMatchObject({ state: 'no', says: expect.stringContaining('Pump house door covers') });
    // The stop is marked in the picture, with what stops it.
    expect(await page.$eval('[data-mark="sight"] text', (el) => el.textContent)).toContain('stops at Pump house door');
    // A door ajar is among the offers, and tried at once.
    await page.waitForSelector('[data-offer]');
    for (let k = 0; k < 6 && !(await page.$('[data-offer="state"]')); k++) await page.click('.offer-next');
    expect(await page.$eval('[data-offer="state"] b', (el) => el.textContent)).toMatch(/^Door of the pump house 0\.\d+$/);
    await press(page, 'Try it');
    await untilShown('prompt-pump');
    await page.evaluate(() => globalThis.foreshore?.live.setState({ held: {} }));
    await untilShown('prompt-pump', false);

    await press(page, 'Try');
    await untilShown('prompt-door');
    await page.focus('.picture');
    await page.keyboard.press('KeyE' as KeyInput);
    await page.waitForFunction(() => globalThis.foreshore?.engine.valuesNow().door === 1, { polling: 50 });
    await untilShown('prompt-pump');
    await page.keyboard.press('Escape');
  });
});

describe('ghosts and zones', () => {
  it('what is hidden is outlined and selected by a click; a zone is resized by its handle, in one entry of undo', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'demo' });
    await openBench(page, address, id, '?t=8&sel=lamp-mast');
    await goTo({ position: [5.25, 2.38, 6.75], rotation: [-0.049, 0.607, 0.038, 0.792] });
    await settled(page);
    await press(page, 'Ghosts');
    const ghost = await page.waitForSelector('[data-ghost-of="prompt-wheel"]');
    await ghost?.click();
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().selection === 'prompt-wheel', { polling: 50 });
    await page.click('[data-step="attach"]');
    const grip = await page.waitForSelector('[data-handle="zone"]');
    const radius = () =>
      page.evaluate(() => {
        const zone = globalThis.foreshore?.project.getState().document?.anchors['sluice-wheels']?.zone;
        return zone?.kind === 'sphere' ? zone.radiusM : 0;
      });
    const before = await radius();
    const { x, y, width, height } = (await grip?.boundingBox()) ?? { x: 0, y: 0, width: 0, height: 0 };
    await page.mouse.move(x + width / 2, y + height / 2);
    await page.mouse.down();
    await page.mouse.move(x + width / 2 + 20, y + height / 2);
    await page.mouse.move(x + width / 2 + 40, y + height / 2);
    await page.mouse.up();
    expect(await radius()).toBeGreaterThan(before + 0.1);
    await saved(page, 1);
    await press(page, 'Undo: Resize a zone');
    expect(await radius()).toBe(before);
    await press(page, 'Ghosts');
    await saved(page);
  });
});

describe('each setting broken in turn', () => {
  type Parts = Record<string, { part: object; others?: object; anchors?: object }>;
  const documentNow = async (): Promise<Document> => {
    const whole = await session.page.evaluate(() => globalThis.foreshore?.project.getState().document);
    if (!whole) throw new Error('no document');
    return whole;
  };
  /** Breaks one thing after the other, each in the whole document, and reads the chain every time. */
  async function breakEach(whole: Document, id: string, parts: Parts): Promise<void> {
    const { page } = session;
    for (const [step, { part, others = {}, anchors = {} }] of Object.entries(parts)) {
      const broken = {
        ...whole,
        anchors: { ...whole.anchors, ...anchors },
        elements: { ...whole.elements, [id]: { ...whole.elements[id], ...part }, ...others },
      };
      await page.evaluate((document) => globalThis.foreshore?.project.setState({ document: document as never }), broken as never);
      await page.waitForSelector(`[data-step="${step}"][data-state="no"]`);
      await page.waitForFunction(() => globalThis.foreshore?.engine.document === globalThis.foreshore?.project.getState().document, {
        polling: 20,
      });
      expect(await page.$$eval('[data-step][data-state="no"]', (all) => all.map((el) => (el as HTMLElement).dataset.step)), step).toEqual([
        step,
      ]);
    }
  }
  const never = { phases: { roaming: 'hidden' as const }, need: 'all' as const, conditions: [], lingerS: 0 };
  const tooNear = { from: 'body' as const, enterM: 0.2, leaveM: 0.3, dwellS: 0 };
  const narrow = { by: 'cone' as const, halfDeg: 1, leaveDeg: 1, dwellS: 0 };
  const whole = { to: 'element' as const, samples: 9, share: 1, leaveShare: 1, answer: 'hide' as const, dwellS: 0 };
  const toTheZone = { ...whole, to: 'zone' as const };

  it('of a prompt, the chain names its step, and no other', async () => {
    await openBench(session.page, address, 'low-water', '?t=8&sel=prompt-wheel');
    await goTo(AT_THE_WHEEL);
    await settled(session.page);
    expect(await verdict('prompt-wheel@Sluice 2 wheel')).toBe(SHOWN);
    const document = await documentNow();
    const wheel = document.elements['prompt-wheel'];
    const wheels = document.anchors['sluice-wheels'];
    if (wheel?.kind !== 'instance' || wheels?.kind !== 'nodes') throw new Error('no wheel');
    await breakEach(document, 'prompt-wheel', {
      attach: { part: {}, anchors: { 'sluice-wheels': { ...wheels, pattern: 'Sluice * crank' } } },
      phase: { part: { show: never } },
      range: { part: { range: tooNear } },
      view: { part: { look: narrow } },
      size: { part: { size: { rule: 'screen', emPx: 1, hideBelowPx: 5, leavePx: 0 } } },
      sightline: { part: { sightline: whole, place: { ...wheel.place, offsetPx: [0, 700] } } },
      // Somebody else for the key, at the same place.
      claim: {
        part: { claim: { ...wheel.claim, priority: -100 } },
        others: { rival: { ...wheel, name: 'Rival', claim: { ...wheel.claim, priority: 1 } } },
      },
      place: { part: { place: { ...wheel.place, stay: 'free', offsetPx: [0, 9000] } } },
      paint: { part: { paint: { opacity: 0 } } },
    });
  });

  it('of a label, and of what lies on the glass about a place', async () => {
    await openBench(session.page, address, 'low-water', '?t=8&sel=sluice-2-wheel');
    await goTo(AT_THE_WHEEL);
    await settled(session.page);
    expect(await verdict('sluice-2-wheel')).toBe(SHOWN);
    const document = await documentNow();
    const [label, anchor, glass] = [document.elements['sluice-2-wheel'], document.anchors['sluice-2-wheel'], document.elements.vitals];
    if (label?.kind !== 'label' || anchor?.kind !== 'node' || !glass) throw new Error('no label');
    await breakEach(document, 'sluice-2-wheel', {
      attach: { part: {}, anchors: { 'sluice-2-wheel': { ...anchor, node: 'Sluice 9' } } },
      phase: { part: { show: never } },
      range: { part: { range: tooNear } },
      view: { part: { look: narrow } },
      size: { part: { size: { ...label.size, hideBelowPx: 400 } } },
      sightline: { part: { sightline: whole, place: { ...label.place, offsetPx: [0, 700] } } },
      place: { part: { place: { ...label.place, stay: 'free', offsetPx: [0, 9000] } } },
      paint: { part: { paint: { ...label.paint, opacity: 0 } } },
    });
    await session.page.evaluate(() => globalThis.foreshore?.bench.setState({ selection: 'vitals' }));
    await breakEach(document, 'vitals', {
      phase: { part: { show: never } },
      range: { part: { about: 'sluice-2-wheel', range: tooNear } },
      view: { part: { about: 'sluice-2-wheel', look: narrow } },
      sightline: { part: { about: 'lamp-mast', sightline: toTheZone }, anchors: { 'lamp-mast': { ...anchor, offset: [0, -6, 0] } } },
      place: { part: { place: { ...glass.place, offsetPx: [0, 9000] } } },
      paint: { part: { paint: { plate: null, opacity: 0 } } },
    });
  });
});

describe('placing', () => {
  it('a prompt needs a click and a text: it has a zone, gates, a key and the action that prompts send', async () => {
    const { page } = session;
    const id = await createProject(address, { from: 'empty', name: 'Prompts' });
    await openBench(page, address, id);
    await press(page, 'Place');
    const spot = await inPicture(page, 0.5, 0.72);
    await page.mouse.move(spot.x, spot.y);
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().hover, { polling: 50 });
    await page.mouse.click(spot.x, spot.y);
    await page.waitForSelector('.palette');
    await press(page, 'Prompt');
    await page.waitForSelector('.typing textarea');
    await page.keyboard.type('Pick up the rope');
    await page.keyboard.press('Enter');
    await page.waitForFunction(() => globalThis.foreshore?.bench.getState().selection === 'pick-up-the-rope', { polling: 50 });
    await saved(page, 1);
    const made = await page.evaluate(() => {
      const d = globalThis.foreshore?.project.getState().document;
      return {
        elements: Object.keys(d?.elements ?? {}),
        zone: d?.anchors['pick-up-the-rope']?.zone,
        press: d?.elements['pick-up-the-rope']?.press,
        actions: Object.keys(d?.actions ?? {}),
      };
    });
    expect(made).toEqual({
      elements: ['pick-up-the-rope', 'pick-up-the-rope-key', 'pick-up-the-rope-text'],
      zone: { kind: 'sphere', radiusM: 0.4 },
      press: { action: 'use', how: 'press', holdS: 0.8, times: 3 },
      actions: ['use'],
    });
    // Each setting broken in turn, the chain names its step.
    await settled(page);
    const steps = ['range', 'view', 'sightline', 'claim'];
    for (const step of steps) expect(await page.$(`[data-step="${step}"]`)).not.toBeNull();
    await page.click('[data-step="range"]');
    const within = await page.waitForSelector('aria/Enters within[role="textbox"]');
    await within?.click({ clickCount: 3 });
    await page.keyboard.type('0.1');
    await page.keyboard.press('Tab');
    const out = await page.waitForSelector('aria/Leaves beyond[role="textbox"]');
    await out?.click({ clickCount: 3 });
    await page.keyboard.type('0.2');
    await page.keyboard.press('Tab');
    await page.waitForSelector('[data-step="range"][data-state="no"]');
    expect((await link('range')).says).toMatch(/ of 0\.(1|2)0 m$/);
    await press(page, 'Undo: Change Range');
    await press(page, 'Undo: Change Range');
    await saved(page);
    expect(await page.$$eval('.picture [data-mark="zone"]', (all) => all.length)).toBeGreaterThan(0);
  });
});
