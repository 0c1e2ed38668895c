/** Settings of what floats where it is far away or one of many: its details, what of it is there in which form, merging, the nearest (Place). */
import { type Detail, type Document, type Element, type Many, MOST_DETAIL } from '@foreshore/document';
import { Checkbox, Switch, UnstyledButton } from '@mantine/core';
import { IconMinus, IconPlus } from '@tabler/icons-react';
import { type Form, formsOf, insideOfGroup, isThereIn, setForm, withForm } from '../../edits/forms.ts';
import { DraftText } from '../../fields/draft-fields.tsx';
import { NumberField } from '../../fields/number-field.tsx';
import { Choice } from '../../fields/rows.tsx';

type Place = Element['place'];
type Edit = (part: Partial<Place>) => void;

const FIRST: Record<Detail['by'], Detail> = {
  distance: { by: 'distance', at: [15, 40], leaveShare: 0.1 },
  size: { by: 'size', at: [60, 20], leaveShare: 0.1 },
};
const UNITS: Record<Detail['by'], string> = { distance: 'm', size: 'px' };

export function ManySettings({ id, element, document, edit }: { id: string; element: Element; document: Document; edit: Edit }) {
  const { place } = element;
  const template = element.kind === 'instance' ? document.elements[element.of] : undefined;
  const isGroup = element.kind === 'group' || element.kind === 'instance';
  return (
    <>
      {isGroup && <DetailSettings detail={place.detail} inherited={template?.place.detail !== undefined} edit={edit} />}
      <CrowdSettings many={place.many} inherited={template?.place.many !== undefined} edit={edit} />
      {element.kind === 'group' && <FormTable id={id} element={element} document={document} />}
      {element.kind === 'instance' && template && (
        <p className="hint wide">What is there in which form is set in its template, {template.name}.</p>
      )}
    </>
  );
}

function DetailSettings({ detail, inherited, edit }: { detail: Detail | undefined; inherited: boolean; edit: Edit }) {
  const set = (part: Partial<Detail>) => detail && edit({ detail: { ...detail, ...part } });
  if (inherited && !detail) return <p className="hint wide">Shows less where it is far away, as its template says.</p>;
  return (
    <>
      <Switch
        className="wide"
        size="xs"
        label="Shows less of itself where it is far away"
        checked={detail !== undefined}
        onChange={(event) => edit({ detail: event.currentTarget.checked ? FIRST.distance : undefined })}
      />
      {detail && (
        <>
          <Choice
            label="Far away is"
            value={detail.by}
            choices={{ distance: 'By distance from the eye', size: 'By how large a metre is seen' }}
            onChange={(by) => edit({ detail: FIRST[by] })}
          />
          {detail.at.map((bound, k) => (
            <NumberField
              key={`${k} of ${detail.at.length}`}
              label={detail.by === 'distance' ? `Detail ${k + 2} from` : `Detail ${k + 2} where a metre is at most`}
              unit={UNITS[detail.by]}
              value={bound}
              {...boundsOf(detail, k)}
              onChange={(value) => set({ at: detail.at.map((v, i) => (i === k ? value : v)) })}
            />
          ))}
          <NumberField
            label="Back to more once nearer by"
            unit="%"
            value={Math.round(detail.leaveShare * 1000) / 10}
            least={0}
            greatest={50}
            onChange={(percent) => set({ leaveShare: percent / 100 })}
          />
          <div className="wide buttons">
            <UnstyledButton
              className="text-button"
              disabled={detail.at.length >= MOST_DETAIL - 1}
              onClick={() => set({ at: [...detail.at, farther(detail)] })}
            >
              <IconPlus size={14} aria-hidden="true" /> Detail
            </UnstyledButton>
            <UnstyledButton className="text-button" disabled={detail.at.length < 2} onClick={() => set({ at: detail.at.slice(0, -1) })}>
              <IconMinus size={14} aria-hidden="true" /> Last detail
            </UnstyledButton>
          </div>
        </>
      )}
    </>
  );
}

/** Between the bounds before and after it. */
function boundsOf({ by, at }: Detail, k: number): { least: number; greatest: number } {
  const [before, after] = [at[k - 1], at[k + 1]];
  const step = 0.1;
  return by === 'distance'
    ? { least: before === undefined ? step : before + step, greatest: after === undefined ? 100_000 : after - step }
    : { least: after === undefined ? step : after + step, greatest: before === undefined ? 100_000 : before - step };
}

const farther = ({ by, at }: Detail): number => {
  const last = at.at(-1) as number;
  return by === 'distance' ? last * 2 : last / 2;
};

function CrowdSettings({ many, inherited, edit }: { many: Many | undefined; inherited: boolean; edit: Edit }) {
  const set = (part: Partial<Many>) => {
    const { mergePx, most, kind } = { ...many, ...part };
    const next: Many = {
      ...(kind !== undefined && kind !== '' && { kind }),
      ...(mergePx !== undefined && { mergePx }),
      ...(most && { most }),
    };
    edit({ many: mergePx !== undefined || most ? next : undefined });
  };
  if (inherited && !many) return <p className="hint wide">Counts among many of its kind as its template says.</p>;
  return (
    <>
      <NumberField
        label="Merged with its kind when closer than (0: never)"
        unit="px"
        value={many?.mergePx ?? 0}
        least={0}
        greatest={2000}
        onChange={(px) => set({ mergePx: px > 0 ? px : undefined })}
      />
      <NumberField
        label="Of its kind, only the nearest (0: all)"
        unit=""
        value={many?.most?.count ?? 0}
        least={0}
        greatest={1000}
        onChange={(count) => set({ most: count >= 1 ? { among: 'shown', ...many?.most, count: Math.round(count) } : undefined })}
      />
      {many?.most && (
        <Choice
          label="The nearest of"
          value={many.most.among}
          choices={{ shown: 'Those that would be shown', all: 'All there are' }}
          onChange={(among) => many.most && set({ most: { ...many.most, among } })}
        />
      )}
      {many && (
        <>
          <DraftText
            label="Kind (empty: the same template or anchor)"
            value={many.kind ?? ''}
            onKeep={(kind) => set({ kind: kind.trim() })}
          />
          {many.mergePx !== undefined && (
            <p className="hint wide">A text inside may name {'{merged}'}: how many it stands for, itself included.</p>
          )}
        </>
      )}
    </>
  );
}

const COLUMN: Record<Form['key'], (value: Form['value'], detail: Detail | undefined) => { head: string; said: string }> = {
  detail: (value, detail) => {
    const k = value as number;
    const unit = detail ? UNITS[detail.by] : '';
    const from = detail?.at[k - 1];
    const to = detail?.at[k];
    return {
      head: `${k + 1}`,
      said: `detail ${k + 1}${from === undefined ? '' : `, from ${from} ${unit}`}${to === undefined ? '' : `, to ${to} ${unit}`}`,
    };
  },
  edge: (value) => (value ? { head: 'edge', said: 'at the edge of the frame' } : { head: 'view', said: 'in view' }),
  merged: (value) => (value ? { head: 'several', said: 'standing for several' } : { head: 'one', said: 'standing for itself' }),
};

/** What is inside of a group, and in which of the group's forms it is there. */
function FormTable({ id, element, document }: { id: string; element: Element; document: Document }) {
  const forms = formsOf(element);
  const inside = insideOfGroup(document, id);
  if (forms.length === 0) return null;
  if (inside.length === 0) return <p className="hint wide">The group has no members yet: what is put in can be left out of its forms.</p>;
  const { detail } = element.place;
  return (
    <table className="wide phase-table" aria-label="What is there in which form">
      <thead>
        <tr>
          <th scope="col">Member</th>
          {forms.map(({ key, value }) => {
            const { head, said } = COLUMN[key](value, detail);
            return (
              <th key={`${key} ${value}`} scope="col" title={said}>
                {head}
              </th>
            );
          })}
        </tr>
      </thead>
      <tbody>
        {inside.map(({ id: member, element: { name, only }, depth }) => (
          <tr key={member}>
            <th scope="row" style={{ paddingLeft: depth * 10 }}>
              {name}
            </th>
            {forms.map((form) => {
              const there = isThereIn(only, form);
              const last = there && withForm(only, form, false, (detail?.at.length ?? 0) + 1) === null;
              const { said } = COLUMN[form.key](form.value, detail);
              return (
                <td key={`${form.key} ${form.value}`}>
                  <Checkbox
                    size="xs"
                    aria-label={`${name}, ${said}`}
                    title={last ? 'It must be there in one of them' : said}
                    disabled={last}
                    checked={there}
                    onChange={(event) => setForm(member, form, event.currentTarget.checked, detail)}
                  />
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Of a member: in which forms of the group that floats around it it is there. Nothing where that group has but one. */
export function MemberForms({ id, element, document }: { id: string; element: Element; document: Document }) {
  let top: [string, Element] | null = null;
  for (let up: Element | undefined = element; up?.mount.kind === 'inside'; ) {
    const { group }: { group: string } = up.mount;
    up = document.elements[group];
    top = up ? [group, up] : null;
  }
  const floats = top?.[1].mount.kind === 'floating' || (top?.[1].kind === 'group' && top[1].template !== undefined);
  const forms = top && floats ? formsOf(top[1]) : [];
  if (!top || forms.length === 0) return null;
  const { detail } = top[1].place;
  return (
    <fieldset className="wide joined">
      <legend>There in these forms of {top[1].name}</legend>
      {forms.map((form) => {
        const there = isThereIn(element.only, form);
        const { said } = COLUMN[form.key](form.value, detail);
        return (
          <Checkbox
            key={`${form.key} ${form.value}`}
            size="xs"
            label={said}
            disabled={there && withForm(element.only, form, false, (detail?.at.length ?? 0) + 1) === null}
            checked={there}
            onChange={(event) => setForm(id, form, event.currentTarget.checked, detail)}
          />
        );
      })}
    </fieldset>
  );
}
