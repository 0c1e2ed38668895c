import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { boundsFault, valuesIn } from './bounds.ts';
import {
  applyChange,
  ConflictError,
  type Document,
  DocumentError,
  diff,
  documentJsonSchema,
  findFaults,
  freeId,
  inOrder,
  invert,
  makeDocument,
  makeLabel,
  orderAfter,
  parseDocument,
  patchSchema,
  readDocument,
  readProjectFile,
  rehearseChange,
  sameJson,
  takeBack,
  writeProjectFile,
} from './index.ts';

const sample = (): Document => {
  const document = makeDocument('Low Water');
  document.anchors.wheel = { kind: 'node', name: 'Wheel', order: 'a0', node: 'Sluice 1 wheel', offset: [0, 0, 0.1] };
  document.anchors.board = { kind: 'surface', name: 'Board', order: 'a1', node: null, position: [1, 2, 3], normal: [0, 1, 0] };
  document.anchors.between = { kind: 'midpoint', name: 'Between', order: 'a2', first: 'wheel', second: 'board' };
  document.elements.gauge = makeLabel('board', 'Tide gauge', 'a0');
  document.routes.out = {
    name: 'Out',
    order: 'a0',
    poses: [{ timeS: 0, position: [0, 1, 0], rotation: [0, 0, 0, 1] }],
    feeds: [],
    phases: [{ timeS: 0, phase: 'roaming' }],
  };
  return document;
};
// biome-ignore lint/suspicious/noExplicitAny: tests break documents in ways their type forbids
const broken = (edit: (d: any) => void): unknown => {
  const document = structuredClone(sample());
  edit(document);
  return document;
};

describe('a document', () => {
  it('is taken when it is whole', () => {
    expect(findFaults(sample())).toEqual([]);
  });

  it.each([
    ['an unknown version', (d: never) => Object.assign(d, { version: 2 }), '/version', /version 2 is not known/],
    ['another format', (d: never) => Object.assign(d, { format: 'tide' }), '/format', /"foreshore"/],
    [
      'an element on a missing anchor',
      (d: Document) => Object.assign(d.elements.gauge?.mount ?? {}, { anchor: 'gone' }),
      '/elements/gauge/mount/anchor',
      /"gone"/,
    ],
    [
      'a midpoint of a missing anchor',
      (d: Document) => Object.assign(d.anchors.between ?? {}, { second: 'gone' }),
      '/anchors/between/second',
      /"gone"/,
    ],
    [
      'a midpoint that depends on itself',
      (d: Document) => Object.assign(d.anchors.between ?? {}, { first: 'between' }),
      '/anchors/between',
      /depends on itself/,
    ],
    [
      'a route in a missing phase',
      (d: Document) => Object.assign(d.routes.out?.phases[0] ?? {}, { phase: 'gone' }),
      '/routes/out/phases/0/phase',
      /"gone"/,
    ],
    [
      'NaN',
      (d: Document) => Object.assign(d.anchors.board ?? {}, { position: [1, Number.NaN, 3] }),
      '/anchors/board/position/1',
      /NaN is not a finite number/,
    ],
    [
      'an infinity',
      (d: Document) => Object.assign(d.viewers.desk ?? {}, { distanceM: Number.POSITIVE_INFINITY }),
      '/viewers/desk/distanceM',
      /Infinity is not a finite number/,
    ],
    ['a wrong kind', (d: Document) => Object.assign(d.anchors.board ?? {}, { kind: 'cloud' }), '/anchors/board/kind', /./],
    [
      'an order that leaves no room',
      (d: Document) => Object.assign(d.anchors.board ?? {}, { order: 'b1' }),
      '/anchors/board/order',
      /fractional index/,
    ],
    ['text for a number', (d: Document) => Object.assign(d.body, { radiusM: 'wide' }), '/body/radiusM', /./],
    ['a field that is not known', (d: Document) => Object.assign(d.glass, { colour: 'red' }), '/glass', /"colour"/],
    [
      'a rotation that is none',
      (d: Document) => Object.assign(d.routes.out?.poses[0] ?? {}, { rotation: [1, 1, 1, 1] }),
      '/routes/out/poses/0/rotation',
      /length 1/,
    ],
    [
      'times that do not rise',
      (d: Document) => d.routes.out?.poses.push({ timeS: 0, position: [0, 0, 0], rotation: [0, 0, 0, 1] }),
      '/routes/out/poses/1/timeS',
      /rise/,
    ],
    [
      'limits that cross',
      (d: Document) =>
        Object.assign(d.elements.gauge ?? {}, { size: { rule: 'world', emM: 1, leastPx: 9, greatestPx: 3, hideBelowPx: 0, leavePx: 0 } }),
      '/elements/gauge/size/leastPx',
      /larger/,
    ],
  ])('is refused for %s, with its place', (_, edit, pointer, message) => {
    const faults = findFaults(broken(edit as (d: unknown) => void));
    expect(faults.map((f) => f.pointer)).toContain(pointer);
    expect(faults.find((f) => f.pointer === pointer)?.message).toMatch(message);
  });

  it('does not take ids that JavaScript objects carry themselves', () => {
    expect(findFaults(JSON.parse(JSON.stringify(sample()).replace('"gauge":', '"__proto__":'))).length).toBeGreaterThan(0);
    expect(findFaults(JSON.parse(JSON.stringify(sample()).replace('"gauge":', '"constructor":'))).length).toBeGreaterThan(0);
    expect(freeId({}, 'Constructor')).toBe('constructor-2');
  });

  it('says where its text is no JSON', () => {
    expect(() => readDocument('{"format": ')).toThrow(DocumentError);
  });

  it('has a JSON Schema in docs that is current', () => {
    expect(readFileSync(new URL('../../../docs/document.schema.json', import.meta.url), 'utf8')).toBe(documentJsonSchema());
  });
});

describe('a change', () => {
  const other = (): Document => {
    const next = structuredClone(sample());
    next.name = 'High Water';
    delete next.anchors.between;
    next.anchors.post = { kind: 'surface', name: 'Post', order: 'a4', node: null, position: [0, 0, 0], normal: [0, 0, 1] };
    return next;
  };

  it('turns one document into the other, and its inverse turns it back', () => {
    const patch = diff(sample(), other());
    expect(applyChange(sample(), patch)).toEqual(other());
    // Rehearsing alters nothing, and needs nothing.
    const rehearsed = sample();
    rehearseChange(rehearsed);
    rehearseChange({ ...rehearsed, elements: {} });
    expect(rehearsed).toEqual(sample());
    expect(applyChange(other(), invert(sample(), patch))).toEqual(sample());
  });

  it('tests what it replaces and removes', () => {
    const patch = diff(sample(), other());
    patch.forEach((op, i) => {
      if (op.op === 'replace' || op.op === 'remove') expect(patch[i - 1]).toMatchObject({ op: 'test', path: op.path });
    });
  });

  it('keeps the identity of what it does not touch', () => {
    const before = sample();
    const after = applyChange(before, diff(before, { ...before, name: 'High Water' }));
    expect(after.elements.gauge).toBe(before.elements.gauge);
  });

  it('is refused with both values where somebody else changed the same thing, and leaves the document alone', () => {
    const mine = diff(sample(), { ...sample(), name: 'Mine' });
    const theirs = { ...sample(), name: 'Theirs' };
    expect(() => applyChange(theirs, mine)).toThrow(ConflictError);
    expect(theirs.name).toBe('Theirs');
  });

  it('is refused where its result would not be a document', () => {
    expect(() => applyChange(sample(), [{ op: 'remove', path: '/anchors/board' }])).toThrow(/"board"/);
    expect(() => applyChange(sample(), [{ op: 'add', path: '/__proto__/x', value: 1 }])).toThrow(DocumentError);
    expect(() => applyChange(sample(), [{ op: 'replace', path: '/anchors/none', value: 1 }])).toThrow(ConflictError);
  });

  it('of any JSON to any other is found and applied (property)', () => {
    const json = fc.dictionary(
      fc.constantFrom('a', 'b', 'c~/d'),
      fc.oneof(fc.integer(), fc.string(), fc.array(fc.integer(), { maxLength: 3 }), fc.dictionary(fc.constantFrom('x', 'y'), fc.boolean())),
    );
    fc.assert(
      fc.property(json, json, (from, to) => {
        // The whole-document check is left out here: feeds take any string as a name.
        const wrap = (value: unknown) => ({ value });
        let at: unknown = wrap(from);
        for (const op of diff(wrap(from), wrap(to))) if (op.op !== 'test') at = patchOne(at, op as never);
        expect(sameJson(at, wrap(to))).toBe(true);
      }),
    );
  });

  it('of fields that are undefined is, as it is sent, one of fields that are not there (property)', () => {
    const deep = fc.dictionary(fc.constantFrom('x', 'y'), fc.option(fc.boolean(), { nil: undefined }));
    const json = fc.dictionary(fc.constantFrom('a', 'b', 'kind'), fc.oneof(fc.constant(undefined), fc.integer(), deep, fc.array(deep)));
    const sent = (value: unknown): unknown => JSON.parse(JSON.stringify(value));
    fc.assert(
      fc.property(json, json, (from, to) => {
        const patch = diff({ value: from }, { value: to });
        expect(patch.length === 0).toBe(JSON.stringify(sorted(from)) === JSON.stringify(sorted(to)));
        expect(sent(patch)).toEqual(patch);
        if (patch.length > 0) expect(patchSchema.safeParse(sent(patch)).success).toBe(true);
        let at = sent({ value: from });
        for (const op of patch) if (op.op !== 'test') at = patchOne(at, op as never);
        expect(at).toEqual(sent({ value: to }));
      }),
    );
  });
});
/** With its fields in one order. */
const sorted = (value: unknown): unknown =>
  Array.isArray(value)
    ? value.map(sorted)
    : typeof value === 'object' && value !== null
      ? Object.fromEntries(
          Object.entries(value)
            .sort(([a], [b]) => (a < b ? -1 : 1))
            .map(([key, of]) => [key, sorted(of)]),
        )
      : value;

/** RFC 6902 add, replace and remove on plain objects, written independently of the library in use. */
function patchOne(root: unknown, op: { op: string; path: string; value?: unknown }): unknown {
  const copy = structuredClone(root) as Record<string, never>;
  const keys = op.path
    .slice(1)
    .split('/')
    .map((k) => k.replace(/~1/g, '/').replace(/~0/g, '~'));
  const last = keys.pop() as string;
  let at: Record<string, unknown> = copy;
  for (const key of keys) at = at[key] as Record<string, unknown>;
  if (op.op === 'remove') delete at[last];
  else at[last] = op.value;
  return copy;
}

describe('an earlier change', () => {
  it('is taken back in a later document, and what came after it stays', () => {
    const before = sample();
    const [id = ''] = Object.keys(before.elements);
    const renamed = structuredClone(before);
    Object.assign(renamed.elements[id] as object, { name: 'Renamed' });
    const later = { ...structuredClone(renamed), name: 'Later' };
    expect(takeBack(later, before, renamed)).toEqual({ ...before, name: 'Later' });
    expect(takeBack(renamed, before, renamed)).toEqual(before);
  });
  it('is refused where something that it changed was changed again since, or stands there again', () => {
    const before = sample();
    const [id = ''] = Object.keys(before.elements);
    const named = (name: string): Document => {
      const document = structuredClone(before);
      Object.assign(document.elements[id] as object, { name });
      return document;
    };
    expect(() => takeBack(named('Twice'), before, named('Once'))).toThrow(ConflictError);
    // Removed by the change, and put back by somebody since: theirs is not written over.
    const feeds = { depth: { name: 'Depth', order: 'a0', kind: 'number', unit: 'm', initial: 2 } } as unknown as Document['feeds'];
    const [having, without] = [
      { ...before, feeds: { ...before.feeds, ...feeds } },
      { ...before, feeds: {} },
    ];
    expect(takeBack(without, having, without)).toEqual(having);
    expect(() => takeBack(having, having, without)).toThrow(ConflictError);
  });
});

describe('order and ids', () => {
  it('puts what is added last behind all others', () => {
    const collection: Record<string, { order: string }> = {};
    for (let i = 0; i < 200; i++) collection[`e${i}`] = { order: orderAfter(collection) };
    expect(inOrder(collection).map(([id]) => id)).toEqual(Array.from({ length: 200 }, (_, i) => `e${i}`));
  });
  it('makes ids that read like the name and are free', () => {
    expect(freeId({}, 'Tide gauge')).toBe('tide-gauge');
    expect(freeId({ 'tide-gauge': 1 }, 'Tide gauge')).toBe('tide-gauge-2');
    expect(freeId({}, '   ')).toBe('item');
  });
});

describe('the project file', () => {
  const level = Uint8Array.of(1, 2, 3, 4);
  const whole = (): Document => ({ ...sample(), level: { file: 'low-water.glb', hash: null, metresPerUnit: 1, upAxis: 'y' } });
  it('brings back what was put in, and the same project gives the same bytes', () => {
    const bytes = writeProjectFile({ document: whole(), level, fonts: { 'a.woff': Uint8Array.of(9) }, pictures: {} });
    expect(readProjectFile(bytes)).toEqual({ document: whole(), level, fonts: { 'a.woff': Uint8Array.of(9) }, pictures: {}, ownFonts: {} });
    expect(writeProjectFile({ document: whole(), level, fonts: { 'a.woff': Uint8Array.of(9) }, pictures: {} })).toEqual(bytes);
  });
  it('is refused cut short at any byte', () => {
    const bytes = writeProjectFile({ document: whole(), level, fonts: {}, pictures: {} });
    for (let cut = 0; cut < bytes.length - 1; cut += 97) expect(() => readProjectFile(bytes.subarray(0, cut))).toThrow(DocumentError);
  });
  it('is refused where the level it names is missing', () => {
    expect(() => readProjectFile(writeProjectFile({ document: whole(), level: null, fonts: {}, pictures: {} }))).toThrow(/low-water\.glb/);
  });
});

describe('what was found sound', () => {
  it('is not judged again as long as it is the same, under its own name, in its own collection', () => {
    const document = parseDocument(sample());
    const [id, element] = Object.entries(document.elements)[0] as [string, Document['elements'][string]];
    const [anchorId, anchor] = Object.entries(document.anchors)[0] as [string, Document['anchors'][string]];
    expect(findFaults(document)).toEqual([]);
    // The same object elsewhere is judged as what it is there.
    const faultsOf = (part: object) => findFaults({ ...document, ...part }).map(({ pointer }) => pointer);
    expect(faultsOf({ elements: { ...document.elements, 'Not an id!': element } })).toEqual([
      expect.stringContaining('/elements/Not an id!'),
    ]);
    expect(faultsOf({ elements: { ...document.elements, [id]: anchor } })[0]).toContain(`/elements/${id}`);
    expect(faultsOf({ anchors: { ...document.anchors, [anchorId]: element } })[0]).toContain(`/anchors/${anchorId}`);
    // What is another object is judged, and what refers to something that goes is told of.
    expect(faultsOf({ elements: { ...document.elements, [id]: { ...element, order: 7 } } })[0]).toContain(`/elements/${id}/order`);
    expect(faultsOf({ anchors: {} }).length).toBeGreaterThan(0);
  });

  it('counts against the number of values that there may be', () => {
    const document = parseDocument(sample());
    const values = boundsFault(document, 1) === null ? 0 : valuesIn(document);
    expect(boundsFault(document, values)).toBeNull();
    expect(boundsFault(document, values - 1)).not.toBeNull();
  });
});
