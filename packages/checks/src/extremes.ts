/** Every feed at its ends, at every viewer, in every language: what of the glass then leaves its box, its safe area, the screen, or runs into another. */

import type { EventValue } from '@foreshore/core';
import {
  type Arranged,
  arrange,
  type Compiled,
  isLarge,
  leastContrast,
  limitsOf,
  refresh,
  type TextShaper,
  type Values,
  wanted,
} from '@foreshore/core';
import { type Document, type Feed, type FeedValue, isOnHud } from '@foreshore/document';

export type End = 'least' | 'greatest';

/** One thing that goes wrong at an end. */
export interface Extreme {
  viewer: string;
  end: End;
  language: string;
  /** The document's id of the element. */
  element: string;
  fault: 'outsideScreen' | 'outsideSafeArea' | 'outsideGroup' | 'overlaps' | 'textTooLong' | 'textCut' | 'glyphMissing' | 'contrast';
  /** By how many of the viewer's pixels; 0 where that is not the point. */
  byPx: number;
  /** The other element, where two run into each other. */
  with?: string;
  /** Of `contrast`: the least there is, and what WCAG 2.2 asks at this size. */
  ratio?: { least: number; needed: number };
}

/** The value of a feed at an end: of a number its range or what its source reaches, of a text the shortest and the longest known. */
export function valueAtEnd(feed: Feed, end: End): FeedValue {
  const pick = (values: readonly number[]) => (end === 'least' ? Math.min(...values) : Math.max(...values));
  const { source, initial } = feed;
  if (feed.kind === 'flag') return end === 'greatest';
  if (feed.kind === 'event') {
    const place = source?.kind === 'events' ? source.places[0] : undefined;
    return end === 'least' ? { number: 0, place: [0, 0, 0] } : { number: 1, place: place ?? (initial as EventValue).place };
  }
  if (feed.kind === 'list') {
    const lists = [initial, ...(source?.kind === 'steps' ? source.values : [])].filter((v): v is string[] => Array.isArray(v));
    return lists.reduce((best, l) => ((end === 'least' ? l.length < best.length : l.length > best.length) ? l : best));
  }
  if (feed.kind === 'text') {
    const texts = [initial, ...(source?.kind === 'steps' ? source.values : [])].filter((v): v is string => typeof v === 'string');
    return texts.reduce((best, t) => ((end === 'least' ? t.length < best.length : t.length > best.length) ? t : best));
  }
  const reached: number[] = [initial as number, ...(feed.range ?? [])];
  if (source?.kind === 'ramp' || source?.kind === 'wander') reached.push(source.from, source.to);
  else if (source?.kind === 'sine') reached.push(source.middle - source.reach, source.middle + source.reach);
  else if (source?.kind === 'steps') reached.push(...source.values.filter((v): v is number => typeof v === 'number'));
  return pick(reached);
}

export const valuesAtEnd = (document: Document, end: End): Record<string, FeedValue> =>
  Object.fromEntries(Object.entries(document.feeds).map(([id, feed]) => [id, valueAtEnd(feed, end)]));

interface Box {
  x: number;
  y: number;
  w: number;
  h: number;
}
/** A box of the glass in the viewer's pixels. */
function boxOf(a: Arranged, row: number): Box {
  const { boxes, compiled } = a;
  const fit = a.fits[row] as number;
  const top = compiled.root[row] as number;
  const at = (k: number) => boxes[row * 4 + k] as number;
  const inner = row !== top;
  return {
    x: (at(0) + (inner ? (boxes[top * 4] as number) : 0)) * fit,
    y: (at(1) + (inner ? (boxes[top * 4 + 1] as number) : 0)) * fit,
    w: at(2) * fit,
    h: at(3) * fit,
  };
}
/** How far a box reaches beyond another, pixels; 0 where it lies inside. */
const beyond = (box: Box, around: Box): number =>
  Math.max(0, around.x - box.x, around.y - box.y, box.x + box.w - around.x - around.w, box.y + box.h - around.y - around.h);
const overlap = (a: Box, b: Box): number =>
  Math.min(Math.min(a.x + a.w, b.x + b.w) - Math.max(a.x, b.x), Math.min(a.y + a.h, b.y + b.h) - Math.max(a.y, b.y));

/** Less than this is rounding. */
const LEAST_PX = 0.5;

/** @param phase the state of the game to look at; what it hides is left out. */
export function extremes(compiled: Compiled, text: TextShaper, phase: string | null): Extreme[] {
  const { document } = compiled;
  const out: Extreme[] = [];
  for (const [viewer, described] of Object.entries(document.viewers)) {
    for (const language of [document.language, ...(document.languages ?? [])]) {
      const a = arrange(compiled, described, text, undefined, language);
      for (const end of ['least', 'greatest'] as const) {
        const atEnd = valuesAtEnd(document, end);
        const values: Values = compiled.feedOf.map((id) => atEnd[id]);
        refresh(a, values);
        out.push(...faultsOf(a, viewer, end, phase));
      }
    }
  }
  return out;
}

function faultsOf(a: Arranged, viewer: string, end: End, phase: string | null): Extreme[] {
  const { compiled, safe, projection } = a;
  const whole: Box = { x: 0, y: 0, w: projection.widthPx, h: projection.heightPx };
  const sure: Box = { x: safe.left, y: safe.top, w: safe.right - safe.left, h: safe.bottom - safe.top };
  const limits = limitsOf(compiled.document);
  const out: Extreme[] = [];
  const say = (row: number, fault: Extreme['fault'], byPx: number, other?: number) =>
    out.push({
      viewer,
      end,
      language: a.language,
      element: compiled.sources[row] as string,
      fault,
      byPx,
      ...(other === undefined ? {} : { with: compiled.sources[other] as string }),
    });
  const hidden = (row: number): boolean => {
    for (let at = row; at >= 0; at = compiled.parent[at] as number)
      if (phase !== null && compiled.elements[at]?.show?.phases[phase] === 'hidden') return true;
    return false;
  };
  const roots: number[] = [];
  for (let row = compiled.anchoredCount; row < compiled.count; row++) {
    const element = compiled.elements[row];
    const up = compiled.parent[row] as number;
    const onPanel = (compiled.panelOf[row] as number) >= 0;
    if (!element || (!onPanel && (compiled.root[row] as number) < compiled.anchoredCount) || hidden(row)) continue;
    const box = boxOf(a, row);
    const fit = a.fits[row] as number;
    const block = a.blocks[row];
    if ((a.overflow[row] as number) > 0) say(row, 'textTooLong', (a.overflow[row] as number) * fit);
    else if (block?.cut) say(row, 'textCut', 0);
    const least = leastContrast(a, row);
    const weight = element.kind === 'label' ? element.paint.weight : 400;
    const needed = isLarge((a.ems[row] as number) * fit, weight) ? limits.contrastLarge : limits.contrast;
    // It depends on no value: said once a viewer and language would be said too often.
    if (
      // How large letters on a panel are to the eye depends on where one stands: Readable tells.
      !onPanel &&
      least !== null &&
      least < needed - 1e-9 &&
      end === 'least' &&
      a.language === compiled.document.language &&
      viewer === Object.keys(compiled.document.viewers)[0]
    )
      out.push({
        viewer,
        end,
        language: a.language,
        element: compiled.sources[row] as string,
        fault: 'contrast',
        byPx: 0,
        ratio: { least, needed },
      });
    if (block && block.missing.length > 0) say(row, 'glyphMissing', 0);
    if (up >= 0) {
      const group = compiled.elements[up];
      const over = beyond(box, boxOf(a, up));
      // A member that has less room than it wants is squeezed: as much a fault as one that sticks out.
      // What scrolls is meant to be longer than its box.
      const scrolls = group?.kind === 'group' && group.layout.scroll !== undefined;
      if (group?.kind === 'group' && !scrolls && over > LEAST_PX) say(row, 'outsideGroup', over);
      else if (element.kind === 'label' && wanted(a.tree, row, 0) * fit - box.w > LEAST_PX)
        say(row, 'outsideGroup', wanted(a.tree, row, 0) * fit - box.w);
      continue;
    }
    // A panel has no place of its own on the screen.
    if (onPanel) continue;
    // A veil is meant to cover everything.
    const veil = isOnHud(element.mount) && element.mount.within === 'screen' && element.mount.stretch.some(Boolean);
    if (veil) continue;
    roots.push(row);
    const off = beyond(box, whole);
    if (off > LEAST_PX) say(row, 'outsideScreen', off);
    else if (beyond(box, sure) > LEAST_PX) say(row, 'outsideSafeArea', beyond(box, sure));
  }
  roots.forEach((row, k) => {
    for (const other of roots.slice(k + 1)) {
      const by = overlap(boxOf(a, row), boxOf(a, other));
      if (by > LEAST_PX) say(row, 'overlaps', by, other);
    }
  });
  return out;
}
