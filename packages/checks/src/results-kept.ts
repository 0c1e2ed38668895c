/**
 * Results of parts, by all that each depends on: of the states of a document that were asked about last. Several questions about one of
 * them, or about one that differs in what a part does not depend on, have it measured once.
 */
import type { Document } from '@foreshore/document';
import { type CheckPart, type PartResult, partContent, partKey } from './check.ts';

/** So many states are known: one that is asked about, and what is tried with it. */
const MOST_STATES = 8;

interface State {
  document: Document;
  results: Map<string, PartResult>;
  /** By language; found when it is first asked for. */
  shared: Map<string, string>;
}

const sharedOf = ({ document, shared }: State, language: string): string => {
  const known = shared.get(language) ?? partContent.shared(document, language);
  shared.set(language, known);
  return known;
};
const isSameIn = (a: State, b: State, part: CheckPart): boolean =>
  a === b ||
  (sharedOf(a, part.language) === sharedOf(b, part.language) && partContent.own(a.document, part) === partContent.own(b.document, part));

export class ResultsKept {
  /** The one asked about last is the last. Documents are never altered. */
  private readonly states: State[] = [];

  private stateOf(document: Document): State {
    const at = this.states.findIndex((state) => state.document === document);
    const [state = { document, results: new Map(), shared: new Map() }] = at < 0 ? [] : this.states.splice(at, 1);
    this.states.push(state);
    if (this.states.length > MOST_STATES) this.states.shift();
    return state;
  }

  /** What was measured of parts elsewhere. */
  take(document: Document, results: readonly PartResult[]): void {
    const state = this.stateOf(document);
    for (const result of results) state.results.set(partKey(result), result);
  }

  /** The result of a part, measured where it is not known. */
  result(document: Document, part: CheckPart, measure: () => PartResult): PartResult {
    const state = this.stateOf(document);
    const key = partKey(part);
    const known = this.states.find((one) => one.results.has(key) && isSameIn(one, state, part));
    const result = known?.results.get(key) ?? measure();
    state.results.set(key, result);
    return result;
  }
}
