/** What no route of a check reaches: elements that none shows, phases that none is in, actions that nothing on them offers. */
import { phaseAt, STEPS, type StepName } from '@foreshore/core';
import { type Document, elementsThatSend, inOrder, type Route } from '@foreshore/document';

/** Something of the document, as it was called. */
export interface Named {
  id: string;
  name: string;
}
/** What is known of a document beside what was measured: phases that routes are never in, and all actions with what sends each. */
export interface Offered {
  phases: Named[];
  actions: (Named & { senders: string[] })[];
}
/** What of a run says it. */
export interface Covered {
  parts: readonly unknown[];
  /** What each part of it showed, seconds by element, and what hid the rest. */
  results: readonly { variant?: string; shown: Readonly<Record<string, { forS: number; hiddenBy: string | null }>> }[];
  names: Readonly<Record<string, string>>;
  groups: Readonly<Record<string, string | null>>;
  offered?: Offered;
}

export interface Coverage {
  /** What is inside of one that is named is not named itself. */
  elements: { element: string; hiddenBy: StepName | null }[];
  phases: Offered['phases'];
  /** Without senders: nothing sends it. */
  actions: Offered['actions'];
}

/** Phases that a route is in at some time. */
const phasesOn = (document: Document, route: Route): (string | null)[] => [
  phaseAt(document, route, 0),
  ...route.phases.map(({ phase }) => phase),
];

/** What a run is to know of its document, so that it can be said what its routes do not reach. */
export function offeredOf(document: Document, parts: readonly { route: string }[]): Offered {
  const routes = [...new Set(parts.map(({ route }) => route))];
  const reached = new Set(routes.flatMap((id) => (document.routes[id] ? phasesOn(document, document.routes[id]) : [])));
  return {
    phases: inOrder(document.phases).flatMap(([id, { name }]) => (reached.has(id) ? [] : [{ id, name }])),
    actions: inOrder(document.actions ?? {}).map(([id, { name }]) => ({ id, name, senders: elementsThatSend(document, id) })),
  };
}

/** @returns null while parts of the run are missing: what is shown nowhere is known when everything was measured. */
export function coverageOf({ parts, results, names, groups, offered }: Covered): Coverage | null {
  if (results.length < parts.length) return null;
  const shown = new Set<string>();
  const hiddenBy = new Map<string, string | null>();
  for (const { variant, shown: times } of results) {
    if (variant !== undefined) continue;
    for (const [element, one] of Object.entries(times)) {
      if (one.forS > 0) shown.add(element);
      else if (!hiddenBy.has(element)) hiddenBy.set(element, one.hiddenBy);
    }
  }
  const isMissed = (id: string): boolean => hiddenBy.has(id) && !shown.has(id);
  const isInMissed = (id: string): boolean => {
    const group = groups[id] ?? null;
    return group !== null && (isMissed(group) || isInMissed(group));
  };
  return {
    elements: Object.keys(names).flatMap((element) =>
      isMissed(element) && !isInMissed(element)
        ? [{ element, hiddenBy: STEPS.find((step) => step === hiddenBy.get(element)) ?? null }]
        : [],
    ),
    phases: offered?.phases ?? [],
    actions: (offered?.actions ?? []).filter(({ senders }) => !senders.some((id) => shown.has(id))),
  };
}
