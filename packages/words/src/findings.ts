/** Findings of a check in words. */
import { FINDING_KINDS, type Finding, type Found } from '@foreshore/checks';
import type { StepName } from '@foreshore/core';
import type { Document } from '@foreshore/document';
import { sayShortfall } from './facts.ts';
import { STEP_TITLES } from './names.ts';
import { formatMetres, formatNumber, formatPercent, formatSeconds } from './quantities.ts';
import { sayLoose } from './unfinished.ts';
import { sayVariant } from './variants.ts';

type Told = Omit<Found, 'element' | 'atS' | 'forS'> & Pick<Finding, 'loose'>;
/** What is wrong, without where and when. @param names of elements, by id. */
export function sayFinding(finding: Told, names: Readonly<Record<string, string>>): string {
  const { kind, shortfall, value, bound, unit, loose } = finding;
  if (loose) return loose.map(sayLoose).join(' ');
  if (shortfall) {
    // All that the sentence needs of a document is what its elements are called.
    const elements = Object.fromEntries(Object.entries(names).map(([id, name]) => [id, { name }]));
    return sayShortfall(shortfall, { elements } as unknown as Document);
  }
  if (kind === 'brief') return `shown for ${formatSeconds(value)} s without a break, needs ${formatSeconds(bound)} s to be read`;
  if (kind === 'flickers') return `comes and goes within ${formatSeconds(value)} s; changes keep ${formatNumber(bound)} s apart`;
  if (kind === 'oneKey')
    return `never has its key: ${names[finding.by ?? ''] ?? 'another prompt'} has it, ${formatMetres(value)} m from it; another key, place or priority parts them`;
  if (kind === 'swallowed' && finding.by === undefined)
    return `draws nothing, and keeps presses from the world on ${formatPercent(value)} % of the screen`;
  if (kind === 'swallowed')
    return `${formatPercent(value)} % of it cannot be pressed: ${names[finding.by ?? ''] ?? 'another element'} takes ${finding.byRay ? 'the ray that points at it' : 'the press'}`;
  if (kind === 'leaked') return `presses beside its controls go to the world on ${formatPercent(value)} % of it`;
  if (kind === 'costly')
    return unit === 'pieces'
      ? `a frame draws ${formatNumber(value)} pieces, its budget is ${formatNumber(bound)}; most of them are of this element`
      : `a frame lays ${formatNumber(value)} screens of paint, its budget is ${formatNumber(bound)}; most of it is of this element`;
  if (kind === 'unwanted') return `shown in the phase ${finding.phase?.name ?? ''}, which is to be quiet`;
  if (kind === 'oneSide')
    return `turns its back to who is ${formatMetres(value)} m away, and is meant to be read from ${formatMetres(bound)} m; both of its sides can be read where it says so`;
  if (kind === 'neverShown') return `never shown on any of the routes${unit ? `: ${STEP_TITLES[unit as StepName] ?? unit} hides it` : ''}`;
  return FINDING_KINDS[kind].title.toLowerCase();
}

/** How many members of a group findings are told with, or null. */
export function sayMembers(told: readonly Finding[]): string | null {
  const count = new Set(told.flatMap(({ members = [] }) => members.map(({ element }) => element))).size;
  return count === 0 ? null : `with ${count === 1 ? 'one' : count} of its members`;
}

/** Where and when: the viewer, the route at its worst, for how long in all, and how many members of a group it is told with. */
export function sayWhere(finding: Finding): string {
  const { viewer, route, language, variant, atS, forS } = finding;
  const parts = [
    viewer,
    language,
    variant === undefined ? null : sayVariant(variant, {}),
    route === null ? null : `${route} at ${formatSeconds(atS)} s`,
    forS > 0 ? `for ${formatSeconds(forS)} s in all` : null,
    sayMembers([finding]),
  ];
  return parts.filter((part) => part !== null).join(', ');
}
