/**
 * Boxes that must not overlap, each with some places to choose from. One at a time, in an order, each takes the first of its places
 * that is free; what finds none may have another one moved aside for it. Whose boxes these are, and what places they have, is said
 * by `Places`: labels of a frame, or points of a map.
 */

const CELL_PX = 96;

/** A box that is asked about or taken in: left, top, right and bottom, pixels. Numbers that are handed to a function may be put on the heap. */
export const probe = new Float64Array(4);

/** Boxes that were placed in this frame, and which lie in each cell of a grid over it. Grows; never shrinks. */
export class Grid {
  private boxes = new Float64Array(4 * 256);
  private owners = new Int32Array(256);
  private count = 0;
  private heads = new Int32Array(1);
  private next = new Int32Array(1024);
  private which = new Int32Array(1024);
  private entries = 0;
  private columns = 1;
  private rows = 1;

  clear(width: number, height: number): void {
    this.columns = Math.max(1, Math.ceil(width / CELL_PX));
    this.rows = Math.max(1, Math.ceil(height / CELL_PX));
    const cells = this.columns * this.rows;
    if (this.heads.length < cells) this.heads = new Int32Array(cells);
    this.heads.fill(-1, 0, cells);
    this.count = 0;
    this.entries = 0;
  }

  /** Takes in the box of `probe`. */
  add(owner: number): void {
    const left = probe[0] as number;
    const top = probe[1] as number;
    const right = probe[2] as number;
    const bottom = probe[3] as number;
    if (this.count === this.owners.length) {
      this.boxes = grown(this.boxes, new Float64Array(this.boxes.length * 2));
      this.owners = grown(this.owners, new Int32Array(this.owners.length * 2));
    }
    const k = this.count++;
    this.owners[k] = owner;
    this.boxes[k * 4] = left;
    this.boxes[k * 4 + 1] = top;
    this.boxes[k * 4 + 2] = right;
    this.boxes[k * 4 + 3] = bottom;
    const last = this.column(right);
    const lowest = this.row(bottom);
    for (let j = this.row(top); j <= lowest; j++)
      for (let i = this.column(left); i <= last; i++) {
        if (this.entries === this.next.length) {
          this.next = grown(this.next, new Int32Array(this.next.length * 2));
          this.which = grown(this.which, new Int32Array(this.which.length * 2));
        }
        const cell = j * this.columns + i;
        this.which[this.entries] = k;
        this.next[this.entries] = this.heads[cell] as number;
        this.heads[cell] = this.entries++;
      }
  }

  /** Forgets the boxes of one owner that was taken in last, or not long ago: looked for from the end. */
  drop(owner: number): void {
    for (let k = this.count - 1; k >= 0; k--)
      if (this.owners[k] === owner) {
        // Nothing overlaps what is no number.
        this.boxes[k * 4] = Number.NaN;
        this.owners[k] = -1;
        return;
      }
  }

  /** The owner of a box that overlaps the one of `probe`, where all that overlap it are of one; −1 where none does, −2 where several do. */
  only(): number {
    const { boxes } = this;
    const left = probe[0] as number;
    const top = probe[1] as number;
    const right = probe[2] as number;
    const bottom = probe[3] as number;
    const last = this.column(right);
    const lowest = this.row(bottom);
    let found = -1;
    for (let j = this.row(top); j <= lowest; j++)
      for (let i = this.column(left); i <= last; i++)
        for (let e = this.heads[j * this.columns + i] as number; e >= 0; e = this.next[e] as number) {
          const k = this.which[e] as number;
          if (
            left < (boxes[k * 4 + 2] as number) &&
            right > (boxes[k * 4] as number) &&
            top < (boxes[k * 4 + 3] as number) &&
            bottom > (boxes[k * 4 + 1] as number)
          ) {
            const owner = this.owners[k] as number;
            if (found >= 0 && owner !== found) return -2;
            found = owner;
          }
        }
    return found;
  }

  /** The owner of a box that overlaps the one of `probe`, or −1. */
  meets(): number {
    const { boxes } = this;
    const left = probe[0] as number;
    const top = probe[1] as number;
    const right = probe[2] as number;
    const bottom = probe[3] as number;
    const last = this.column(right);
    const lowest = this.row(bottom);
    for (let j = this.row(top); j <= lowest; j++)
      for (let i = this.column(left); i <= last; i++)
        for (let e = this.heads[j * this.columns + i] as number; e >= 0; e = this.next[e] as number) {
          const at = (this.which[e] as number) * 4;
          if (
            left < (boxes[at + 2] as number) &&
            right > (boxes[at] as number) &&
            top < (boxes[at + 3] as number) &&
            bottom > (boxes[at + 1] as number)
          )
            return this.owners[this.which[e] as number] as number;
        }
    return -1;
  }

  private column(x: number): number {
    return Math.max(0, Math.min(this.columns - 1, Math.floor(x / CELL_PX)));
  }
  private row(y: number): number {
    return Math.max(0, Math.min(this.rows - 1, Math.floor(y / CELL_PX)));
  }
}
const grown = <T extends Float64Array | Int32Array>(from: T, to: T): T => {
  to.set(from);
  return to;
};

/** Who is to be placed, by number, and where each could be. */
export interface Places {
  /** How many places one has. */
  count(one: number): number;
  /** Writes its box at one of its places into `probe`; says whether it may lie there at all. */
  ask(one: number, place: number): boolean;
  /** Whether one that lies at a place may be moved to another of its own. */
  mayMove(one: number): boolean;
  /** Which place each lies at. */
  readonly at: { [one: number]: number };
}

/** How many others may move aside, each for the one before it, so that one finds a place. */
export const ASIDE_DEPTH = 2;

/** Takes the first place of its own that nothing lies over; false where there is none. */
export function takeFirst(grid: Grid, places: Places, one: number): boolean {
  const last = places.count(one);
  for (let place = 0; place < last; place++) {
    if (!places.ask(one, place) || grid.meets() >= 0) continue;
    places.at[one] = place;
    grid.add(one);
    return true;
  }
  return false;
}

/**
 * Finds a place for one that has none free, by moving one other to another of its places, which may move a further one, `depth`
 * deep. What already lies somewhere keeps lying somewhere: nothing is given up. False, with all as it was, where that does not help.
 */
export function makeRoom(grid: Grid, places: Places, one: number, depth: number): boolean {
  if (takeFirst(grid, places, one)) return true;
  if (depth === 0) return false;
  const last = places.count(one);
  for (let place = 0; place < last; place++) {
    if (!places.ask(one, place)) continue;
    const other = grid.only();
    if (other < 0 || !places.mayMove(other)) continue;
    const was = places.at[other] as number;
    grid.drop(other);
    places.at[one] = place;
    grid.add(one);
    if (makeRoom(grid, places, other, depth - 1)) return true;
    grid.drop(one);
    places.at[other] = was;
    places.ask(other, was);
    grid.add(other);
  }
  return false;
}
