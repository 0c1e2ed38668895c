/**
 * When the bench's pictures are painted, and how finely: the main one at once, the tiles after it, each once more in full quality when
 * nothing has changed for a moment. It paints on demand; only playing, walking and recording keep it running. Where the level's
 * picture takes its time, the page goes on meanwhile: the next one is begun before the one that has come is painted.
 */
import type { Pose } from '@foreshore/core';
import { pause } from '../level/pause.ts';
import { type Quality, readied, SOFTWARE } from '../level/renderer.ts';
import type { ComingPicture } from './viewer-painter.ts';

/** Pictures farther apart than this are slow. */
const SLOW_MS = 45;
/** So long without a change, and the picture is drawn in full quality. */
const CALM_MS = 250;
/** Where pages draw themselves all the time, the tiles are drawn this often. */
const PAGES_MS = 1000;
/** What takes longer than this before a picture in full quality is made in parts. */
const CATCH_UP_MS = 15;
/** Tiles in full quality are drawn for so long at a time: keys are heard between. */
const TILES_MS = 20;
/** At rest, what took longer to begin is painted a moment later, even where it could be at once. */
const BEGUN_MS = 12;
/** Pictures from other places that come after one another as fast as this are one turn of the camera. */
const TURNING_MS = 250;

/** What painting needs of the engine. */
export interface PaintingHost {
  /** Pictures are asked for by somebody else, as a headset does: the page's stand. */
  elsewhere(): boolean;
  /** Time goes on. True while anything does. */
  advance(dtS: number): boolean;
  /** Something softens, lingers or moves although nobody does anything. */
  isUnsettled(): boolean;
  pose(): Pose;
  /** Does one thing of what the next frame needs after a change. True where there was nothing to do. */
  makeReady(): boolean;
  /** Makes what frames at rest need, for so long at most. True once they are exact. */
  catchUp(forMs: number): boolean;
  /** How often anything of the level has moved. */
  levelMoves(): number;
  feedPages(): void;
  /** Solves the present frame and begins its picture; null without a canvas, undefined where there is no frame. */
  begin(target: CanvasRenderingContext2D | null, quality: Quality): ComingPicture | null | undefined;
  beginTile(viewer: string, target: CanvasRenderingContext2D, quality: Quality): ComingPicture | null;
  /** Everything has been painted in full since a moment. True where no picture is still to come. */
  rested(paintedMs: number): boolean;
}

/** Pictures that were begun together. */
interface Coming {
  pictures: ComingPicture[];
  isMain: boolean;
  beganMs: number;
}

export class Painting {
  private readonly host: PaintingHost;
  main: HTMLCanvasElement | null = null;
  private readonly tiles = new Map<string, HTMLCanvasElement>();
  private request = 0;
  /** The level is still being drawn for it. */
  private coming: Coming | null = null;
  /** It has come, and is to be painted before any other. */
  private come: Coming | null = null;
  private lastMs = 0;
  /** Between the last two pictures while moving. */
  private intervalMs = 0;
  private dirty = true;
  /** A page has drawn itself anew since. */
  private pageDue = false;
  private tileTurn = 0;
  /** The tiles that are still to be drawn in full quality. */
  private tilesDue: string[] = [];
  /** What all viewers show is still to be told. */
  private reportDue = false;
  private calm: ReturnType<typeof setTimeout> | undefined;
  /** The picture that was begun last is to be followed by one in full quality. */
  private calms = false;
  private fine = false;
  /** Where the camera was in the last picture, and when that was. */
  private drawnPose: Pose | null = null;
  private drawnMs = 0;
  /** The page's picture or what shows it was painted last in full from then on, milliseconds. */
  private paintedMs = 0;
  /** Something of the level was elsewhere in the last picture than in the one before. */
  private levelMoves = false;
  private over = false;
  settled = false;
  onPicture: ((tookMs: number) => void) | null = null;
  firstPictureMs: number | null = null;
  private toldPictured = (): void => {};
  /** Until the first picture is there. */
  readonly pictured = new Promise<void>((resolve) => {
    this.toldPictured = resolve;
  });

  constructor(host: PaintingHost) {
    this.host = host;
  }

  dispose(): void {
    this.over = true;
    cancelAnimationFrame(this.request);
    clearTimeout(this.calm);
  }

  setMain(canvas: HTMLCanvasElement | null): void {
    this.main = canvas;
    this.invalidate();
  }
  setTile(viewer: string, canvas: HTMLCanvasElement | null): void {
    if (canvas) this.tiles.set(viewer, canvas);
    else this.tiles.delete(viewer);
    this.invalidate();
  }

  invalidate(): void {
    // A picture in full quality that waits is of something else by now.
    if (this.dirty) this.fine = false;
    this.dirty = true;
    this.settled = false;
    this.ask();
  }
  /** A page has drawn itself anew. One that does so all the time does not keep the rest from coming to rest. */
  repaint(): void {
    this.settled = false;
    this.pageDue = true;
    this.ask();
  }
  private ask(): void {
    this.request ||= requestAnimationFrame(this.onFrame);
  }

  private readonly onFrame = (nowMs: number): void => {
    // Keys are heard between one thing and the next.
    if (!this.coming && !this.host.makeReady()) {
      void pause().then(() => this.over || this.onFrame(nowMs));
      return;
    }
    this.request = 0;
    // What is on its way goes on when it is there.
    if (!this.coming) this.tick(nowMs);
  };

  /** Nothing has changed for a moment: one more picture, in full quality. */
  private readonly refine = (): void => {
    this.calm = undefined;
    this.fine = true;
    this.invalidate();
  };

  private tick(nowMs: number): void {
    const { host } = this;
    if (host.elsewhere()) return;
    // A frame may have begun before the picture came that was painted last.
    this.intervalMs = this.lastMs ? Math.max(0, nowMs - this.lastMs) : 0;
    const dtS = Math.min(0.1, this.intervalMs / 1000);
    let unsettled = this.lastMs > 0 && host.isUnsettled();
    const moving = host.advance(dtS) || unsettled;
    if (this.dirty && this.fine && !moving && !host.catchUp(CATCH_UP_MS)) {
      this.ask();
      return;
    }
    if (this.dirty || moving) {
      this.dirty = false;
      this.pageDue = false;
      const quick = moving || !this.fine;
      const pose = host.pose();
      // A camera that is turned by hand moves, too, as long as it is; however long a picture took, what comes now follows it at once.
      const turned = this.drawnPose !== null && !isSamePose(this.drawnPose, pose) && nowMs - this.drawnMs < TURNING_MS;
      // Where camera and level stand, the level is not drawn again: a press that fills its ring does not make it coarse.
      const moves = host.levelMoves();
      if (!quick) this.paintedMs = performance.now();
      host.feedPages();
      // The first picture is to be there soon.
      const hasty = turned || this.levelMoves || this.firstPictureMs === null;
      this.begin(moving, quick && hasty ? 'coarse' : quick ? 'plain' : 'fine');
      this.levelMoves = moving && host.levelMoves() !== moves;
      this.drawnPose = pose;
      this.fine = false;
      this.calms = quick && !moving;
      if (this.coming) clearTimeout(this.calm);
      else this.calmDown();
      unsettled = host.isUnsettled();
    } else if (this.tilesDue.length > 0) {
      // As many as there is time for.
      const until = performance.now() + TILES_MS;
      do this.bring({ pictures: this.tile(this.tilesDue.shift() as string, 'fine'), isMain: false, beganMs: performance.now() });
      while (!this.coming && this.tilesDue.length > 0 && performance.now() < until);
    } else if (this.reportDue) {
      this.reportDue = false;
      this.settled = host.rested(this.paintedMs) && !unsettled;
    }
    if (this.pageDue && !this.coming && this.tilesDue.length === 0 && !this.reportDue) {
      this.pageDue = false;
      this.settled = false;
      host.feedPages();
      this.begin(false, 'plain', false);
      // The tiles and what all viewers say follow soon after one change, and once a second where there is no end of them.
      this.calm ??= setTimeout(this.refine, performance.now() - this.paintedMs > PAGES_MS ? CALM_MS : PAGES_MS);
    }
    if (this.tilesDue.length > 0 || this.reportDue || this.pageDue) this.ask();
    if (moving || unsettled) {
      this.lastMs = nowMs;
      this.ask();
    } else if (this.lastMs) {
      // At rest again: one more picture, in full quality and with all tiles.
      this.lastMs = 0;
      this.invalidate();
    }
  }

  /** Begins the main picture, and such tiles as go with it. @param isMain false where only what a page shows in it is another. */
  private begin(moving: boolean, quality: Quality, isMain = true): void {
    const beganMs = performance.now();
    const main = this.host.begin(this.main?.getContext('2d', { alpha: false }) ?? null, quality);
    if (main === undefined) return;
    const others = [...this.tiles.keys()];
    // While moving, one tile with a picture, and fewer where pictures are slow: the main picture stays quick.
    // At rest each has a frame of its own, so that the page is never silent for all of them.
    this.tilesDue = quality === 'fine' ? others : [];
    this.reportDue = quality === 'fine';
    const due = moving ? this.tileDue(others) : quality !== 'fine' && !SOFTWARE ? others : [];
    this.bring({ pictures: [...(main ? [main] : []), ...due.flatMap((viewer) => this.tile(viewer, quality))], isMain, beganMs });
  }

  private tile(viewer: string, quality: Quality): ComingPicture[] {
    const target = this.tiles.get(viewer)?.getContext('2d', { alpha: false });
    const picture = target && this.host.beginTile(viewer, target, quality);
    return picture ? [picture] : [];
  }

  /** The main picture is there: where nothing goes on, it is drawn once more in full quality in a moment. */
  private calmDown(): void {
    this.drawnMs = performance.now();
    clearTimeout(this.calm);
    this.calm = this.calms ? setTimeout(this.refine, CALM_MS) : undefined;
  }

  /** Paints pictures, now or when they are there. */
  private bring(coming: Coming): void {
    const { pictures } = coming;
    const ready = (): boolean => this.over || pictures.every((picture) => picture.ready());
    const atOnce = this.lastMs > 0 || performance.now() - coming.beganMs < BEGUN_MS;
    if (atOnce && ready()) {
      this.show(coming);
      return;
    }
    this.coming = coming;
    void readied({ ready }).then(() => {
      if (this.over) return;
      this.coming = null;
      this.come = coming;
      if (coming.isMain) this.calmDown();
      // The level's next picture is drawn while this one is painted, where nothing else is to be done for it before. The first waits for none.
      const more = this.firstPictureMs !== null && (this.dirty || this.lastMs > 0);
      if (more && this.host.makeReady()) this.tick(performance.now());
      this.showCome();
      this.ask();
    });
  }

  private showCome(): void {
    const { come } = this;
    this.come = null;
    if (come) this.show(come);
  }

  private show({ pictures, isMain, beganMs }: Coming): void {
    this.showCome();
    for (const picture of pictures) picture.show();
    if (!isMain) return;
    const now = performance.now();
    this.onPicture?.(now - beganMs);
    if (!this.main || this.main.width <= 1) return;
    this.firstPictureMs ??= now;
    this.toldPictured();
  }

  private tileDue(viewers: string[]): string[] {
    this.tileTurn++;
    const every = this.intervalMs > SLOW_MS ? 8 : 1;
    const viewer = viewers[Math.floor(this.tileTurn / every) % viewers.length];
    return viewer !== undefined && this.tileTurn % every === 0 ? [viewer] : [];
  }
}

const isSamePose = (a: Pose, b: Pose): boolean =>
  a.position.every((v, k) => v === b.position[k]) && a.rotation.every((v, k) => v === b.rotation[k]);
