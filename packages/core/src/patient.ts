/**
 * Choosing a place for each of many, patiently: as many as can be lie at one of their places, and none of these overlap. A search
 * by exchanges: what is free is taken; else the place that only one other stands in the way of, and that has waited longest, is
 * taken and the other let go, which may not come back at once; now and then one is forced in. It never ends worse than it began.
 * (Tabu search over the graph of places that exclude one another, after Yamamoto, Câmara and Lorena 2002, with the exchanges of
 * searches for largest independent sets.)
 */

/** Which candidates exclude one another: `lists` from `starts[c]` to `starts[c + 1]`. Those of one owner all do. */
export interface Exclusions {
  readonly starts: Int32Array;
  readonly lists: Int32Array;
}

const CELL_PX = 64;

/**
 * Candidates that exclude one another, from their boxes: left, top, right and bottom of each, pixels. `owner[c]` is whose place it
 * is; the candidates of one owner follow one another. Boxes that touch do not overlap.
 */
export function exclusions(boxes: Float64Array, owner: Int32Array): Exclusions {
  const n = owner.length;
  const cells = new Map<number, number[]>();
  const found: number[][] = Array.from({ length: n }, () => []);
  const seen = new Int32Array(n).fill(-1);
  for (let c = 0; c < n; c++) {
    const [l, t, r, b] = [boxes[c * 4], boxes[c * 4 + 1], boxes[c * 4 + 2], boxes[c * 4 + 3]] as [number, number, number, number];
    for (let y = Math.floor(t / CELL_PX); y <= Math.floor(b / CELL_PX); y++)
      for (let x = Math.floor(l / CELL_PX); x <= Math.floor(r / CELL_PX); x++) {
        const key = y * 65_536 + x;
        const cell = cells.get(key);
        if (!cell) {
          cells.set(key, [c]);
          continue;
        }
        for (const o of cell) {
          if (seen[o] === c || owner[o] === owner[c]) continue;
          seen[o] = c;
          const overlaps =
            (boxes[o * 4] as number) < r &&
            (boxes[o * 4 + 2] as number) > l &&
            (boxes[o * 4 + 1] as number) < b &&
            (boxes[o * 4 + 3] as number) > t;
          if (!overlaps) continue;
          found[c]?.push(o);
          found[o]?.push(c);
        }
        cell.push(c);
      }
  }
  for (let from = 0; from < n; ) {
    let to = from;
    while (to < n && owner[to] === owner[from]) to++;
    for (let c = from; c < to; c++) for (let o = from; o < to; o++) if (o !== c) found[c]?.push(o);
    from = to;
  }
  const starts = new Int32Array(n + 1);
  for (let c = 0; c < n; c++) starts[c + 1] = (starts[c] as number) + (found[c] as number[]).length;
  const lists = new Int32Array(starts[n] as number);
  for (let c = 0; c < n; c++) lists.set(found[c] as number[], starts[c]);
  return { starts, lists };
}

/** How many candidates are looked at for the one that has waited longest. */
const SAMPLE = 8;
/** So long, in steps, may what was let go not come back: the least, and by how much more at random. */
const HOLD_STEPS = 5;
const HOLD_SPREAD = 10;
/** One step in so many forces a candidate in, whatever stands in its way. */
const FORCE_ONE_IN = 1000;

/** The state of a search: which candidates are taken, how many of those exclude each other one, and which are free or nearly so. */
class Search {
  readonly taken: Uint8Array;
  size = 0;
  private readonly by: Int32Array;
  private readonly since: Float64Array;
  private readonly heldUntil: Float64Array;
  /** Candidates that nothing excludes, and those that one alone does; where each stands in its list. */
  private readonly ready: readonly [Int32Array, Int32Array];
  private readonly counts = new Int32Array(2);
  private readonly at: Int32Array;
  private state = 1;
  constructor(
    private readonly graph: Exclusions,
    private readonly n: number,
  ) {
    this.taken = new Uint8Array(n);
    this.by = new Int32Array(n);
    this.since = new Float64Array(n);
    this.heldUntil = new Float64Array(n);
    this.ready = [new Int32Array(n), new Int32Array(n)];
    this.at = new Int32Array(n);
    for (let c = 0; c < n; c++) this.enter(0, c);
  }
  private enter(list: 0 | 1, c: number): void {
    const end = this.counts[list] as number;
    this.at[c] = end;
    this.ready[list][end] = c;
    this.counts[list] = end + 1;
  }
  private leave(list: 0 | 1, c: number): void {
    const end = (this.counts[list] as number) - 1;
    const last = this.ready[list][end] as number;
    this.ready[list][this.at[c] as number] = last;
    this.at[last] = this.at[c] as number;
    this.counts[list] = end;
  }
  /** 0 .. below `n` (Lehmer 1951, with the multiplier of Park and Miller 1988). */
  private any(n: number): number {
    this.state = (this.state * 16807) % 2147483647;
    return this.state % n;
  }
  take(c: number, step: number): void {
    if ((this.by[c] as number) < 2) this.leave(this.by[c] as 0 | 1, c);
    this.taken[c] = 1;
    this.since[c] = step;
    this.size++;
    const end = this.graph.starts[c + 1] as number;
    for (let e = this.graph.starts[c] as number; e < end; e++) {
      const o = this.graph.lists[e] as number;
      const by = this.by[o] as number;
      this.by[o] = by + 1;
      if (this.taken[o] === 1) continue;
      if (by < 2) this.leave(by as 0 | 1, o);
      if (by < 1) this.enter(1, o);
    }
  }
  private release(c: number, step: number): void {
    this.taken[c] = 0;
    this.since[c] = step;
    this.size--;
    this.heldUntil[c] = step + HOLD_STEPS + this.any(HOLD_SPREAD);
    const end = this.graph.starts[c + 1] as number;
    for (let e = this.graph.starts[c] as number; e < end; e++) {
      const o = this.graph.lists[e] as number;
      const by = this.by[o] as number;
      this.by[o] = by - 1;
      if (this.taken[o] === 1) continue;
      if (by === 1) this.leave(1, o);
      if (by <= 2) this.enter((by - 1) as 0 | 1, o);
    }
    if ((this.by[c] as number) < 2) this.enter(this.by[c] as 0 | 1, c);
  }
  isFree(c: number): boolean {
    return this.by[c] === 0 && this.taken[c] === 0;
  }
  /** One exchange; false where there is nothing left to exchange. */
  step(step: number): boolean {
    if ((this.counts[0] as number) > 0) {
      this.take(this.ready[0][this.any(this.counts[0] as number)] as number, step);
      return true;
    }
    let chosen = -1;
    if ((this.counts[1] as number) > 0)
      for (let k = 0; k < SAMPLE; k++) {
        const c = this.ready[1][this.any(this.counts[1] as number)] as number;
        if ((this.heldUntil[c] as number) > step) continue;
        if (chosen < 0 || (this.since[c] as number) < (this.since[chosen] as number)) chosen = c;
      }
    if (chosen < 0 || this.any(FORCE_ONE_IN) === 0) {
      if (this.size === this.n) return false;
      do chosen = this.any(this.n);
      while (this.taken[chosen] === 1);
    }
    const end = this.graph.starts[chosen + 1] as number;
    for (let e = this.graph.starts[chosen] as number; e < end; e++)
      if (this.taken[this.graph.lists[e] as number] === 1) this.release(this.graph.lists[e] as number, step);
    this.take(chosen, step);
    return true;
  }
}

/**
 * Chooses one candidate for as many owners as it can. `owner[c]` is 0 .. `owners` − 1, those of one owner in the order in which it
 * would have them. Gives the candidate of each owner, −1 for none. The same for the same input; at most `steps` exchanges.
 */
export function choosePatiently(boxes: Float64Array, owner: Int32Array, owners: number, steps: number): Int32Array {
  const n = owner.length;
  const graph = exclusions(boxes, owner);
  const search = new Search(graph, n);
  // First fit first: the search never ends below it.
  for (let c = 0; c < n; c++) if (search.isFree(c)) search.take(c, 0);
  let best = search.taken.slice();
  let most = search.size;
  const possible = new Set(owner).size;
  for (let step = 1; step <= steps && most < possible; step++) {
    if (!search.step(step)) break;
    if (search.size > most) {
      most = search.size;
      best = search.taken.slice();
    }
  }
  const chosen = new Int32Array(owners).fill(-1);
  for (let c = 0; c < n; c++) if (best[c] === 1) chosen[owner[c] as number] = c;
  // Each as near to home as the others leave it.
  for (let c = 0; c < n; c++) {
    const now = chosen[owner[c] as number] as number;
    if (now <= c) continue;
    let free = true;
    for (let e = graph.starts[c] as number; e < (graph.starts[c + 1] as number); e++) {
      const o = graph.lists[e] as number;
      if (o !== now && best[o] === 1) free = false;
    }
    if (!free) continue;
    best[now] = 0;
    best[c] = 1;
    chosen[owner[c] as number] = c;
  }
  return chosen;
}
