/**
 * Everything fits: at two sizes of window and in two languages, every view is walked, and in each no text is cut off, no control
 * lies under another, and none is smaller than 24 x 24 px. Links inside of sentences, and fields that scroll what is typed in
 * them, are exempt; so are names that the project's author chose longer than their room, which the demo's are not.
 */
import type { Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, inject, it } from 'vitest';
import { checkedProject, choose, inPicture, openBench, openBrowser, type Session, settled } from './browser.ts';

const address = inject('address');
let checked: Promise<string> | undefined;
let session: Session;
beforeAll(async () => {
  session = await openBrowser();
});
afterAll(() => session?.close());

/** What does not fit in the page as it stands: a line for each. */
const faults = (page: Page, within = 'body'): Promise<string[]> =>
  page.evaluate((within) => {
    const out = new Set<string>();
    const name = (el: Element) =>
      `${el.tagName.toLowerCase()}.${String((el as HTMLElement).className)
        .split(' ')
        .slice(0, 2)
        .join('.')} "${(el.getAttribute('aria-label') ?? el.textContent ?? '').trim().slice(0, 40)}"`;
    /** The part of an element that no scrolling box around it cuts off. */
    const seen = (el: Element) => {
      const r = el.getBoundingClientRect();
      const box = { left: r.left, top: r.top, right: r.right, bottom: r.bottom, cut: false };
      for (let up = el.parentElement; up; up = up.parentElement) {
        const { overflowX, overflowY } = getComputedStyle(up);
        if (overflowX === 'visible' && overflowY === 'visible') continue;
        const u = up.getBoundingClientRect();
        if (u.top > box.top || u.bottom < box.bottom) box.cut = true;
        box.left = Math.max(box.left, u.left);
        box.top = Math.max(box.top, u.top);
        box.right = Math.min(box.right, u.right);
        box.bottom = Math.min(box.bottom, u.bottom);
      }
      return box.right - box.left > 2 && box.bottom - box.top > 2 ? box : null;
    };
    const shown = (el: Element) => {
      const style = getComputedStyle(el);
      return (
        style.visibility !== 'hidden' &&
        style.display !== 'none' &&
        Number(style.opacity) > 0.05 &&
        !el.closest('.sr-only, [aria-hidden="true"], svg')
      );
    };
    for (const el of document.querySelectorAll<HTMLElement>(`${within} *`)) {
      if (!shown(el)) continue;
      const own = [...el.childNodes].some((node) => node.nodeType === 3 && node.textContent?.trim());
      const bounds = el.getBoundingClientRect();
      if (bounds.width < 1 || bounds.height < 1) continue;
      // What is scrolled out of sight is looked at, too, but for what lies over it.
      const box = seen(el);
      const style = getComputedStyle(el);
      if (own && style.display !== 'inline') {
        const cuts = style.overflowX !== 'visible' && style.overflowX !== 'auto' && style.overflowX !== 'scroll';
        if (cuts && el.scrollWidth > el.clientWidth + 1) out.add(`cut ${name(el)}: ${el.scrollWidth} in ${el.clientWidth}`);
        if (cuts && el.scrollHeight > el.clientHeight + 3) out.add(`cut below ${name(el)}: ${el.scrollHeight} in ${el.clientHeight}`);
      }
      if (own && box) {
        const range = document.createRange();
        range.selectNodeContents(el);
        const r = range.getBoundingClientRect();
        if (r.right > window.innerWidth + 1 || r.left < -1) out.add(`out of the window ${name(el)}`);
        // What hangs over the side of a box that cuts.
        if (r.width > 0 && (r.right > box.right + 1.5 || r.left < box.left - 1.5) && style.display !== 'inline')
          out.add(`over its box ${name(el)}: ${Math.round(r.width)} in ${Math.round(box.right - box.left)}`);
      }
      if (
        el.matches('input[inputmode="numeric"], input[inputmode="decimal"], input[type="number"], .mantine-Select-input') &&
        el.scrollWidth > el.clientWidth + 1
      )
        out.add(`cut value ${name(el)}: ${el.scrollWidth} in ${el.clientWidth}`);
      const control = el.matches('button, select, input[type="checkbox"], input[type="radio"], a[href]');
      if (!control) continue;
      const label = el.closest('label') ?? el.parentElement?.querySelector(`label[for="${CSS.escape(el.id)}"]`) ?? null;
      const target = label ?? el;
      const r = target.getBoundingClientRect();
      const inSentence = style.display === 'inline' || el.classList.contains('link-button');
      if (!inSentence && !el.closest('.mantine-Switch-root, .mantine-Checkbox-root') && (r.width < 23.5 || r.height < 23.5))
        out.add(`small ${name(el)}: ${r.width.toFixed(0)} x ${r.height.toFixed(0)}`);
      if (!box || box.cut) continue;
      const [x, y] = [(box.left + box.right) / 2, (box.top + box.bottom) / 2];
      const top = document.elementFromPoint(x, y);
      if (top && !el.contains(top) && !top.contains(el) && !target.contains(top) && !inSentence)
        out.add(`under ${name(el)} lies under ${name(top)}`);
    }
    return [...out];
  }, within);

const SIZES = [
  [1280, 800],
  [1440, 900],
] as const;

/** States of the bench, each set from the one that a fresh opening gives. */
const BENCH: Record<string, () => void> = {
  'as it opens': () => {},
  'nothing selected': () => globalThis.foreshore?.bench.setState({ selection: null }),
  'the order': () => globalThis.foreshore?.bench.setState({ rail: 'order' }),
  'the viewer': () => globalThis.foreshore?.bench.setState({ rail: 'viewer' }),
  'a feed at its ends': () => globalThis.foreshore?.bench.setState({ extreme: 'greatest' }),
  trying: () => globalThis.foreshore?.bench.setState({ mode: 'try' }),
  placing: () => globalThis.foreshore?.bench.setState({ mode: 'place', selection: null }),
};
const STEPS = ['attach', 'phase', 'range', 'view', 'size', 'sightline', 'claim', 'place', 'paint', 'readable'] as const;
const SELECTIONS = ['warmth-bar', 'tide-board', 'pause-card', 'prompt-wheel', 'ebb'] as const;

describe.each(SIZES)('at %i x %i', (width, height) => {
  beforeAll(() => session.page.setViewport({ width, height }));
  describe.each(['en', 'de'])('in %s', (language) => {
    it('the bench, in each of its states', { timeout: 120_000 }, async () => {
      const { page } = session;
      const found: string[] = [];
      const look = async (what: string, within = 'body') => {
        await settled(page);
        found.push(...(await faults(page, within)).map((line) => `${what}: ${line}`));
      };
      await openBench(page, address, 'low-water', '?t=8');
      if (language !== 'en') await choose(page, 'Language', language);
      await page.waitForSelector('[data-bands="ready"]');
      const first = await page.evaluate(() => globalThis.foreshore?.bench.getState().selection ?? null);
      for (const [what, set] of Object.entries(BENCH)) {
        await page.evaluate(
          (selection) =>
            globalThis.foreshore?.bench.setState({ selection, also: [], mode: 'look', rail: 'content', extreme: null, openStep: null }),
          first,
        );
        await page.evaluate(set);
        await look(what);
      }
      // The palette near the foot of the picture, over surfaces and over a group: the longest there is.
      await page.evaluate(() => globalThis.foreshore?.bench.setState({ mode: 'place', selection: null, rail: 'content', extreme: null }));
      for (const [u, v] of [
        [0.86, 0.9],
        [0.1, 0.9],
      ] as const) {
        const spot = await inPicture(page, u, v);
        await page.mouse.move(spot.x, spot.y);
        await page.waitForFunction(() => globalThis.foreshore?.bench.getState().hover, { polling: 50 });
        await page.mouse.click(spot.x, spot.y);
        await page.waitForSelector('.palette button:focus');
        await look(`the palette at ${u}, ${v}`, '.palette');
        expect(await page.$eval('.palette', (el) => el.scrollHeight - el.clientHeight)).toBeLessThanOrEqual(0);
        await page.keyboard.press('Escape');
        await page.waitForSelector('.palette', { hidden: true });
      }
      await page.evaluate(() => globalThis.foreshore?.bench.setState({ mode: 'look', rail: 'content', extreme: null }));
      for (const id of SELECTIONS) {
        await page.evaluate((selection) => globalThis.foreshore?.bench.setState({ selection, openStep: null }), id);
        await look(id);
      }
      for (const step of STEPS) {
        await page.evaluate((selection, openStep) => globalThis.foreshore?.bench.setState({ selection, openStep }), first, step);
        await look(`the step ${step}`);
      }
      expect(found).toEqual([]);
    });

    /** Each view, and what is there once it is. */
    const VIEWS = [
      ['/', '.shelf, main, h1'],
      ['/p/low-water/plan', '[data-element] circle'],
      ['/p/CHECKED/checks', '.finding'],
      ['/p/low-water/feeds', '.feed'],
      ['/p/low-water/handoff', '.copied'],
    ] as const;
    it.each(VIEWS)('the view at %s', async (path, there) => {
      const { page } = session;
      const own = path.includes('CHECKED') ? path.replace('CHECKED', await (checked ??= checkedProject(address))) : path;
      await page.goto(new URL(own, address).href);
      await page.waitForSelector(there);
      expect(await faults(page)).toEqual([]);
      // With all that unfolds.
      for (const fold of await page.$$('.checks-fold')) await fold.click();
      await page.waitForFunction(() => document.querySelectorAll('.checks-fold[aria-expanded="false"]').length === 0, { polling: 50 });
      expect(await faults(page)).toEqual([]);
    });
  });
});
