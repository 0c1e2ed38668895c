/** Everything that stands in Low Water, as named solids with a place. */
import { noise, seeded } from './noise.ts';
import { type P3, Solid } from './solid.ts';
import {
  CAUSEWAY_TOP_M,
  causewayAt,
  causewayDistance,
  creekPoint,
  groundHeight,
  LOW_WATER_M,
  SLUICES,
  terrainSolid,
  waterSolid,
} from './terrain.ts';

export interface Place {
  name: string;
  solid: Solid;
  at: P3;
  /** About the vertical, radians. */
  turn: number;
  /** Name of the node it hangs on; `at` and `turn` are then in that node's space. */
  parent?: string;
  material?: 'solid' | 'water' | 'glass';
  alphaOf?: (p: P3) => number;
  ghostly?: boolean;
  /** The game's own properties of the node. */
  extras?: Record<string, number | string>;
}

const STONE = ['#A79E8E', '#9A9183', '#B3A995', '#8E887C', '#A39478'];
const TIMBER = '#7A6248';
const TARRED = '#4A4038';
const BRICK = '#A4593F';
const SLATE = '#5D6670';
const IRON = '#3E464B';
const RUST = '#8C4F30';
const CREAM = '#E6DCC3';
const WHITE = '#F1ECDD';
const RED = '#BF3F2B';
const GREEN = '#2C7A57';
const WHEEL_RED = '#B5402B';

const onGround = (x: number, z: number, lift = 0): P3 => [x, groundHeight(x, z) + lift, z];
const pick = <T>(list: readonly T[], chance: number): T => list[Math.floor(chance * list.length) % list.length] as T;

function causeway(): Place {
  const chance = seeded(21);
  const solid = new Solid();
  const steps = 92;
  for (let i = 0; i <= steps; i++) {
    const t = i / steps;
    if (SLUICES.some((s) => Math.abs(t - s) * 97 < 2.75)) continue;
    const { x, z, heading } = causewayAt(t);
    const [nx, nz] = [Math.sin(heading), Math.cos(heading)];
    for (let lane = -1; lane <= 1; lane++) {
      const side = lane * 1.02 + (chance() - 0.5) * 0.08;
      const top = CAUSEWAY_TOP_M + (chance() - 0.5) * 0.05;
      solid.box([x + nx * side, top - 0.35, z + nz * side], [0.98 + chance() * 0.1, 0.7, 0.94], pick(STONE, chance()), {
        turn: heading + (chance() - 0.5) * 0.06,
        taper: 0.95,
      });
    }
    for (const edge of [-1, 1]) {
      if (chance() < 0.25) continue;
      const out = edge * (1.85 + chance() * 0.45);
      const size = 0.45 + chance() * 0.5;
      solid.box([x + nx * out, 0.42 + chance() * 0.12, z + nz * out], [size, 0.55, size * 0.9], pick(STONE, chance()), {
        turn: chance() * 3,
        taper: 0.7,
      });
    }
  }
  return { name: 'Causeway', solid, at: [0, 0, 0], turn: 0 };
}

function sluice(index: number): Place[] {
  const { x, z, heading } = causewayAt(SLUICES[index] as number);
  const name = `Sluice ${index + 1}`;
  const frame = new Solid();
  const posts = new Solid();
  for (const side of [-2.35, 2.35]) {
    frame.box([side, -0.1, 0], [0.95, 2.1, 4.6], '#A8A294', { taper: 0.96 });
    frame.box([side, 1.02, 0], [1.1, 0.16, 4.8], '#BDB6A6');
    posts.box([side, 1.9, 1.75], [0.34, 1.9, 0.34], TARRED);
  }
  posts.box([0, 2.78, 1.75], [5.3, 0.3, 0.42], TARRED, { bottom: true });
  frame.box([0, 1.55, 1.62], [0.5, 0.3, 0.16], IRON, { bottom: true });
  frame.tube([0, 0.9, 1.78], [0, 2.7, 1.78], 0.045, 0.045, IRON, 6);
  for (let p = 0; p < 9; p++) frame.box([-1.76 + p * 0.44, 0.86, -0.35], [0.4, 0.12, 2.3], p % 2 ? TIMBER : '#6E5840', { bottom: true });
  for (const rail of [-1.35]) {
    for (const post of [-1.7, 0, 1.7]) frame.tube([post, 0.9, rail], [post, 1.85, rail], 0.04, 0.035, IRON, 6);
    frame.tube([-1.9, 1.82, rail], [1.9, 1.82, rail], 0.028, 0.028, IRON, 6).tube([-1.9, 1.4, rail], [1.9, 1.4, rail], 0.02, 0.02, IRON, 6);
  }
  const gate = new Solid();
  for (let p = 0; p < 5; p++) gate.box([-1.5 + p * 0.75, 0, 0], [0.72, 1.9, 0.14], p % 2 ? '#5B4B38' : '#665440');
  gate.box([0, 0.7, -0.09], [3.7, 0.14, 0.08], RUST).box([0, -0.4, -0.09], [3.7, 0.14, 0.08], RUST);
  const wheel = new Solid().wheel([0, 0, 0], 0.46, WHEEL_RED);
  return [
    { name, solid: frame, at: [x, 0, z], turn: heading },
    { name: `${name} posts`, solid: posts, at: [0, 0, 0], turn: 0, parent: name },
    { name: `${name} gate`, solid: gate, at: [0, 0.1, 1.78], turn: 0, parent: name },
    { name: `${name} wheel`, solid: wheel, at: [0, 1.55, 1.44], turn: 0, parent: name, extras: { gate: `gate${index + 1}` } },
  ];
}

function wallWithHoles(
  solid: Solid,
  from: [number, number],
  to: [number, number],
  height: number,
  thick: number,
  holes: { at: number; width: number; low: number; high: number }[],
  colour: string,
): void {
  const length = Math.hypot(to[0] - from[0], to[1] - from[1]);
  const [dx, dz] = [(to[0] - from[0]) / length, (to[1] - from[1]) / length];
  const turn = Math.atan2(-dz, dx);
  const piece = (a: number, b: number, low: number, high: number) => {
    if (b - a < 0.01 || high - low < 0.01) return;
    const m = (a + b) / 2;
    solid.box([from[0] + dx * m, (low + high) / 2, from[1] + dz * m], [b - a, high - low, thick], colour, { turn, bottom: true });
  };
  let at = 0;
  for (const hole of holes) {
    piece(at, hole.at, 0, height);
    piece(hole.at, hole.at + hole.width, 0, hole.low);
    piece(hole.at, hole.at + hole.width, hole.high, height);
    at = hole.at + hole.width;
  }
  piece(at, length, 0, height);
}

function gable(solid: Solid, w: number, d: number, eaves: number, ridge: number, colour: string, wall: string): void {
  const [x, z] = [w / 2 + 0.35, d / 2 + 0.3];
  for (const lift of [0, 0.12]) {
    const y = eaves - 0.12 + lift;
    solid.quad([-x, y, z], [x, y, z], [x, ridge + lift, 0], [-x, ridge + lift, 0], colour);
    solid.quad([x, y, -z], [-x, y, -z], [-x, ridge + lift, 0], [x, ridge + lift, 0], colour);
    solid.quad([x, y, z], [-x, y, z], [-x, ridge + lift, 0], [x, ridge + lift, 0], '#4B4A48');
    solid.quad([-x, y, -z], [x, y, -z], [x, ridge + lift, 0], [-x, ridge + lift, 0], '#4B4A48');
  }
  for (const end of [-1, 1]) {
    const at = (end * w) / 2;
    const [a, b, c]: [P3, P3, P3] = [
      [at, eaves, (end * d) / 2],
      [at, eaves, (-end * d) / 2],
      [at, ridge, 0],
    ];
    solid.triangle(a, b, c, wall).triangle(b, a, [at - end * 0.05, ridge, 0], wall);
  }
}

function pumpHouse(): Place[] {
  const at = onGround(-44, -30);
  const house = new Solid();
  const [w, d, h] = [7.2, 5.4, 3];
  house.box([0, -0.35, 0], [w + 0.8, 1, d + 0.8], '#989284');
  house.box([0, 0.17, 0], [w - 0.4, 0.06, d - 0.4], '#8A8172');
  const lift = 0.15;
  const walls = new Solid();
  wallWithHoles(
    walls,
    [-w / 2, d / 2],
    [w / 2, d / 2],
    h,
    0.28,
    [
      { at: 1, width: 1.1, low: 1, high: 2.2 },
      { at: 3.4, width: 1.15, low: 0, high: 2.25 },
      { at: 5.4, width: 1.1, low: 1, high: 2.2 },
    ],
    BRICK,
  );
  wallWithHoles(walls, [w / 2, -d / 2], [-w / 2, -d / 2], h, 0.28, [{ at: 3, width: 1.2, low: 1, high: 2.2 }], BRICK);
  wallWithHoles(walls, [w / 2, d / 2], [w / 2, -d / 2], h, 0.28, [{ at: 2.1, width: 1.2, low: 1, high: 2.2 }], BRICK);
  wallWithHoles(walls, [-w / 2, -d / 2], [-w / 2, d / 2], h, 0.28, [], BRICK);
  for (const t of walls.triangles)
    house.triangles.push({ ...t, corners: t.corners.map(([x, y, z]) => [x, y + lift, z] as P3) as [P3, P3, P3] });
  for (const x of [-2.05, 2.35])
    house.box([x, 1.08, d / 2 + 0.1], [1.35, 0.1, 0.3], CREAM).box([x, 2.42, d / 2 + 0.02], [1.35, 0.14, 0.34], CREAM);
  house.box([0.38, 2.5, d / 2 + 0.04], [1.5, 0.18, 0.36], CREAM);
  gable(house, w, d, h + lift, h + 1.9, SLATE, '#9A5239');
  house.box([2.4, h + 1.9, -0.6], [0.7, 1.7, 0.7], '#8F4B35').box([2.4, h + 2.8, -0.6], [0.85, 0.14, 0.85], '#6F3E2E');
  house.box([0.38, 0.02, d / 2 + 0.8], [1.6, 0.28, 1], '#A49C8C').box([0.38, -0.2, d / 2 + 1.5], [1.8, 0.28, 0.8], '#A49C8C');
  for (const x of [-2.2, -0.6])
    house.tube([x, 0.2, -1.3], [x, 1.3, -1.3], 0.42, 0.42, '#3F6B63', 12).tube([x, 1.3, -1.3], [x, 1.6, -1.3], 0.2, 0.2, IRON, 8);
  house.tube([-2.2, 0.7, -1.3], [-0.6, 0.7, -1.3], 0.14, 0.14, IRON, 8);
  const door = new Solid();
  for (let p = 0; p < 4; p++) door.box([0.14 + p * 0.28, 1.1, 0], [0.27, 2.2, 0.06], p % 2 ? '#2E6470' : '#33707D', { bottom: true });
  door
    .box([0.56, 0.5, 0.045], [1.06, 0.12, 0.04], '#274F59')
    .box([0.56, 1.8, 0.045], [1.06, 0.12, 0.04], '#274F59')
    .tube([1, 1.05, 0.04], [1, 1.05, 0.12], 0.035, 0.035, '#C8A94E', 6);
  const board = new Solid();
  board.box([0, 0.55, 0], [1.7, 1.1, 0.14], '#3B4A50', { bottom: true }).box([0, 0.55, 0.08], [1.55, 0.95, 0.03], '#4C5E65');
  for (let k = 0; k < 3; k++)
    board
      .tube([-0.5 + k * 0.5, 0.78, 0.09], [-0.5 + k * 0.5, 0.78, 0.13], 0.16, 0.16, CREAM, 14)
      .box([-0.5 + k * 0.5, 0.83, 0.135], [0.02, 0.12, 0.01], RED);
  for (let k = 0; k < 3; k++) board.box([-0.5 + k * 0.5, 0.35, 0.13], [0.06, 0.24, 0.07], k === 1 ? GREEN : RED, { bottom: true });
  const screen = new Solid()
    .box([0, 0, 0], [1.74, 1.09, 0.06], '#3B4A50', { bottom: true })
    .box([0, 0, 0.035], [1.6, 0.95, 0.01], '#1D2733', { bottom: true });
  return [
    { name: 'Pump house', solid: house, at, turn: -0.12 },
    { name: 'Pump house door', solid: door, at: [-0.18, lift, d / 2], turn: 0, parent: 'Pump house' },
    { name: 'Pump screen', solid: screen, at: [-w / 2 + 0.2, 1.75, 0.2], turn: Math.PI / 2, parent: 'Pump house' },
    { name: 'Control board', solid: board, at: [0.9, 1, -d / 2 + 0.24], turn: 0, parent: 'Pump house' },
  ];
}

function boatShed(): Place[] {
  const solid = new Solid();
  const [w, d, h] = [6, 7, 2.8];
  const plank = (from: [number, number], to: [number, number]) => {
    const n = Math.round(Math.hypot(to[0] - from[0], to[1] - from[1]) / 0.4);
    for (let k = 0; k < n; k++) {
      const m = (k + 0.5) / n;
      const [x, z] = [from[0] + (to[0] - from[0]) * m, from[1] + (to[1] - from[1]) * m];
      solid.box([x, h / 2, z], [0.39, h, 0.08], k % 3 ? TARRED : '#564A3E', {
        turn: Math.atan2(-(to[1] - from[1]), to[0] - from[0]),
        bottom: true,
      });
    }
  };
  plank([-w / 2, -d / 2], [w / 2, -d / 2]);
  plank([-w / 2, -d / 2], [-w / 2, d / 2]);
  plank([w / 2, -d / 2], [w / 2, d / 2]);
  for (const x of [-w / 2, w / 2]) solid.box([x, h / 2, d / 2], [0.25, h, 0.25], TIMBER);
  solid.box([0, -0.15, 0], [w + 0.4, 0.3, d + 0.4], '#8E8678');
  const roof = new Solid();
  gable(roof, d, w, h, h + 1.7, '#6B4A3C', '#51463B');
  for (const t of roof.triangles) solid.triangles.push({ ...t, corners: t.corners.map(([x, y, z]) => [z, y, -x] as P3) as [P3, P3, P3] });
  solid
    .box([-1.6, 0.5, -1.5], [1.2, 0.8, 0.9], TIMBER)
    .box([-1.6, 1.2, -1.7], [0.8, 0.6, 0.7], '#8C7350')
    .box([1.9, 0.35, -2], [1, 0.7, 1], '#6D7F6A');
  const y = groundHeight(-12, -36) + 0.1;
  const slip = new Solid();
  for (let k = 0; k < 22; k++) {
    const z = -32.2 + k * 1.05;
    slip.box([0, 2.32 - (z + 34) * 0.135, z + 32], [3.4, 0.22, 0.82], k % 2 ? '#867860' : '#796C57', { turn: noise(k, 3) * 0.02 });
  }
  return [
    { name: 'Boat shed', solid, at: [-12, y, -37.5], turn: 0 },
    { name: 'Slipway', solid: slip, at: [-12, 0, -32], turn: 0 },
  ];
}

function lampMast(): Place[] {
  const { x, z } = causewayAt(1.02);
  const base = new Solid();
  base.tube([0, -1.6, 0], [0, 0.95, 0], 3.3, 2.7, '#A59D8D', 14).tube([0, 0.95, 0], [0, 1.15, 0], 2.4, 2.3, '#B8B09F', 14);
  const legs = 4;
  for (let k = 0; k < legs; k++) {
    const a = (k / legs) * 2 * Math.PI + 0.4;
    const foot: P3 = [Math.cos(a) * 1.1, 1.1, Math.sin(a) * 1.1];
    const head: P3 = [Math.cos(a) * 0.32, 8.2, Math.sin(a) * 0.32];
    base.tube(foot, head, 0.09, 0.06, WHITE, 6);
    const b = ((k + 1) / legs) * 2 * Math.PI + 0.4;
    for (const [low, high] of [
      [0.15, 0.4],
      [0.4, 0.62],
      [0.62, 0.82],
    ] as const) {
      const along = (angle: number, s: number): P3 => [
        Math.cos(angle) * (1.1 - 0.78 * s),
        1.1 + 7.1 * s,
        Math.sin(angle) * (1.1 - 0.78 * s),
      ];
      base.tube(along(a, low), along(b, high), 0.03, 0.03, '#C9C2B2', 5);
    }
  }
  base.tube([0, 8.15, 0], [0, 8.3, 0], 0.75, 0.75, RED, 12);
  for (let k = 0; k < 8; k++) {
    const a = (k / 8) * 2 * Math.PI;
    base.tube([Math.cos(a) * 0.7, 8.3, Math.sin(a) * 0.7], [Math.cos(a) * 0.7, 8.85, Math.sin(a) * 0.7], 0.02, 0.02, IRON, 4);
  }
  const head = new Solid().tube([0, 0, 0], [0, 0.75, 0], 0.34, 0.34, '#F6E3A0', 10).tube([0, 0.75, 0], [0, 1.2, 0], 0.46, 0.05, RED, 10);
  return [
    { name: 'Lamp mast', solid: base, at: [x, 0, z], turn: 0 },
    { name: 'Lamp', solid: head, at: [0, 8.3, 0], turn: 0, parent: 'Lamp mast' },
  ];
}

function tideBoard(): Place {
  const { x, z, heading } = causewayAt(0.4);
  const solid = new Solid();
  solid.tube([0, -1.2, -0.12], [0, 2.9, -0.12], 0.13, 0.11, TARRED, 8);
  solid.box([0, 1.3, 0], [0.62, 2.8, 0.07], WHITE, { bottom: true });
  for (let k = 0; k < 14; k++) solid.box([k % 2 ? -0.14 : 0.14, 0.02 + k * 0.2, 0.04], [0.28, 0.1, 0.012], k % 5 === 0 ? RED : '#1D2733');
  const [nx, nz] = [Math.sin(heading), Math.cos(heading)];
  return { name: 'Tide board', solid, at: [x + nx * 3.1, 0.1, z + nz * 3.1], turn: heading + Math.PI };
}

function mooringPosts(): Place[] {
  return [0, 1, 2, 3].map((k) => {
    const [x, z] = [-12 + (k - 1.5) * 0.5, -9 + k * 4.4];
    const solid = new Solid();
    for (const side of [-1.3, 1.3]) {
      solid
        .tube([side, -1, 0], [side + 0.05, 1.45, 0], 0.17, 0.14, TARRED, 8)
        .tube([side + 0.05, 1.45, 0], [side + 0.05, 1.52, 0], 0.18, 0.16, CREAM, 8);
      solid.tube([side, 0.95, 0], [side, 1.07, 0], 0.19, 0.19, '#C4AE7C', 8);
    }
    return { name: `Mooring posts ${k + 1}`, solid, at: onGround(x, z, 0), turn: 0.15 * (k - 1) };
  });
}

/** Forty stakes on both sides of the creeks, numbered from the land to the sea. */
export function stakePlaces(): P3[] {
  const out: P3[] = [];
  const chance = seeded(5);
  for (let k = 0; k < 40; k++) {
    const creek = k % 3;
    const i = 8 + Math.floor(k / 3) * 10;
    const [x, z] = creekPoint(creek, Math.min(i, 138));
    const side = (Math.floor(k / 3) % 2 ? 1 : -1) * (3.4 + chance());
    const place = (out: number): [number, number] => [
      Math.max(-58, Math.min(58, x + side * out)),
      Math.max(-43, Math.min(43, z + (chance() - 0.5) * 2)),
    ];
    // None on the causeway: further out until the way is free.
    let spot = place(1);
    for (let far = 1.4; far < 4 && causewayDistance(...spot) < 3.4; far += 0.4) spot = place(far);
    out.push(onGround(...spot));
  }
  return out.sort((a, b) => a[2] - b[2] || a[0] - b[0]);
}

function stakes(): Place[] {
  const chance = seeded(9);
  return stakePlaces().map((at, k) => {
    const lean: P3 = [(chance() - 0.5) * 0.25, 2.1 + chance() * 0.5, (chance() - 0.5) * 0.25];
    const solid = new Solid().tube([0, -0.6, 0], lean, 0.06, 0.045, '#6B5B47', 6);
    const band = k % 2 ? GREEN : RED;
    const part = (s: number): P3 => [lean[0] * s, lean[1] * s, lean[2] * s];
    solid.tube(part(0.82), part(0.95), 0.062, 0.06, band, 6).tube(part(0.7), part(0.76), 0.062, 0.06, WHITE, 6);
    return {
      name: `Stake ${String(k + 1).padStart(2, '0')}`,
      solid,
      at,
      turn: 0,
      extras: { side: k % 2 ? 'green' : 'red', heightM: Number(at[1].toFixed(1)) },
    };
  });
}

export function birdSolid(flying: boolean): Solid {
  const solid = new Solid();
  const [back, belly, dark] = flying ? ['#C9CDD0', '#F3F1EA', '#2B2F33'] : ['#8C7A60', '#E8E0CE', '#2F2A26'];
  solid.tube([-0.16, 0.3, 0], [0, 0.33, 0], 0.02, 0.085, back, 7).tube([0, 0.33, 0], [0.13, 0.36, 0], 0.085, 0.05, belly, 7);
  solid.tube([0.12, 0.36, 0], [0.19, 0.5, 0], 0.035, 0.03, back, 6).tube([0.17, 0.5, 0], [0.25, 0.52, 0], 0.045, 0.03, belly, 6);
  solid.tube([0.25, 0.52, 0], [0.42, 0.47, 0], 0.014, 0.004, dark, 4);
  if (flying)
    for (const side of [-1, 1])
      solid
        .triangle([0.08, 0.36, 0], [-0.1, 0.35, 0], [-0.12, 0.5, side * 0.75], belly)
        .triangle([-0.1, 0.35, 0], [0.08, 0.36, 0], [-0.12, 0.5, side * 0.75], back);
  else for (const side of [-0.035, 0.035]) solid.tube([0, 0, side], [0.01, 0.27, side], 0.009, 0.011, '#A8693A', 4);
  return solid;
}

function birds(): Place[] {
  const chance = seeded(33);
  const waders = Array.from({ length: 8 }, (_, k): Place => {
    const [x, z] = [-30 + chance() * 64, 2 + chance() * 26];
    return { name: `Wader ${k + 1}`, solid: birdSolid(false), at: onGround(x, z), turn: chance() * 6, ghostly: true };
  });
  const gulls = Array.from(
    { length: 3 },
    (_, k): Place => ({ name: `Gull ${k + 1}`, solid: birdSolid(true), at: [10 + k * 3, 9 + k * 1.5, 5 - k * 4], turn: 0, ghostly: true }),
  );
  return [...waders, ...gulls];
}

function dinghy(): Place {
  const solid = new Solid();
  const rows = 9;
  const rib = (s: number): { half: number; keel: number; rim: number } => {
    const full = Math.sin(Math.min(1, (1 - s) * 1.9) * Math.PI * 0.5);
    return { half: 0.72 * full + 0.02, keel: -0.28 + 0.3 * s ** 3, rim: 0.32 + 0.2 * s * s };
  };
  for (let k = 0; k < rows; k++) {
    const [s, u] = [k / rows, (k + 1) / rows];
    const [a, b] = [rib(s), rib(u)];
    const [x0, x1] = [-1.6 + 3.4 * s, -1.6 + 3.4 * u];
    for (const side of [-1, 1]) {
      const ring: [P3, P3, P3, P3] = [
        [x0, a.keel, side * a.half * 0.35],
        [x1, b.keel, side * b.half * 0.35],
        [x1, b.rim, side * b.half],
        [x0, a.rim, side * a.half],
      ];
      const inner = ring.map(([x, y, z]) => [x, y + 0.03, z * 0.93] as P3) as [P3, P3, P3, P3];
      const out = k % 2 ? '#2F6F84' : '#2C687C';
      if (side > 0) solid.quad(...ring, out).quad(inner[3], inner[2], inner[1], inner[0], '#C9B48A');
      else solid.quad(ring[3], ring[2], ring[1], ring[0], out).quad(...inner, '#C9B48A');
      solid.tube(ring[3], ring[2], 0.035, 0.035, CREAM, 5);
    }
    solid.quad(
      [x0, a.keel + 0.03, a.half * 0.33],
      [x1, b.keel + 0.03, b.half * 0.33],
      [x1, b.keel + 0.03, -b.half * 0.33],
      [x0, a.keel + 0.03, -a.half * 0.33],
      '#A98F63',
    );
  }
  const stern = rib(0);
  solid.quad([-1.6, stern.keel, -0.25], [-1.6, stern.keel, 0.25], [-1.6, stern.rim, stern.half], [-1.6, stern.rim, -stern.half], '#2C687C');
  for (const x of [-0.9, 0.2]) solid.box([x, 0.16, 0], [0.28, 0.05, 1.25], '#B9965F', { bottom: true });
  solid.tube([-0.1, 0.35, -1.5], [-0.5, 0.35, 1.4], 0.02, 0.02, TIMBER, 5);
  const [x, z] = creekPoint(1, 70);
  return { name: 'Dinghy', solid, at: [x, LOW_WATER_M, z], turn: 0, ghostly: true };
}

function scatter(): Place[] {
  const chance = seeded(77);
  const rocks = new Solid();
  const tufts = new Solid();
  for (let k = 0; k < 240; k++) {
    const [x, z] = [-58 + chance() * 116, -43 + chance() * 84];
    const h = groundHeight(x, z);
    if (h < 0.05 || h > 1.6 || chance() < 0.35) continue;
    const size = 0.12 + chance() ** 3 * 0.8;
    rocks.box([x, h + size * 0.12, z], [size, size * 0.7, size * 0.8], pick(STONE, chance()), { turn: chance() * 6, taper: 0.55 });
  }
  for (let k = 0; k < 1500; k++) {
    const [x, z] = [-60 + chance() * 120, -45 + chance() * 32];
    const h = groundHeight(x, z);
    if (h < 1.25) continue;
    const colour = pick(['#8E9A55', '#A9A866', '#7C8A4B', '#B9AD72'], chance());
    for (let b = 0; b < 4; b++) {
      const angle = chance() * 6.3;
      const [dx, dz, up] = [Math.cos(angle), Math.sin(angle), 0.25 + chance() * 0.4];
      tufts.triangle([x + dz * 0.05, h, z - dx * 0.05], [x - dz * 0.05, h, z + dx * 0.05], [x + dx * 0.18, h + up, z + dz * 0.18], colour);
    }
  }
  return [
    { name: 'Rocks', solid: rocks, at: [0, 0, 0], turn: 0 },
    { name: 'Tufts', solid: tufts, at: [0, 0, 0], turn: 0 },
  ];
}

export function places(): Place[] {
  const water = waterSolid();
  const sign = causewayAt(0.03);
  const signPost = new Solid()
    .tube([0, -0.4, 0], [0, 1.7, 0], 0.07, 0.06, TIMBER, 6)
    .box([0, 1.45, 0.08], [1.5, 0.55, 0.05], CREAM, { bottom: true });
  return [
    { name: 'Mudflats', solid: terrainSolid(), at: [0, 0, 0], turn: 0 },
    causeway(),
    ...[0, 1, 2].flatMap(sluice),
    ...pumpHouse(),
    ...boatShed(),
    ...lampMast(),
    tideBoard(),
    { name: 'Notice', solid: signPost, at: [sign.x + 1.6, groundHeight(sign.x + 1.6, sign.z - 2.2), sign.z - 2.2], turn: 0.9 },
    ...mooringPosts(),
    ...stakes(),
    ...birds(),
    dinghy(),
    ...scatter(),
    { name: 'Water', solid: water.solid, at: [0, LOW_WATER_M, 0], turn: 0, material: 'water', alphaOf: water.alphaOf, ghostly: true },
  ];
}
