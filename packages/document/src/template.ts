/**
 * Templates: a group that others use again. Where an instance stands, there stands the group with all that is inside,
 * each field that uses a parameter having that parameter's value. Core reads this; it needs nothing but types.
 */
import { PARAMETER_FIELDS, type ParameterField } from './parameter-fields.ts';
import type { Element, Group, Instance } from './schema.ts';

export type ParameterValue = string | number | null;
/** What texts are in the other languages: by parameter, then by the language's tag. */
export type ParameterTranslations = Readonly<Record<string, Readonly<Record<string, string>>>>;

/** The value of each parameter of a template in an instance: its own value, or the template's. */
export function parameterValues(template: Group, instance: Pick<Instance, 'values'>): Record<string, ParameterValue> {
  return Object.fromEntries(
    Object.entries(template.template?.parameters ?? {}).map(([name, { initial }]) => [name, instance.values[name] ?? initial]),
  );
}

/** What the texts among those values are in other languages: a value of the instance's own has translations of its own. */
export function parameterTranslations(template: Group, instance: Pick<Instance, 'values' | 'translations'>): ParameterTranslations {
  return Object.fromEntries(
    Object.entries(template.template?.parameters ?? {}).flatMap(([name, { translations }]) => {
      const said = instance.values[name] === undefined ? translations : instance.translations?.[name];
      return said ? [[name, said]] : [];
    }),
  );
}

/** An element with its fields that use parameters set to their values. A value of another kind than the field is left out. */
export function withParameters<E extends Element>(
  element: E,
  values: Readonly<Record<string, ParameterValue>>,
  translations: ParameterTranslations,
): E {
  if (!element.uses) return element;
  const out: Record<string, unknown> = { ...element };
  for (const [field, name] of Object.entries(element.uses)) {
    const value = values[name];
    if (value === undefined || !(field in element)) continue;
    // What the element itself was translated to is another text than the parameter's.
    if (field === 'text') {
      const { [name]: own } = translations;
      if (own) out.translations = own;
      else delete out.translations;
    }
    if ((PARAMETER_FIELDS[field as ParameterField] === 'number') !== (typeof value === 'number')) {
      if (field !== 'text') continue;
      out.text = String(value);
    } else out[field] = value === '' && field !== 'text' ? null : value;
  }
  return out as E;
}

/**
 * The group as it stands where an instance is: carried, shown and moved as the instance says. What every kind of element has is
 * the instance's, where it says anything of it; of the group are its layout, its paint and what the instance leaves open. When it
 * shows and what it is about is never the group's own.
 */
export function standIn(template: Group, instance: Instance): Group {
  const group = omit(template, ['template', 'show', 'about']);
  const own = omit(instance, ['kind', 'of', 'values', 'translations', 'uses', 'paint']);
  const { detail = template.place.detail, many = template.place.many } = own.place;
  const place = { ...own.place, ...(detail && { detail }), ...(many && { many }) };
  return { ...group, ...own, place, paint: { ...template.paint, opacity: template.paint.opacity * instance.paint.opacity } };
}

function omit<T extends object, K extends keyof T>(from: T, keys: readonly K[]): Omit<T, K> {
  const out = { ...from };
  for (const key of keys) delete out[key];
  return out;
}
