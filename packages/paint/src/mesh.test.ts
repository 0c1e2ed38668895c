/** Every triangle of a picture's grid puts its part of the picture where the grid is seen. */
import fc from 'fast-check';
import { expect, it } from 'vitest';
import { meshTriangles } from './mesh.ts';

const number = (least: number, most: number) => fc.double({ min: least, max: most, noNaN: true });

it('maps the corners of each half of a cell onto the grid, and covers every cell twice by halves (property)', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 1, max: 4 }),
      fc.integer({ min: 1, max: 4 }),
      fc.tuple(number(0, 50), number(0, 50), number(1, 300), number(1, 300)),
      number(0.3, 3),
      number(-0.2, 0.2),
      (columns, rows, from, scale, lean) => {
        const seen = (i: number, j: number): [number, number] => [100 + i * 40 + j * lean * 40, 80 + j * 30 + i * lean * 30];
        const points = Float64Array.from(
          Array.from({ length: rows + 1 }, (_, j) => Array.from({ length: columns + 1 }, (_, i) => seen(i, j))).flat(2),
        );
        const found = meshTriangles({ from, mesh: { columns, rows, points } }, scale, 1);
        expect(found).toHaveLength(columns * rows * 2);
        for (const { corners, matrix } of found) {
          const [a, b, c, d, e, f] = matrix;
          for (const [x, y] of corners) {
            // Which point of the grid that is, from where it is seen; and the place of the picture that belongs there.
            const k = [...Array(points.length / 2).keys()].find((n) => points[n * 2] === x && points[n * 2 + 1] === y) as number;
            const [i, j] = [k % (columns + 1), Math.floor(k / (columns + 1))];
            const [u, v] = [(from[0] + (from[2] * i) / columns) * scale, from[1] + (from[3] * j) / rows];
            expect(a * u + c * v + e).toBeCloseTo(x, 6);
            expect(b * u + d * v + f).toBeCloseTo(y, 6);
          }
        }
      },
    ),
  );
});
