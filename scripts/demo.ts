/** npm run demo: makes the level of Low Water and its document anew. */
import { writeFileSync } from 'node:fs';
import { checkLevel } from '@foreshore/level/check';
import { makeLevel } from '../demo/src/level.ts';
import { demoDocument } from '../demo/src/project.ts';

const bytes = await makeLevel();
const { nodes, triangles, size, warnings } = await checkLevel(bytes);
writeFileSync('demo/low-water.glb', bytes);
writeFileSync('demo/low-water.json', `${JSON.stringify(demoDocument(), null, 2)}\n`);
process.stdout.write(
  `${(bytes.length / 1e6).toFixed(2)} MB, ${nodes} nodes, ${triangles} triangles, ${size.map((v) => v.toFixed(0)).join(' x ')} m, ${warnings.length} warnings\n`,
);
