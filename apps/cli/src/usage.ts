/** The call's words or its input are off: exit status 2, nothing on standard output. */
export class UsageError extends Error {}
