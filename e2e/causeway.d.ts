/** What the example game shows of itself to tests. */
interface Game {
  eye: { set(x: number, y: number, z: number): void; x: number; z: number };
  yaw: number;
  pitch: number;
  frames: number;
  gates: number[];
  oil: number;
  connection: string;
  heard: { name: string; target: string | null }[];
}
interface Shown {
  readonly bundle: { rows: object };
  row(id: string): number;
  isShown(row: number): boolean;
  box(row: number, out: Float64Array): Float64Array;
  lines(row: number): { lines: { text: string }[] } | null;
  edgeRad(row: number): number;
  missing(): string[];
}
declare global {
  var causeway: { game: Game; runtime(): Shown; name(): string; swap(): void };
}

export {};
