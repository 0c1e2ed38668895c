/** The project's pictures, decoded as they are needed; what is not there yet is left out, and told about once it is. */
import type { Document } from '@foreshore/document';
import type { Pages } from './pages.ts';

/** Drawings are decoded at least this large, so that they stay sharp. */
const LEAST_DRAWING_PX = 512;

export class Pictures {
  private readonly there = new Map<string, HTMLCanvasElement | ImageBitmap>();
  private readonly asked = new Set<string>();
  private readonly arrived: () => void;
  /** Pages draw themselves. */
  private readonly pages: Pick<Pages, 'has' | 'get'>;

  /** @param arrived is called when a picture has come, or cannot. */
  constructor(arrived: () => void, pages: Pick<Pages, 'has' | 'get'>) {
    this.arrived = arrived;
    this.pages = pages;
  }

  /** Asks for all that a document names. */
  want(pictures: Document['pictures'] = {}): void {
    for (const picture of Object.values(pictures)) {
      if (picture.type === 'text/html' || this.asked.has(picture.hash)) continue;
      this.asked.add(picture.hash);
      void this.load(picture).finally(this.arrived);
    }
  }

  /** Nothing is still on its way. */
  get complete(): boolean {
    return this.there.size === this.asked.size;
  }

  readonly get = (hash: string): HTMLCanvasElement | ImageBitmap | undefined =>
    this.pages.has(hash) ? this.pages.get(hash) : this.there.get(hash);

  private async load({ hash, type, widthPx, heightPx }: NonNullable<Document['pictures']>[string]): Promise<void> {
    const image = new Image();
    image.src = `/api/pictures/${hash}`;
    try {
      await image.decode();
    } catch {
      // Broken, or gone: an empty canvas stands for it, so that nothing waits.
      this.there.set(hash, document.createElement('canvas'));
      return;
    }
    if (type !== 'image/svg+xml') {
      // One that begins well may still break off.
      this.there.set(hash, await createImageBitmap(image).catch(() => document.createElement('canvas')));
      return;
    }
    const scale = Math.max(1, LEAST_DRAWING_PX / Math.max(widthPx, heightPx));
    const canvas = document.createElement('canvas');
    canvas.width = Math.round(widthPx * scale);
    canvas.height = Math.round(heightPx * scale);
    canvas.getContext('2d')?.drawImage(image, 0, 0, canvas.width, canvas.height);
    this.there.set(hash, canvas);
  }
}
