/** The messages of a document. */
import type { Element } from './schema.ts';

/** All messages of one element, in every language: a label's, and those given to a template's parameters. */
export function textsOf(element: Element): string[] {
  if (element.kind === 'label') return [element.text, ...Object.values(element.translations ?? {})];
  if (element.kind === 'group')
    return Object.values(element.template?.parameters ?? {}).flatMap(({ kind, initial, translations }) =>
      kind === 'text' && typeof initial === 'string' ? [initial, ...Object.values(translations ?? {})] : [],
    );
  if (element.kind !== 'instance') return [];
  return [
    ...Object.values(element.values).filter((value) => typeof value === 'string'),
    ...Object.values(element.translations ?? {}).flatMap((said) => Object.values(said)),
  ];
}
