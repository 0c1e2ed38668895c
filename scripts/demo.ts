/** npm run demo: makes the level of Low Water and its document anew. */
import { createHash } from 'node:crypto';
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { extname } from 'node:path';
import { checkLevel } from '@foreshore/level/check';
import { makeLevel } from '../demo/src/level.ts';
import { pictureFiles } from '../demo/src/pictures.ts';
import { demoDocument } from '../demo/src/project.ts';

const bytes = await makeLevel();
const { nodes, triangles, size, warnings } = await checkLevel(bytes);
writeFileSync('demo/low-water.glb', bytes);
writeFileSync('demo/low-water.json', `${JSON.stringify(demoDocument(), null, 2)}\n`);
// Beside the document, its pictures are named as in a project file.
rmSync('demo/pictures', { recursive: true, force: true });
mkdirSync('demo/pictures', { recursive: true });
for (const [name, file] of Object.entries(pictureFiles()))
  writeFileSync(`demo/pictures/${createHash('sha256').update(file).digest('hex')}${extname(name)}`, file);
process.stdout.write(
  `${(bytes.length / 1e6).toFixed(2)} MB, ${nodes} nodes, ${triangles} triangles, ${size.map((v) => v.toFixed(0)).join(' x ')} m, ${warnings.length} warnings\n`,
);
