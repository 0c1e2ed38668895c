/** What of an arrangement holds after a change of the document: documents are never altered, so what is the same object is as it was. */
import type { Element } from '@foreshore/document/types';
import { type Arranged, Extent, type TakesOver } from './arrange.ts';
import type { Compiled } from './compiled.ts';
import { Setting, type Settings, settingsRow } from './settings.ts';
import type { Projection } from './spaces/lens.ts';
import { fitScale } from './spaces/screen.ts';
import type { Sight } from './spaces/sight.ts';

/** So many sets of settings that no row has any more are kept. */
const MOST_UNUSED = 64;

/**
 * Takes over what was not changed, where the viewer, its lens, the language and the device are the same. The shaper must have the
 * fonts that it had.
 */
export const takenFrom =
  (before: Arranged): TakesOver =>
  (compiled, sight, viewer, text, projection, language, device, part) => {
    const [was, { document }] = [before.given.document, compiled];
    const isAlike =
      projection === undefined &&
      isSameLens(before.projection, sight.projection) &&
      before.viewer === viewer &&
      before.text === text &&
      before.language === language &&
      before.device === device &&
      before.part === part &&
      was.glass === document.glass &&
      was.language === document.language;
    const settings = isAlike ? settingsAgain(before, compiled, sight) : null;
    if (!settings) return null;
    const taken = takenRows(before, compiled);
    return {
      taken,
      settings,
      row: (a, i) => {
        if (taken[i]) takeOver(a, before, i);
        return taken[i] === 1;
      },
    };
  };

const isSameLens = (a: Projection, b: Projection): boolean =>
  (Object.keys(b) as (keyof Projection)[]).every((key) => Object.is(a[key], b[key]));

/** 1 where a row is as it was: a label that floats by itself, whose text depends on nothing but itself. */
function takenRows({ compiled: was, wordings }: Arranged, { elements, floatingCount, count }: Compiled): Uint8Array {
  const taken = new Uint8Array(count);
  for (let i = 0; i < Math.min(floatingCount, was.floatingCount); i++)
    if (wordings[i]?.isPlain && elements[i] === was.elements[i] && elements[i]?.kind === 'label') taken[i] = 1;
  return taken;
}

function takeOver(a: Arranged, before: Arranged, i: number): void {
  a.blocks[i] = before.blocks[i];
  a.ems[i] = before.ems[i] as number;
  a.overflow[i] = before.overflow[i] as number;
  a.wordings[i] = before.wordings[i];
  for (let k = 0; k < 2; k++) {
    a.tree.natural[i * 2 + k] = before.tree.natural[i * 2 + k] as number;
    a.extents[i * Extent.Stride + k] = before.extents[i * Extent.Stride + k] as number;
  }
  for (let k = 0; k < 4; k++) a.boxes[i * 4 + k] = before.boxes[i * 4 + k] as number;
  a.dirty.delete(i);
}

/** Rows whose element is the same have their settings as they were; null where too many are kept that no row has. */
function settingsAgain(before: Arranged, { elements, anchoredCount, document }: Compiled, sight: Sight): Settings | null {
  if (before.settings.length > (anchoredCount + MOST_UNUSED) * Setting.Stride) return null;
  const settingsOf = new Int32Array(anchoredCount);
  const added: number[] = [];
  for (let i = 0; i < anchoredCount; i++) {
    const element = elements[i] as Element;
    if (i < before.settingsOf.length && before.compiled.elements[i] === element) settingsOf[i] = before.settingsOf[i] as number;
    else {
      settingsOf[i] = before.settings.length + added.length;
      added.push(
        ...settingsRow(element, fitScale(document.glass, before.viewer, element.fit, sight.projection), sight.pixelsPerDegree / 60),
      );
    }
  }
  if (added.length === 0) return { settings: before.settings, settingsOf };
  const settings = new Float64Array(before.settings.length + added.length);
  settings.set(before.settings);
  settings.set(added, before.settings.length);
  return { settings, settingsOf };
}
