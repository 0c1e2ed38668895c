/**
 * Makes what the example game plays: two exports of the Low Water demo, of the elements it uses. The second is the same interface
 * after a designer's afternoon: German, the HUD on the other side, larger names, a key that is held. The game's code is the same.
 */

import { createHash } from 'node:crypto';
import { mkdirSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { demo } from '@foreshore/demo';
import { type Document, type Element, makeCrosshair, readDocument } from '@foreshore/document';
import { exportFiles } from '@foreshore/handoff';
import { readLevel } from '@foreshore/level';

const ELEMENTS = [
  ...[
    'lamp-mast',
    'dinghy',
    'pump-house',
    'boat-shed',
    'tide-board',
    'sluice-1',
    'sluice-2',
    'sluice-3',
    'mooring-1',
    'mooring-2',
    'stakes',
  ],
  ...['prompt-wheel', 'prompt-door', 'prompt-tide', 'prompt-pump', 'vitals', 'tide', 'lamp-dial', 'objective', 'samples'],
  ...['pump-screen', 'brass-plate', 'aim'],
];

export function first(): Document {
  const document = readDocument(JSON.stringify(demo.document()));
  const crosshair = { ...makeCrosshair('Aim', 'speed', 'b0'), sizePx: 36 } as Element;
  return { ...document, name: 'Causeway', elements: { ...document.elements, aim: crosshair } };
}

export function second(): Document {
  const document = first();
  const elements = Object.fromEntries(
    Object.entries(document.elements).map(([id, element]): [string, Element] => {
      if (element.mount.kind === 'glass' && element.kind === 'group' && element.mount.pin[0] !== 0.5) {
        const flip = ([x, y]: readonly [number, number]): [number, number] => [1 - x, y];
        const { ownPoint, offsetPx } = element.place;
        return [
          id,
          {
            ...element,
            mount: { ...element.mount, pin: flip(element.mount.pin) },
            place: { ...element.place, ownPoint: flip(ownPoint), offsetPx: [-offsetPx[0], offsetPx[1]] },
          },
        ];
      }
      if (element.press?.how === 'press') return [id, { ...element, press: { ...element.press, how: 'hold', holdS: 0.6 } as never }];
      if (element.kind === 'label' && element.mount.kind === 'floating' && element.size.rule === 'screen')
        return [id, { ...element, size: { ...element.size, emPx: element.size.emPx * 1.25 } }];
      return [id, element];
    }),
  );
  return { ...document, name: 'Causeway, second', elements };
}

const pictures = Object.fromEntries(
  Object.values(demo.pictures()).map((bytes) => [createHash('sha256').update(bytes).digest('hex'), bytes] as const),
);

export async function make(folder: string): Promise<void> {
  for (const [name, document] of [
    ['first', first()],
    ['second', second()],
  ] as const) {
    const level = await readLevel(demo.level(), { metresPerUnit: 1, upAxis: 'y' });
    const project = { document, level, picture: (hash: string) => pictures[hash], font: () => undefined };
    const files = exportFiles(project, { elements: ELEMENTS, viewers: ['desk'], withLevel: true });
    for (const [file, bytes] of Object.entries(files)) {
      mkdirSync(dirname(join(folder, name, file)), { recursive: true });
      writeFileSync(join(folder, name, file), bytes);
    }
  }
  writeFileSync(join(folder, 'low-water.glb'), demo.level());
}

const [folder] = process.argv.slice(2);
if (folder) await make(folder);
