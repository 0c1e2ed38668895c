/** How findings are told in the view: by names, where the check has ids. */
import type { Finding } from '@foreshore/checks';
import type { StepName } from '@foreshore/core';
import { type Document, inOrder } from '@foreshore/document';
import { formatSeconds, sayVariant } from '@foreshore/words';
import { languageName } from '../words/languages.ts';

export const viewerName = (document: Document, id: string | null): string =>
  id === null ? 'Any viewer' : (document.viewers[id]?.name ?? id);
const routeName = (document: Document, id: string): string => document.routes[id]?.name ?? id;

/** Where and when, without the viewer where that is said already. */
export function sayWhere(document: Document, { viewer, language, route, variant, atS, forS }: Finding, besides: 'viewer' | null): string {
  const parts = [
    besides === 'viewer' || viewer === null ? null : viewerName(document, viewer),
    language !== null && (document.languages?.length ?? 0) > 0 ? languageName(language) : null,
    variant === undefined ? null : sayVariant(variant, document.phases),
    route === null ? null : `${routeName(document, route)}, ${formatSeconds(atS)} s`,
    forS > 0 ? `${formatSeconds(forS)} s in all` : null,
  ];
  return parts.filter((part) => part !== null).join(' · ');
}

/** The step that tells of what is wrong because it hides something. */
const HIDES: Partial<Record<Finding['kind'], StepName>> = { oneKey: 'claim', oneSide: 'view', unwanted: 'phase' };

/** The bench at a moment, with an element selected and a step open. */
export function benchAt(
  project: string,
  document: Document,
  { element, viewer, language, route, variant, atS }: Pick<Finding, 'element' | 'viewer' | 'language' | 'route' | 'variant' | 'atS'>,
  step: StepName,
): string {
  const query = new URLSearchParams();
  if (viewer) query.set('viewer', viewer);
  const way = route ?? inOrder(document.routes)[0]?.[0];
  if (way) query.set('route', way);
  query.set('t', String(Number(atS.toFixed(2))));
  query.set('sel', element);
  if (language && language !== document.language) query.set('lang', language);
  if (variant !== undefined) query.set('under', variant);
  query.set('step', step);
  return `/p/${project}/bench?${query}`;
}

/** The bench at the worst moment of a finding, with the step open that tells of it; of what is hidden, the step that hides it. */
export function momentOf(project: string, document: Document, finding: Finding): string {
  const { kind, unit } = finding;
  return benchAt(project, document, finding, kind === 'neverShown' ? ((unit || 'readable') as StepName) : (HIDES[kind] ?? 'readable'));
}
