// Property tests ask for the same examples in every run; FORESHORE_SEED=<integer> asks for others, =random for new ones.
import fc from 'fast-check';

const asked = process.env.FORESHORE_SEED ?? '1';
if (asked !== 'random') fc.configureGlobal({ ...fc.readConfigureGlobal(), seed: Number(asked) });
