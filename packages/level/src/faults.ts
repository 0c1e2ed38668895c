/** What is wrong with a level, where, and what follows. */
export interface LevelFault {
  code: string;
  /** JSON Pointer into the glTF document, or the empty string for the file as a whole. */
  pointer: string;
  message: string;
}

/** Thrown where a level cannot be taken; whatever was open stays as it was. */
export class LevelError extends Error {
  readonly faults: readonly LevelFault[];
  constructor(faults: readonly LevelFault[]) {
    super(faults.map((f) => (f.pointer ? `${f.pointer}: ${f.message}` : f.message)).join('\n'));
    this.name = 'LevelError';
    this.faults = faults;
  }
}

export const levelError = (code: string, message: string, pointer = ''): LevelError => new LevelError([{ code, pointer, message }]);
