/** Templates: making one of a group, its parameters, what an instance sets, and detaching it. */
import { directionOf } from '@foreshore/core';
import {
  copyElement,
  detach,
  type Element,
  freeId,
  type Group,
  type Instance,
  inOrder,
  insideOf,
  isMember,
  makeInstance,
  orderAfter,
  PARAMETER_FIELDS,
  type ParameterField,
  type ParameterValue,
} from '@foreshore/document';
import { messageFault } from '@foreshore/text';
import { ActionIcon, Select, Switch, TextInput, UnstyledButton } from '@mantine/core';
import { IconPlus, IconX } from '@tabler/icons-react';
import { editElement, editKind, insideAll } from '../../edits/edits.ts';
import { NumberField } from '../../fields/number-field.tsx';
import { PictureField } from '../../fields/picture-field.tsx';
import { useBench } from '../../state/bench.ts';
import { useShown } from '../../state/beside.tsx';
import { say } from '../../state/notices.ts';
import { change, useProject } from '../../state/project.ts';
import { languageName } from '../../words/languages.ts';

type Template = NonNullable<Group['template']>;
type Parameter = Template['parameters'][string];
const KINDS = { text: 'a text', picture: 'a picture', feed: 'a feed', number: 'a number' } as const;
const START: Record<Parameter['kind'], ParameterValue> = { text: 'Text', picture: null, feed: null, number: 0 };
const FIELD_WORDS: Record<ParameterField, string> = {
  text: 'Text',
  source: 'Feed',
  picture: 'Picture',
  empty: 'Empty at',
  full: 'Full at',
};

/** A text as it is in another language, or none. */
const translated = (all: Record<string, string> | undefined, tag: string, text: string): Record<string, string> => {
  const { [tag]: _, ...others } = all ?? {};
  return text.trim() ? { ...others, [tag]: text } : others;
};

function ValueField({
  name,
  kind,
  value,
  translations,
  onChange,
  onTranslate,
}: {
  name: string;
  kind: Parameter['kind'];
  value: ParameterValue;
  translations: Record<string, string> | undefined;
  onChange: (value: ParameterValue) => void;
  onTranslate: (translations: Record<string, string>) => void;
}) {
  const document = useShown();
  if (kind === 'number') return <NumberField label={name} unit="" value={typeof value === 'number' ? value : 0} onChange={onChange} />;
  if (kind === 'picture')
    return <PictureField label={name} value={typeof value === 'string' ? value : null} none="None" onChange={onChange} />;
  if (kind === 'feed')
    return (
      <Select
        size="xs"
        label={name}
        placeholder="None yet"
        value={typeof value === 'string' ? value : null}
        data={inOrder(document?.feeds ?? {}).map(([id, f]) => ({ value: id, label: f.name }))}
        onChange={onChange}
      />
    );
  return (
    <div className="texts">
      <TextInput
        size="xs"
        label={name}
        key={String(value)}
        defaultValue={typeof value === 'string' ? value : ''}
        error={typeof value === 'string' ? messageFault(value)?.message : undefined}
        onBlur={(event) => event.currentTarget.value !== value && onChange(event.currentTarget.value)}
      />
      {(document?.languages ?? []).map((tag) => {
        const said = translations?.[tag] ?? '';
        return (
          <TextInput
            key={`${tag} ${said}`}
            size="xs"
            dir={directionOf(tag)}
            label={`${name}, in ${languageName(tag)}`}
            defaultValue={said}
            error={messageFault(said)?.message}
            onBlur={({ currentTarget }) => currentTarget.value !== said && onTranslate(translated(translations, tag, currentTarget.value))}
          />
        );
      })}
    </div>
  );
}

/** Of a group: whether it is a template, its parameters, and making use of it. */
export function TemplateContent({ id, element }: { id: string; element: Group }) {
  const { template } = element;
  const edit = (what: string, next: Template | undefined) =>
    editKind('group', what, id, ({ template: _, ...rest }) => (next ? { ...rest, template: next } : rest));
  const uses = useProject((s) => Object.values(s.document?.elements ?? {}).filter((e) => e.kind === 'instance' && e.of === id).length);
  if (!template)
    return (
      <UnstyledButton className="text-button wide" onClick={() => edit('Make a template', { parameters: {}, only: false })}>
        Make it a template
      </UnstyledButton>
    );
  const { parameters } = template;
  const put = (what: string, next: Template['parameters']) => edit(what, { ...template, parameters: next });
  const use = () => {
    const { document } = useProject.getState();
    if (!document) return;
    const { mount, place } = element;
    const beside = { mount, place: { ...place, offsetPx: [place.offsetPx[0] + 24, place.offsetPx[1] + 24] as [number, number] } };
    const instance = makeInstance(
      isMember(mount) ? insideOf(mount.group) : beside,
      id,
      `${element.name} copy`,
      orderAfter(document.elements),
    );
    const made = freeId(document.elements, instance.name);
    if (
      change(`Use ${element.name}`, (d) => ({
        ...d,
        elements: { ...d.elements, [made]: { ...instance, size: element.size, view: element.view } },
      }))
    )
      useBench.setState({ selection: made });
  };
  return (
    <div className="wide template">
      <span className="field-label">
        A template, used {uses} {uses === 1 ? 'time' : 'times'}
      </span>
      {Object.entries(parameters).map(([name, parameter]) => (
        <div key={name} className="condition">
          <TextInput
            size="xs"
            aria-label="Parameter"
            defaultValue={name}
            onBlur={(event) => {
              const next = event.currentTarget.value.trim();
              if (next === name) return;
              if (!/^[A-Za-z][A-Za-z0-9_]{0,39}$/.test(next) || parameters[next]) {
                event.currentTarget.value = name;
                say('A parameter is named by letters, digits and underscores, a letter first, and by no name twice.');
                return;
              }
              renameParameter(id, name, next);
            }}
          />
          <Select
            size="xs"
            aria-label={`Kind of ${name}`}
            allowDeselect={false}
            value={parameter.kind}
            data={Object.entries(KINDS).map(([value, label]) => ({ value, label }))}
            onChange={(kind) =>
              kind &&
              put('Change a parameter', {
                ...parameters,
                [name]: { kind: kind as Parameter['kind'], initial: START[kind as Parameter['kind']] },
              })
            }
          />
          <ActionIcon
            variant="transparent"
            className="icon-button"
            aria-label={`Remove parameter ${name}`}
            title="Remove"
            onClick={() => {
              const { [name]: _, ...rest } = parameters;
              put('Remove a parameter', rest);
            }}
          >
            <IconX size={15} />
          </ActionIcon>
          <ValueField
            name={`${name}, here`}
            kind={parameter.kind}
            value={parameter.initial}
            translations={parameter.translations}
            onChange={(initial) => put('Change a parameter', { ...parameters, [name]: { ...parameter, initial } })}
            onTranslate={(translations) => put('Translate a parameter', { ...parameters, [name]: { ...parameter, translations } })}
          />
        </div>
      ))}
      <UnstyledButton
        className="text-button"
        onClick={() => {
          let n = 1;
          while (parameters[`value${n}`]) n++;
          put('Add a parameter', { ...parameters, [`value${n}`]: { kind: 'text', initial: 'Text' } });
        }}
      >
        <IconPlus size={14} aria-hidden="true" /> Parameter
      </UnstyledButton>
      <Switch
        size="xs"
        label="Only a pattern: not shown itself"
        checked={template.only}
        onChange={(event) => edit('Switch the pattern', { ...template, only: event.currentTarget.checked })}
      />
      <div className="buttons">
        <UnstyledButton className="text-button" onClick={use}>
          Use it once more
        </UnstyledButton>
        <UnstyledButton
          className="text-button"
          disabled={uses > 0}
          title={uses > 0 ? 'It is in use: detach its instances first' : undefined}
          onClick={() => edit('Make a group of it again', undefined)}
        >
          No longer a template
        </UnstyledButton>
      </div>
    </div>
  );
}

/** The new name goes wherever the old one stood: in the template, in what uses it, in instances. */
function renameParameter(template: string, from: string, to: string): void {
  change('Rename a parameter', (d) => {
    const within = new Set([template, ...insideAll(d, template)]);
    const renamed = <V,>(record: Record<string, V>): Record<string, V> =>
      Object.fromEntries(Object.entries(record).map(([name, value]) => [name === from ? to : name, value]));
    const elements = Object.fromEntries(
      Object.entries(d.elements).map(([id, e]): [string, Element] => {
        let next = e;
        if (id === template && next.kind === 'group' && next.template)
          next = { ...next, template: { ...next.template, parameters: renamed(next.template.parameters) } };
        if (within.has(id) && next.uses)
          next = {
            ...next,
            uses: Object.fromEntries(Object.entries(next.uses).map(([field, name]) => [field, name === from ? to : name])),
          };
        if (within.has(id) && next.kind === 'label')
          next = { ...next, text: next.text.replaceAll(new RegExp(`\\{\\s*${from}\\b`, 'g'), `{${to}`) };
        if (next.kind === 'instance' && next.of === template)
          next = { ...next, values: renamed(next.values), ...(next.translations && { translations: renamed(next.translations) }) };
        return [id, next];
      }),
    );
    return { ...d, elements };
  });
}

/** Of what is inside of a template: which of its fields take on parameters' values. */
export function UsesContent({ id, element }: { id: string; element: Element }) {
  const document = useShown();
  let around: Element | undefined = element;
  for (let at: Element | undefined = element; isMember(at?.mount); ) {
    at = document?.elements[at.mount.group];
    if (at?.kind === 'group' && at.template) around = at;
  }
  const parameters = around?.kind === 'group' ? (around.template?.parameters ?? {}) : {};
  const fields = (Object.keys(PARAMETER_FIELDS) as ParameterField[]).filter((field) => field in element);
  if (Object.keys(parameters).length === 0 || fields.length === 0 || around === element) return null;
  return fields.map((field) => {
    const fitting = Object.entries(parameters).filter(([, { kind }]) => kind === PARAMETER_FIELDS[field]);
    if (fitting.length === 0) return null;
    return (
      <Select
        key={field}
        size="xs"
        label={`${FIELD_WORDS[field]} from the parameter`}
        placeholder="Its own"
        clearable
        value={element.uses?.[field] ?? null}
        data={fitting.map(([name]) => name)}
        onChange={(name) =>
          editElement('Use a parameter', id, (e) => {
            const { [field]: _, ...others } = e.uses ?? {};
            const uses = name ? { ...others, [field]: name } : others;
            const { uses: __, ...rest } = e;
            return (Object.keys(uses).length ? { ...rest, uses } : rest) as Element;
          })
        }
      />
    );
  });
}

export function InstanceContent({ id, element }: { id: string; element: Instance }) {
  const document = useShown();
  const template = document?.elements[element.of];
  if (template?.kind !== 'group' || !template.template) return null;
  const { parameters } = template.template;
  return (
    <>
      <p className="wide hint">
        It follows{' '}
        <UnstyledButton className="link-button" onClick={() => useBench.setState({ selection: element.of })}>
          {template.name}
        </UnstyledButton>
        , but for what is set here.
      </p>
      {Object.entries(parameters).map(([name, { kind, initial, translations }]) => {
        const own = element.values[name];
        return (
          <div key={name} className="wide condition">
            <ValueField
              name={own === undefined ? `${name}, as in the template` : name}
              kind={kind}
              value={own ?? initial}
              translations={own === undefined ? translations : element.translations?.[name]}
              onChange={(value) =>
                editKind('instance', 'Set a parameter', id, (e) => ({ ...e, values: { ...e.values, [name]: value ?? '' } }))
              }
              onTranslate={(said) =>
                // A text with translations of its own is a text of its own.
                editKind('instance', 'Translate a parameter', id, (e) => ({
                  ...e,
                  values: { ...e.values, [name]: own ?? initial ?? '' },
                  translations: { ...e.translations, [name]: said },
                }))
              }
            />
            {own !== undefined && (
              <UnstyledButton
                className="text-button"
                onClick={() =>
                  editKind('instance', 'Follow the template', id, (e) => {
                    const { [name]: _, ...values } = e.values;
                    const { [name]: __, ...said } = e.translations ?? {};
                    const { translations: ___, ...others } = e;
                    return { ...others, values, ...(Object.keys(said).length > 0 && { translations: said }) };
                  })
                }
              >
                Follow again
              </UnstyledButton>
            )}
          </div>
        );
      })}
      {Object.keys(parameters).length === 0 && <p className="wide hint">Its template has no parameters yet.</p>}
      <UnstyledButton
        className="text-button wide"
        onClick={() => {
          let kept: string[] = [];
          const done = change(`Detach ${element.name}`, (d) => {
            const made = detach(d, id);
            kept = made?.kept ?? [];
            return made?.document ?? d;
          });
          if (done) say(keptWords('It is a group of its own now', kept));
        }}
      >
        Detach from the template
      </UnstyledButton>
    </>
  );
}

const keptWords = (what: string, kept: readonly string[]): string =>
  kept.length ? `${what}. It still refers to ${kept.join(', ')}.` : `${what}.`;

/** Copies the selected element with all that is inside, beside it. */
export function duplicateElement(id: string): void {
  let made: { id: string; kept: string[] } | null = null;
  const done = change('Duplicate', (d) => {
    const order = orderAfter(d.elements);
    const copied = copyElement(d, id, (e) => ({
      ...e,
      name: `${e.name} copy`.slice(0, 200),
      order,
      ...(isMember(e.mount) ? {} : { place: { ...e.place, offsetPx: [e.place.offsetPx[0] + 24, e.place.offsetPx[1] + 24] } }),
    }));
    made = copied;
    return copied.document;
  });
  const copy = made as { id: string; kept: string[] } | null;
  if (!done || !copy) return;
  useBench.setState({ selection: copy.id });
  say(keptWords('It was copied', copy.kept));
}
