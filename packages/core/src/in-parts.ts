/** Does work that is made in parts without a pause. */
export function finished<T>(work: Generator<unknown, T, void>): T {
  for (;;) {
    const part = work.next();
    if (part.done) return part.value;
  }
}
