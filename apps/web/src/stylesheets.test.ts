/**
 * Stylesheets lie beside what they style, with names as they are written, so that tests, and whoever looks into the page, can read them.
 * What keeps them apart is checked here: a class is styled in one sheet, and a room's class is used in its room only.
 */
import { readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative } from 'node:path';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';

const SRC = dirname(fileURLToPath(import.meta.url));
const files = readdirSync(SRC, { recursive: true, encoding: 'utf8' }).map((file) => file.replaceAll('\\', '/'));
const read = (file: string) => readFileSync(join(SRC, file), 'utf8');
const sheets = files.filter((file) => file.endsWith('.css'));
const views = files.filter((file) => file.endsWith('.tsx'));

/** The classes that a sheet styles: the last one of each selector's part, so that `.room .shared` is of whoever has `.shared`. */
const styledIn = (sheet: string): Set<string> => {
  const text = read(sheet).replace(/\/\*[\s\S]*?\*\//g, '');
  const out = new Set<string>();
  for (const [, selectors = ''] of text.matchAll(/([^{}]+)\{/g))
    for (const selector of selectors.split(',')) {
      const [first] = selector.match(/\.[a-zA-Z][\w-]*/) ?? [];
      if (first) out.add(first.slice(1));
    }
  return out;
};
/** Words in the class attributes of a view, those put together in code included. */
const usedIn = (view: string): Set<string> => {
  const out = new Set<string>();
  for (const [, plain, code] of read(view).matchAll(/className=(?:"([^"]*)"|\{((?:[^{}]|\{[^{}]*\})*)\})/g))
    for (const word of (plain ?? code?.match(/['"`][^'"`]*['"`]/g)?.join(' ') ?? '').split(/[^\w-]+/)) if (word) out.add(word);
  return out;
};

describe('stylesheets', () => {
  const own = new Map(sheets.map((sheet) => [sheet, styledIn(sheet)]));
  it('style a class in one place only', () => {
    const twice: string[] = [];
    const seen = new Map<string, string>();
    for (const [sheet, classes] of own)
      for (const name of classes) {
        const other = seen.get(name);
        // What all views share may be adjusted below a class of the room, never by its own name.
        if (other) twice.push(`.${name} in ${other} and ${sheet}`);
        seen.set(name, sheet);
      }
    expect(twice).toEqual([]);
  });
  it('of a room are for its own views', () => {
    const strangers: string[] = [];
    for (const [sheet, classes] of own) {
      const room = dirname(sheet);
      if (room === '.') continue;
      for (const view of views)
        if (!view.startsWith(`${room}/`))
          for (const name of usedIn(view)) if (classes.has(name)) strangers.push(`.${name} of ${sheet} in ${relative('.', view)}`);
    }
    expect(strangers).toEqual([]);
  });
  it('style nothing that no view has', () => {
    const used = new Set(views.flatMap((view) => [...usedIn(view)]));
    const rest = [...own].flatMap(([sheet, classes]) =>
      [...classes].filter((name) => !used.has(name) && !name.startsWith('mantine-')).map((name) => `.${name} of ${sheet}`),
    );
    expect(rest).toEqual([]);
  });
});
