/** Repeatable chance and smooth noise. */
export function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    // mulberry32: small, and good enough for stones.
    state = (state + 0x6d2b79f5) >>> 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

const lattice = (x: number, y: number): number => {
  let h = Math.imul(x, 374761393) + Math.imul(y, 668265263);
  h = Math.imul(h ^ (h >>> 13), 1274126177);
  return ((h ^ (h >>> 16)) >>> 0) / 4294967296;
};

/** Value noise, −1..1. */
export function noise(x: number, y: number): number {
  const [xi, yi] = [Math.floor(x), Math.floor(y)];
  const ease = (t: number) => t * t * (3 - 2 * t);
  const [u, v] = [ease(x - xi), ease(y - yi)];
  const top = lattice(xi, yi) * (1 - u) + lattice(xi + 1, yi) * u;
  const low = lattice(xi, yi + 1) * (1 - u) + lattice(xi + 1, yi + 1) * u;
  return (top * (1 - v) + low * v) * 2 - 1;
}

export const layered = (x: number, y: number): number =>
  noise(x, y) * 0.6 + noise(x * 2.1 + 7, y * 2.1 - 3) * 0.3 + noise(x * 4.3 - 11, y * 4.3 + 5) * 0.15;
export const smooth = (from: number, to: number, v: number): number => {
  const t = Math.max(0, Math.min(1, (v - from) / (to - from)));
  return t * t * (3 - 2 * t);
};
