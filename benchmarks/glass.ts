/** A glass of 500 elements with 50 changing values a frame, against walking the same tree. */
import { type Arranged, arrange, compile, type Inputs, makeSolver, solve, type Values } from '@foreshore/core';
import { barForm, type Document, insideOf, makeDocument, makeGauge, makeGroup, makeText, onGlass } from '@foreshore/document';
import { shippedShaper } from '@foreshore/text/node';
import { type Row, timeInTurn } from './measure.ts';

const TRAYS = 50;

/** Fifty trays of ten: the tray, a line with a name and a value, a bar, and five plain texts; each value and bar has a feed of its own. */
function manyTrays(): Document {
  const document = makeDocument('Low Water');
  for (let k = 0; k < TRAYS; k++) {
    const id = (part: string) => `${part}${k}`;
    document.feeds[id('f')] = { name: id('f'), order: `a${k}`, kind: 'number', unit: '', initial: k };
    document.elements[id('tray')] = makeGroup(onGlass([(k % 10) / 9, Math.floor(k / 10) / 4]), id('tray'), 'column', `a${k}a`);
    document.elements[id('line')] = makeGroup(insideOf(id('tray')), id('line'), 'row', `a${k}b`);
    document.elements[id('name')] = makeText(insideOf(id('line')), `Gauge ${k}`, `a${k}c`);
    document.elements[id('value')] = makeText(insideOf(id('line')), `{${id('f')}, number, ::.0} m`, `a${k}d`);
    document.elements[id('bar')] = makeGauge(insideOf(id('tray')), id('bar'), id('f'), barForm(), `a${k}e`);
    for (let n = 0; n < 5; n++) document.elements[`${id('plain')}x${n}`] = makeText(insideOf(id('tray')), `Line ${n}`, `a${k}f${n}`);
  }
  return document;
}

/** What any layout does at the least: comes by every box of the tree once and adds it to its parent's. */
function walkTree(a: Arranged, sums: Float64Array): void {
  const { parent, count } = a.compiled;
  for (let i = 0; i < count; i++) {
    const up = parent[i] as number;
    for (let k = 0; k < 4; k++) sums[i * 4 + k] = (a.boxes[i * 4 + k] as number) + (up < 0 ? 0 : (sums[up * 4 + k] as number));
  }
}

export function glassRows(): Row[] {
  const document = manyTrays();
  const a = arrange(compile(document, null), document.viewers.desk as never, shippedShaper());
  const solver = makeSolver(a);
  const n = a.compiled.count;
  const sums = new Float64Array(n * 4);
  const values: Values = [...a.seen];
  const inputs: Inputs = { timeS: 0.5, head: { position: [0, 0, 0], rotation: [0, 0, 0, 1] }, depthOrder: false, values };
  const frame = (changing: number) => () => {
    inputs.timeS += 1 / 60;
    for (let k = 0; k < changing; k++) values[k] = ((values[k] as number) + 0.1) % 100;
    solve(solver, inputs);
  };
  const before = { ...a.made };
  frame(1)();
  const texts = a.made.texts - before.texts;
  // A game shows its interface for minutes: what is measured is compiled code, as the engine has it after some seconds.
  for (let warm = 0; warm < 1500; warm++) frame(50)();
  const repeat = (times: number, one: () => void) => () => {
    for (let k = 0; k < times; k++) one();
  };
  const [walkMs = 0, stillMs = 0, fewMs = 0] = timeInTurn(60, [
    repeat(100, () => walkTree(a, sums)),
    repeat(100, frame(0)),
    repeat(4, frame(50)),
  ]);
  const walk = walkMs / 100;
  return [
    { name: 'walking the tree of the glass', n, medianMs: walk, ratio: 1 },
    { name: 'solve the glass, nothing changes / walking it', n, medianMs: stillMs / 100, ratio: stillMs / 100 / walk },
    { name: 'solve the glass, 50 values change / walking it', n, medianMs: fewMs / 4, ratio: fewMs / 4 / walk, textsForOneValue: texts },
  ];
}
