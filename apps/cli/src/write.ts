/** Writing to standard output, piece by piece, as fast as whoever reads it takes it. */

/** Whoever read the output has read enough: nothing is wrong. */
export class ReaderGone extends Error {}

export async function write(pieces: AsyncIterable<string> | Iterable<string>): Promise<void> {
  const { stdout } = process;
  let failed: NodeJS.ErrnoException | null = null;
  const onError = (error: NodeJS.ErrnoException) => {
    failed = error;
  };
  stdout.on('error', onError);
  const check = () => {
    if (failed?.code === 'EPIPE') throw new ReaderGone();
    if (failed) throw failed;
  };
  for await (const piece of pieces) {
    // The callback comes once the piece is written, or cannot be.
    await new Promise<void>((resolve) => {
      stdout.write(piece, (error) => {
        if (error) failed = error;
        resolve();
      });
    });
    check();
  }
}
