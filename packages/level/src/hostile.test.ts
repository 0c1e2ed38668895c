/** Levels that would take all time or memory are refused before anything is made as large as they say. */
import { describe, expect, it } from 'vitest';
import { checkLevel } from './check.ts';
import { writeBinary } from './container.ts';
import { LevelError } from './faults.ts';
import { readLevel } from './read.ts';

const asset = { version: '2.0' };
const level = (json: object) => writeBinary({ asset, ...json } as never, new Uint8Array(64));
const chain = (length: number) => ({
  scenes: [{ nodes: [0] }],
  scene: 0,
  nodes: Array.from({ length }, (_, k) => (k + 1 < length ? { children: [k + 1] } : {})),
});
const MESH = { meshes: [{ primitives: [{ attributes: { POSITION: 0 }, indices: 1 }] }] };

describe('a level', () => {
  it.each<[string, object, RegExp]>([
    [
      'an accessor of three hundred million without data',
      { accessors: [{ componentType: 5126, count: 3e8, type: 'VEC3' }] },
      /larger than it can be/,
    ],
    [
      'an accessor far beyond its buffer view',
      {
        buffers: [{ byteLength: 64 }],
        bufferViews: [{ buffer: 0, byteLength: 64 }],
        accessors: [{ bufferView: 0, componentType: 5126, count: 3e8, type: 'VEC3' }],
      },
      /asks for 3600000000 bytes|larger than it can be/,
    ],
    ['a chain of ten thousand nodes', chain(10_000), /nodes deep/],
    [
      'one mesh a hundred thousand times',
      {
        ...MESH,
        nodes: Array.from({ length: 90_000 }, () => ({ mesh: 0 })),
        accessors: [
          { componentType: 5126, count: 3000, type: 'VEC3' },
          { componentType: 5125, count: 3000, type: 'SCALAR' },
        ],
      },
      /million triangles/,
    ],
    ['children that are no list', { nodes: [{ children: 5 }] }, /is not a list/],
    ['a count that is no number', { accessors: [{ count: 'many' }] }, /whole number/],
    ['extras nested a hundred thousand deep', {}, /levels deep/],
  ])('with %s is refused with its place', async (what, json, words) => {
    let bytes = level(json);
    if (what.startsWith('extras')) {
      // As text: values so deep cannot be written by recursion.
      const text = new TextEncoder().encode(
        `{"asset":{"version":"2.0","extras":${'['.repeat(100_000)}${']'.repeat(100_000)}}}`.padEnd(200_100),
      );
      const whole = new Uint8Array(20 + (text.length & ~3));
      const view = new DataView(whole.buffer);
      view.setUint32(0, 0x46546c67, true);
      view.setUint32(4, 2, true);
      view.setUint32(8, whole.length, true);
      view.setUint32(12, whole.length - 20, true);
      view.setUint32(16, 0x4e4f534a, true);
      whole.set(text.subarray(0, whole.length - 20), 20);
      bytes = whole;
    }
    await expect(checkLevel(bytes)).rejects.toThrow(LevelError);
    await expect(checkLevel(bytes)).rejects.toThrow(words);
    // Likewise where it is opened without being checked again, in the page.
    await expect(readLevel(bytes, { metresPerUnit: 1, upAxis: 'y' })).rejects.toThrow(words);
  });
});
