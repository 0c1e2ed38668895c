/** How an element comes and goes, how it is turned, and by what it fits. */
import { type Action, type Element, inOrder, isOnHud, type Motion, type Movement, makeMovement } from '@foreshore/document';
import { Select, Switch } from '@mantine/core';
import { editElement } from '../../edits/edits.ts';
import { Choice, NumberRows } from '../../fields/rows.tsx';
import { useShown } from '../../state/beside.tsx';

const NONE: Motion = { enter: null, leave: null, betweenS: 0 };

/** Sets a field that may be left out; undefined leaves it out. */
const without = (element: Element, key: 'motion' | 'turnDeg' | 'fit', value: unknown): Element => {
  const { [key]: _, ...rest } = element;
  return (value === undefined ? rest : { ...rest, [key]: value }) as Element;
};

export function MotionContent({ id, element, group }: { id: string; element: Element; group: boolean }) {
  const motion = element.motion ?? NONE;
  const actions = useShown()?.actions ?? {};
  const edit = (what: string, part: Partial<Motion>) =>
    editElement(what, id, (e) => {
      const next = { ...(e.motion ?? NONE), ...part };
      return without(e, 'motion', next.enter || next.leave || next.betweenS > 0 ? next : undefined);
    });
  return (
    <>
      <NumberRows
        rows={[
          {
            label: 'Rotation, clockwise',
            unit: 'deg',
            step: 5,
            least: -360,
            greatest: 360,
            value: element.turnDeg ?? 0,
            onChange: (v) => editElement('Turn', id, (e) => without(e, 'turnDeg', v === 0 ? undefined : v)),
          },
        ]}
      />
      {isOnHud(element.mount) && (
        <Choice
          label="Fits the screen"
          value={element.fit ?? 'project'}
          choices={{
            project: 'as the project does',
            height: 'by height',
            width: 'by width',
            smaller: 'by the smaller ratio',
            angle: 'by angle at the eye',
          }}
          onChange={(fit) => editElement('Change the fit', id, (e) => without(e, 'fit', fit === 'project' ? undefined : fit))}
        />
      )}
      {(['enter', 'leave'] as const).map((when) => (
        <MovementFields
          key={when}
          when={when}
          movement={motion[when]}
          actions={actions}
          onChange={(what, movement) => edit(what, { [when]: movement })}
        />
      ))}
      {group && (
        <NumberRows
          rows={[
            {
              label: 'Stagger per member',
              unit: 's',
              step: 0.05,
              least: 0,
              greatest: 10,
              value: motion.betweenS,
              onChange: (betweenS) => edit('Change the stagger', { betweenS }),
            },
          ]}
        />
      )}
    </>
  );
}

function MovementFields({
  when,
  movement,
  actions,
  onChange,
}: {
  when: 'enter' | 'leave';
  movement: Movement | null;
  actions: Record<string, Action>;
  onChange: (what: string, movement: Movement | null) => void;
}) {
  const name = when === 'enter' ? 'Enter' : 'Leave';
  const set = (part: Partial<Movement>) => movement && onChange(`Change the ${name.toLowerCase()} motion`, { ...movement, ...part });
  return (
    <>
      <Switch
        size="xs"
        className="wide"
        label={`${name} motion`}
        checked={movement !== null}
        onChange={(event) => onChange(`Change the ${name.toLowerCase()} motion`, event.currentTarget.checked ? makeMovement() : null)}
      />
      {movement && (
        <>
          <Choice
            label={`${name} by`}
            value={movement.kind}
            choices={{ fade: 'fading', slide: 'sliding', grow: 'growing', unfold: 'unfolding' }}
            onChange={(kind) => set({ kind })}
          />
          {(movement.kind === 'slide' || movement.kind === 'unfold') && (
            <Choice
              label={`${name} edge`}
              value={movement.edge}
              choices={{ left: 'left', right: 'right', top: 'top', bottom: 'bottom' }}
              onChange={(edge) => set({ edge })}
            />
          )}
          <Choice
            label={`${name} easing`}
            value={movement.easing}
            choices={{ smooth: 'smooth', springy: 'springy', stepped: 'in six steps' }}
            onChange={(easing) => set({ easing })}
          />
          <NumberRows
            rows={[
              {
                label: `${name} time`,
                unit: 's',
                step: 0.05,
                least: 0.01,
                greatest: 30,
                value: movement.timeS,
                onChange: (timeS) => set({ timeS }),
              },
              {
                label: `${name} delay`,
                unit: 's',
                step: 0.05,
                least: 0,
                greatest: 30,
                value: movement.delayS,
                onChange: (delayS) => set({ delayS }),
              },
            ]}
          />
          <Select
            size="xs"
            label={`${name} sends, as it begins to move`}
            placeholder="nothing"
            clearable
            value={movement.sends ?? null}
            data={inOrder(actions).map(([value, action]) => ({ value, label: action.name }))}
            onChange={(sends) => set({ sends })}
          />
        </>
      )}
    </>
  );
}
