/** Serves the example game, its bundles and the runtime to this machine. */
import { createReadStream, existsSync, statSync } from 'node:fs';
import { createServer } from 'node:http';
import { createRequire } from 'node:module';
import { dirname, extname, join, normalize, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';

const here = dirname(fileURLToPath(import.meta.url));
const three = dirname(createRequire(import.meta.url).resolve('three'));
const TYPES = {
  '.html': 'text/html; charset=utf-8',
  '.js': 'text/javascript; charset=utf-8',
  '.json': 'application/json',
  '.wasm': 'application/wasm',
  '.svg': 'image/svg+xml',
  '.png': 'image/png',
  '.jpg': 'image/jpeg',
};

/** @param folders the runtime's and the bundles'. */
export function serveExample(port, { runtime, bundles }) {
  const places = [
    ['/runtime/', runtime],
    ['/bundles/', bundles],
    ['/three/', three],
    ['/three-loaders/', join(dirname(three), 'examples', 'jsm', 'loaders')],
    ['/utils/', join(dirname(three), 'examples', 'jsm', 'utils')],
    ['/', here],
  ];
  const server = createServer((request, response) => {
    const path = decodeURIComponent(new URL(request.url ?? '/', 'http://localhost').pathname);
    const [prefix, folder] = places.find(([start]) => path.startsWith(start));
    const file = join(resolve(folder), normalize(`/${path.slice(prefix.length) || 'index.html'}`));
    if (!file.startsWith(resolve(folder)) || !existsSync(file) || !statSync(file).isFile()) {
      response.writeHead(404).end();
      return;
    }
    response.writeHead(200, { 'content-type': TYPES[extname(file)] ?? 'application/octet-stream', 'cache-control': 'no-store' });
    createReadStream(file).pipe(response);
  });
  return new Promise((resolve, reject) => {
    server.on('error', reject);
    server.listen(port, '127.0.0.1', () => resolve({ address: `http://127.0.0.1:${server.address().port}/`, close: () => server.close() }));
  });
}
