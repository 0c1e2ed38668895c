/** How the world counts that the project leaves for. */
import type { Axis, Convention } from '@foreshore/document';
import { CONVENTIONS, isRightHanded, OWN } from '@foreshore/handoff/convention';
import { Select } from '@mantine/core';
import { NumberField } from '../fields/number-field.tsx';
import { Choice } from '../fields/rows.tsx';
import { change } from '../state/project.ts';
import { Axes } from './axes.tsx';

const AXES: Record<Axis, string> = { '+x': 'X', '-x': 'minus X', '+y': 'Y', '-y': 'minus Y', '+z': 'Z', '-z': 'minus Z' };
const same = (a: Convention, b: Convention): boolean => JSON.stringify({ ...a, name: '' }) === JSON.stringify({ ...b, name: '' });

const put = (convention: Convention): void => {
  const found = CONVENTIONS.find((one) => same(one, convention));
  const named: Convention = { ...convention, name: found?.name ?? 'Our own' };
  change('Change the convention', ({ convention: _, ...d }) => (same(named, OWN) ? d : { ...d, convention: named }));
};

/** Axes in which one was moved onto another's: the other takes the one that is left. */
function withAxis(c: Convention, role: 'right' | 'up' | 'forward', axis: Axis): Convention {
  const other = (['right', 'up', 'forward'] as const).find((one) => one !== role && c[one][1] === axis[1]);
  return { ...c, [role]: axis, ...(other && { [other]: `${c[other][0]}${c[role][1]}` as Axis }) };
}

export function ConventionSettings({ convention }: { convention: Convention }) {
  const c = convention;
  const preset = CONVENTIONS.find((one) => same(one, c))?.name ?? 'Our own';
  const edit = (part: Partial<Convention>) => put({ ...c, ...part });
  return (
    <section className="handoff-part" aria-label="Convention">
      <h2>Convention</h2>
      <p className="hint">All that leaves, here and by the command line, is told as the other world counts.</p>
      <Select
        size="xs"
        label="The other world"
        value={preset}
        data={[...CONVENTIONS.map(({ name }) => name), ...(preset === 'Our own' ? ['Our own'] : [])]}
        allowDeselect={false}
        onChange={(name) => {
          const chosen = CONVENTIONS.find((one) => one.name === name);
          if (chosen) put(chosen);
        }}
      />
      <div className="convention-axes">
        <Axes convention={c} />
        <div className="convention-fields">
          <Choice label="To the right" value={c.right} choices={AXES} onChange={(axis) => put(withAxis(c, 'right', axis))} />
          <Choice label="Up" value={c.up} choices={AXES} onChange={(axis) => put(withAxis(c, 'up', axis))} />
          <Choice label="Ahead" value={c.forward} choices={AXES} onChange={(axis) => put(withAxis(c, 'forward', axis))} />
          <p className="num">{isRightHanded(c) ? 'right-handed' : 'left-handed'}</p>
        </div>
      </div>
      <div className="convention-fields convention-more">
        <NumberField
          label="Units in a metre"
          unit=""
          value={c.unitsPerMetre}
          least={1e-6}
          greatest={1e6}
          onChange={(unitsPerMetre) => edit({ unitsPerMetre })}
        />
        <Choice
          label="Angle of view"
          value={c.fov}
          choices={{ vertical: 'Vertical', horizontal: 'Horizontal', diagonal: 'Diagonal' }}
          onChange={(fov) => edit({ fov })}
        />
        <Choice
          label="Angles in"
          value={c.angles}
          choices={{ degrees: 'Degrees', radians: 'Radians' }}
          onChange={(angles) => edit({ angles })}
        />
        <Choice
          label="Rotations"
          value={c.quaternion}
          choices={{ xyzw: 'x, y, z, w', wxyz: 'w, x, y, z' }}
          onChange={(quaternion) => edit({ quaternion })}
        />
        <Choice
          label="Pixels from"
          value={c.screenOrigin}
          choices={{ topLeft: 'Top left, y down', bottomLeft: 'Bottom left, y up', centre: 'The centre' }}
          onChange={(screenOrigin) =>
            edit({ screenOrigin, screenY: screenOrigin === 'topLeft' ? 'down' : screenOrigin === 'bottomLeft' ? 'up' : c.screenY })
          }
        />
        {c.screenOrigin === 'centre' && (
          <Choice label="y goes" value={c.screenY} choices={{ up: 'Up', down: 'Down' }} onChange={(screenY) => edit({ screenY })} />
        )}
      </div>
    </section>
  );
}
