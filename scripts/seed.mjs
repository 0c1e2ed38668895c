// Property tests ask for the same examples in every run; FORESHORE_SEED=<integer> asks for others, =random for new ones. Looking for
// the smallest example that fails comes to an end: without a limit it may go on for hours.
import fc from 'fast-check';

const LIMIT_MS = 90_000;
const asked = process.env.FORESHORE_SEED ?? '1';
fc.configureGlobal({
  ...fc.readConfigureGlobal(),
  ...(asked !== 'random' && { seed: Number(asked) }),
  interruptAfterTimeLimit: LIMIT_MS,
  markInterruptAsFailure: true,
});
