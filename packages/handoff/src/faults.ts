/** What cannot leave, each by what it is and its name: nothing is written then. */
export class ExportError extends Error {
  constructor(readonly faults: readonly string[]) {
    super(`Nothing was written. ${faults.join('\n')}`);
  }
}
