/** A JSON Pointer (RFC 6901) for a path; the empty string means the whole document. */
export const toPointer = (path: readonly PropertyKey[]): string =>
  path.map((part) => `/${String(part).replaceAll('~', '~0').replaceAll('/', '~1')}`).join('');

export const fromPointer = (pointer: string): string[] =>
  pointer
    .split('/')
    .slice(1)
    .map((part) => part.replaceAll('~1', '/').replaceAll('~0', '~'));
