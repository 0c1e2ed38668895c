/** The address tells what is seen, and restores it. */
import { lookingPose } from '@foreshore/core';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fromQuery, select, toQuery, useBench } from './bench.ts';

const fresh = useBench.getInitialState();

describe('the address', () => {
  it('brings back viewer, route, second, selection, language and camera (property)', () => {
    const id = fc.stringMatching(/^[a-z][a-z0-9-]{0,12}$/);
    const metres = fc.double({ min: -500, max: 500, noNaN: true });
    fc.assert(
      fc.property(
        fc.record({
          viewer: id,
          route: id,
          selection: fc.option(id),
          language: fc.option(fc.constantFrom('de', 'ar', 'de-AT')),
          timeS: fc.double({ min: 0, max: 600, noNaN: true }),
          at: fc.option(fc.tuple(metres, metres, metres, fc.double({ min: -180, max: 180, noNaN: true }))),
        }),
        ({ at, ...seen }) => {
          const pose = at ? lookingPose([at[0], at[1], at[2]], at[3], 10) : null;
          const back = fromQuery(toQuery({ ...fresh, ...seen, pose }));
          expect(back).toMatchObject({ viewer: seen.viewer, route: seen.route });
          expect(back.selection ?? null).toBe(seen.selection);
          expect(back.language ?? null).toBe(seen.language);
          expect(Math.abs((back.timeS ?? -1) - seen.timeS)).toBeLessThanOrEqual(0.005 + 1e-9);
          expect(back.pose === undefined).toBe(pose === null);
          if (!pose) return;
          back.pose?.position.forEach((v, k) => void expect(v).toBeCloseTo(pose.position[k] as number, 3));
          const dot = back.pose?.rotation.reduce((sum, v, k) => sum + v * (pose.rotation[k] as number), 0);
          expect(dot).toBeCloseTo(1, 8);
        },
      ),
    );
  });
  it('is the same for the same, and what it says wrongly is left out', () => {
    expect(toQuery({ ...fresh, viewer: 'desk', timeS: 2 })).toBe(toQuery({ ...fresh, viewer: 'desk', timeS: 2.0000001 }));
    for (const wrong of ['t=-3', 't=soon', 'pose=1,2,3', 'pose=1,2,3,0,0,0,0', 'pose=a,b,c,d,e,f,g', 'sel=', '%%%'])
      expect(fromQuery(wrong), wrong).toEqual({});
  });
  it('reads whatever stands there without falling over (property)', () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        expect(typeof fromQuery(text)).toBe('object');
      }),
    );
  });
});

describe('selecting', () => {
  const now = () => [useBench.getState().selection, ...useBench.getState().also];
  it('takes one alone, others besides, and lets go of one that is selected again', () => {
    select('a');
    select('b', true);
    select('c', true);
    expect(now()).toEqual(['a', 'b', 'c']);
    select('a', true);
    expect(now()).toEqual(['b', 'c']);
    select('c');
    expect(now()).toEqual(['c']);
    select('d', true);
    // Whoever selects without saying more selects that one alone.
    useBench.setState({ selection: 'e' });
    expect(now()).toEqual(['e']);
    select(null);
    expect(now()).toEqual([null]);
  });
  it('takes the node with its element, keeps it where another is selected at the same one, and lets it go with the selection', () => {
    const at = () => [useBench.getState().selection, useBench.getState().node];
    select('number', false, 'Buoy 4');
    expect(at()).toEqual(['number', 'Buoy 4']);
    select('buoys', false, 'Buoy 4');
    expect(at()).toEqual(['buoys', 'Buoy 4']);
    select('buoys', false, 'Buoy 2');
    expect(at()).toEqual(['buoys', 'Buoy 2']);
    const query = toQuery(useBench.getState());
    expect(fromQuery(query)).toMatchObject({ selection: 'buoys', node: 'Buoy 2' });
    expect(fromQuery('node=Buoy+2')).not.toHaveProperty('node');
    useBench.setState({ selection: 'mast' });
    expect(at()).toEqual(['mast', null]);
    select('number', false, 'Buoy 4');
    select('mast');
    expect(at()).toEqual(['mast', null]);
  });
});
