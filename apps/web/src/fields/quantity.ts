/** What people type into number fields: numbers, + − * / and brackets, and units of the same kind. */
const FACTORS: Record<string, Record<string, number>> = {
  m: { m: 1, cm: 0.01, mm: 0.001, km: 1000, in: 0.0254, ft: 0.3048 },
  arcmin: { arcmin: 1, deg: 60 },
  px: { px: 1 },
  em: { em: 1 },
  deg: { deg: 1, arcmin: 1 / 60 },
  s: { s: 1, ms: 0.001, min: 60 },
};

/**
 * The number that a text means in `unit`; a bare number is in that unit already.
 * @throws RangeError with a sentence for people.
 */
export function readQuantity(text: string, unit: string): number {
  const tokens =
    text
      .trim()
      .replace(/−/g, '-')
      .replace(/,(?=\d)/g, '.')
      .match(/\d+\.?\d*(?:e[+-]?\d+)?|\.\d+|[a-zA-Z]+|[-+*/()]|\S/g) ?? [];
  let at = 0;
  const factors = FACTORS[unit] ?? { [unit]: 1 };
  const fail = (what: string): never => {
    throw new RangeError(what);
  };
  const atom = (): number => {
    const token = tokens[at++];
    if (token === undefined) return fail('A number is missing at the end.');
    if (token === '-') return -atom();
    if (token === '+') return atom();
    let value: number;
    if (token === '(') {
      value = sum();
      if (tokens[at++] !== ')') fail('A bracket is not closed.');
    } else {
      value = Number(token);
      if (!Number.isFinite(value)) fail(`"${token}" is not a number.`);
    }
    const named = tokens[at];
    if (named && /^[a-zA-Z]+$/.test(named)) {
      const factor = factors[named.toLowerCase()];
      if (factor === undefined)
        fail(`"${named}" is not a unit here; write ${Object.keys(factors).filter(Boolean).join(', ') || 'no unit'}.`);
      at++;
      value *= factor as number;
    }
    return value;
  };
  const product = (): number => {
    let value = atom();
    for (let op = tokens[at]; op === '*' || op === '/'; op = tokens[at]) {
      at++;
      const right = atom();
      value = op === '*' ? value * right : value / right;
    }
    return value;
  };
  const sum = (): number => {
    let value = product();
    for (let op = tokens[at]; op === '+' || op === '-'; op = tokens[at]) {
      at++;
      const right = product();
      value = op === '+' ? value + right : value - right;
    }
    return value;
  };
  const value = sum();
  if (at < tokens.length) fail(`"${tokens[at]}" is not understood.`);
  if (!Number.isFinite(value)) fail('This comes to no finite number.');
  return value;
}
