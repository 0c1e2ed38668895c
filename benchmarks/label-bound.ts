/**
 * How few of a study's labels must be dropped so that the others can lie without a conflict: an exact search, for what can be reached
 * at all on given sheets. Points with a place that nothing else wants are placed first; what is left falls into parts that have
 * nothing to do with one another, and in each it is tried with 0, 1, 2, … dropped, those first that have the fewest places left.
 */
import { CORNERS, type sheet } from './label-study.ts';

type Points = ReturnType<typeof sheet>;

/** @returns the least number dropped, and in how many parts the search was given up: there at least so many are. */
export function leastDropped(points: Points, mostTried = 3_000_000): { dropped: number; open: number } {
  const n = points.length;
  const excludes: number[][] = Array.from({ length: n * CORNERS }, () => []);
  const beside = Array.from({ length: n }, () => new Set<number>());
  const each = [...Array(CORNERS).keys()];
  for (let i = 0; i < n; i++)
    for (let j = i + 1; j < n; j++)
      for (const p of each)
        for (const q of each) {
          const [a, b] = [points[i]?.[p], points[j]?.[q]];
          if (!a || !b || !(a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3])) continue;
          excludes[i * CORNERS + p]?.push(j * CORNERS + q);
          excludes[j * CORNERS + q]?.push(i * CORNERS + p);
          beside[i]?.add(j);
          beside[j]?.add(i);
        }
  const gone = new Uint8Array(n);
  for (let again = true; again; ) {
    again = false;
    for (let i = 0; i < n; i++)
      if (!gone[i] && each.some((p) => excludes[i * CORNERS + p]?.every((c) => gone[Math.floor(c / CORNERS)]))) {
        gone[i] = 1;
        again = true;
      }
  }
  const blocked = new Int16Array(n * CORNERS);
  const settled = new Uint8Array(n);
  const block = (candidate: number, by: 1 | -1): void => {
    for (const c of excludes[candidate] ?? []) blocked[c] = (blocked[c] as number) + by;
  };
  const seen = new Uint8Array(n);
  let [dropped, open] = [0, 0];
  for (let start = 0; start < n; start++) {
    if (gone[start] || seen[start]) continue;
    const part = [start];
    seen[start] = 1;
    for (const i of part)
      for (const j of beside[i] ?? [])
        if (!gone[j] && !seen[j]) {
          seen[j] = 1;
          part.push(j);
        }
    let tried = 0;
    /** Whether the rest of the part can be placed with so many dropped; null where that takes too long. */
    const fits = (drops: number): boolean | null => {
      if (++tried > mostTried) return null;
      let [next, fewest, without] = [-1, CORNERS + 1, 0];
      for (const i of part) {
        if (settled[i]) continue;
        const free = each.filter((p) => blocked[i * CORNERS + p] === 0).length;
        if (free === 0) without++;
        if (free < fewest) [next, fewest] = [i, free];
      }
      if (next < 0) return true;
      if (without > drops) return false;
      settled[next] = 1;
      let answer: boolean | null = false;
      for (const p of each) {
        const candidate = next * CORNERS + p;
        if (answer !== false || blocked[candidate] !== 0) continue;
        block(candidate, 1);
        answer = fits(drops);
        block(candidate, -1);
      }
      if (answer === false && drops > 0) answer = fits(drops - 1);
      settled[next] = 0;
      return answer;
    };
    let least = 0;
    let answer = fits(least);
    while (answer === false) answer = fits(++least);
    dropped += least;
    if (answer === null) open++;
  }
  return { dropped, open };
}
