/** Settings of the Phase step: what each phase does to the element, and which conditions on feeds it needs. */
import { inOrder, type Show } from '@foreshore/document';
import { editElement } from '../../edits/edits.ts';
import { ConditionList } from '../../fields/conditions.tsx';
import type { ElementProps } from '../../fields/element-props.ts';
import { NumberField } from '../../fields/number-field.tsx';
import { useEngine } from '../../questions/engine-context.ts';
import { MemberForms } from './many-settings.tsx';

const ALWAYS: Show = { phases: {}, need: 'all', conditions: [], lingerS: 0 };
export function PhaseSettings({ id, element, document }: ElementProps) {
  const engine = useEngine();
  const show = element.show ?? ALWAYS;
  const edit = (what: string, part: Partial<Show>) =>
    editElement(what, id, ({ show: old, ...rest }) => {
      const next = { ...(old ?? ALWAYS), ...part };
      const always = Object.keys(next.phases).length === 0 && next.conditions.length === 0;
      return always ? rest : { ...rest, show: next };
    });
  const inPhase = (phase: string, what: string) => {
    const { [phase]: _, ...others } = show.phases;
    edit('Change phases', { phases: what === 'shown' ? others : { ...others, [phase]: what as 'hidden' | 'dimmed' } });
  };
  return (
    <div className="fields">
      <table className="wide phase-table">
        <tbody>
          {inOrder(document.phases).map(([phase, { name }]) => (
            <tr key={phase}>
              <th scope="row">{name}</th>
              {(['shown', 'dimmed', 'hidden'] as const).map((what) => (
                <td key={what}>
                  <label>
                    <input
                      type="radio"
                      name={`${id} ${phase}`}
                      checked={(show.phases[phase] ?? 'shown') === what}
                      onChange={() => inPhase(phase, what)}
                    />{' '}
                    {what}
                  </label>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <ConditionList
        need={show.need}
        conditions={show.conditions}
        document={document}
        valuesNow={() => engine.valuesNow()}
        onChange={(what, part) => edit(what, part)}
      />
      {show.conditions.length > 0 && (
        <NumberField
          label="Exit delay"
          unit="s"
          step={0.1}
          value={show.lingerS}
          least={0}
          onChange={(lingerS) => edit('Change lingering', { lingerS })}
        />
      )}
      <MemberForms id={id} element={element} document={document} />
    </div>
  );
}
