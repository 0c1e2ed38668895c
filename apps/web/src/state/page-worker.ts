/**
 * Workers that end before the page is put aside. A browser that keeps a page it leaves, to go back to, stops its workers where they are,
 * and one that is stopped in the middle of its work and ended then has taken the whole tab with it.
 */

const working = new Set<Worker>();

/** Has a worker end with the page. @returns what ends it sooner. */
export function endsWithPage(worker: Worker): () => void {
  working.add(worker);
  return () => {
    working.delete(worker);
    worker.terminate();
  };
}

/** To be called once. */
export function endWorkersWithPage(): void {
  addEventListener('pagehide', () => {
    for (const worker of working) worker.terminate();
    working.clear();
  });
  // Nobody is there to answer any more, and what is shown may have been changed elsewhere.
  addEventListener('pageshow', ({ persisted }) => {
    if (persisted) location.reload();
  });
}
