/** Starts the server from the command line. */
import { resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import { demo } from '@foreshore/demo';
import { Command, InvalidArgumentError } from 'commander';
import pino from 'pino';
import { startServer } from './server.ts';

// Whatever is left unhandled is told and ends nothing: what was acknowledged is on the disk.
process.on('unhandledRejection', (error) => log.error({ err: error }, 'unhandled'));
process.on('uncaughtException', (error) => log.error({ err: error }, 'uncaught'));

const portOf = (text: string): number => {
  const port = Number(text);
  if (!Number.isInteger(port) || port < 0 || port > 65535) throw new InvalidArgumentError('A port is a whole number from 0 to 65535.');
  return port;
};

const { port, data, host, web, origin, verbose } = new Command('npm start --')
  .description('Starts Foreshore and serves it on this machine.')
  .option('--port <number>', 'the port to listen on', portOf, 4180)
  .option('--data <folder>', 'the folder that keeps projects and levels', 'data')
  .option('--host <address>', 'the address to bind to; anything but 127.0.0.1 is open to the network', '127.0.0.1')
  .option('--web <folder>', 'the built application', fileURLToPath(new URL('../../web/dist', import.meta.url)))
  .option('--origin <origin...>', 'other origins whose pages may use the server, such as http://localhost:5173')
  .option('--verbose', 'log to standard error', false)
  .parse()
  .opts<{ port: number; data: string; host: string; web: string; origin?: string[]; verbose: boolean }>();

const log = pino({ level: verbose ? 'info' : 'error' }, pino.destination(2));
const folder = resolve(data);
try {
  const server = await startServer({ folder, host, port, web: web === 'none' ? null : resolve(web), demo, origins: origin ?? [], log });
  const stop = () => {
    void server.close().then(() => process.exit(0));
  };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
  if (server.store.list().length === 0 && server.store.isNew()) {
    process.stdout.write('Seeding the Low Water demo.\n');
    // The one that was made last stands first on the shelf.
    for (const which of ['before', 'now'])
      await fetch(new URL('/api/projects', server.address), {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ from: 'demo', which }),
      });
  }
  void server.store.lookAfterFiles().then(
    ({ broken }) => {
      for (const { fileName, hash, gone } of broken)
        process.stderr.write(
          `A file is ${gone ? 'gone' : 'damaged'}: ${fileName} (${hash.slice(0, 12)}). Send it again, or put a backup back.\n`,
        );
    },
    (error: unknown) => log.error({ err: error }, 'files could not be looked after'),
  );
  process.stdout.write(`Foreshore is ready at ${server.address}\nProjects are kept in ${folder}. Stop with Ctrl+C.\n`);
} catch (error) {
  const { code, message } = error as NodeJS.ErrnoException;
  if (code === 'EADDRINUSE') process.stderr.write(`Port ${port} is taken. Choose another: npm start -- --port ${port + 1}\n`);
  else if (code === 'EACCES')
    process.stderr.write(`Port ${port} or the folder ${folder} may not be used. Choose others with --port and --data.\n`);
  else process.stderr.write(`Foreshore cannot start: ${message}\n`);
  process.exit(1);
}
