/** npm run game -- --token TOKEN [--project ID] [--address URL] [--route NAME] [--rate N] [--name NAME] */
import { parseArgs } from 'node:util';
import type { Level } from '@foreshore/core';
import { type Document, parseDocument } from '@foreshore/document';
import { readLevel } from '@foreshore/level';
import { connect } from '@foreshore/runtime/connect';
import { WebSocket } from 'ws';
import { walkOf } from './walk.ts';

const say = (line: string) => process.stdout.write(`${line}\n`);
function stop(line: string): never {
  process.stderr.write(`${line}\n`);
  process.exit(1);
}

const given = (() => {
  try {
    return parseArgs({
      options: {
        token: { type: 'string' },
        project: { type: 'string', default: 'low-water' },
        address: { type: 'string', default: 'http://127.0.0.1:4180' },
        route: { type: 'string' },
        rate: { type: 'string', default: '30' },
        name: { type: 'string', default: 'Made-up game' },
      },
    }).values;
  } catch (error) {
    return stop((error as Error).message);
  }
})();
const { token, project, address, route, rate, name } = given;
if (!token) stop('Name the token: npm run game -- --token TOKEN. The Handoff view shows it when the game connection is switched on.');
const hertz = Number(rate);
if (!(hertz >= 1 && hertz <= 1000)) stop(`--rate takes 1 to 1000 messages a second, not "${rate}".`);

const opened = await fetch(new URL(`/api/projects/${encodeURIComponent(project)}`, address)).catch(() =>
  stop(`Nothing answers at ${address}. Start the bench with npm start, or name another with --address.`),
);
if (!opened.ok) stop(`There is no project "${project}" at ${address}; name another with --project.`);
const { document } = (await opened.json()) as { document: unknown };
/** The level, where feeds have a value for each of its objects. */
async function levelFor({ feeds, level }: Document): Promise<Level | null> {
  if (!level?.hash || !Object.values(feeds).some(({ each }) => each)) return null;
  const file = await fetch(new URL(`/api/levels/${level.hash}`, address));
  return file.ok ? readLevel(new Uint8Array(await file.arrayBuffer()), level) : null;
}
const read = parseDocument(document);
const level = await levelFor(read);
const walked = (() => {
  try {
    return walkOf(read, route ?? null, level);
  } catch (error) {
    return stop((error as Error).message);
  }
})();

const line = connect({
  ...{ address, project, token, name, socket: WebSocket as never },
  onState: (state, why) => {
    if (state === 'refused') stop(`The bench does not let it in: ${why}`);
    say(state === 'connected' ? `Connected to ${address} as ${name}.` : `${why} Trying again.`);
  },
  onAction: ({ name: called, source, target }) => say(`${source} sent "${called}"${target ? `, at ${target}` : ''}.`),
  onSet: ({ feed, object, value }) => {
    walked.set(feed, value, object);
    say(`${feed}${object === undefined ? '' : ` of ${object}`} was set to ${JSON.stringify(value)}.`);
  },
  onPhase: (phase) => {
    walked.setPhase(phase);
    say(`The phase is ${phase} now.`);
  },
  onHeld: (held) => say(held ? 'The interface has the pointer.' : 'The interface lets go of the pointer.'),
  onChanged: (revision) => say(`The project was edited: revision ${revision}.`),
});
const began = performance.now();
let last = 0;
setInterval(() => {
  const timeS = (performance.now() - began) / 1000;
  for (const { feed, place } of walked.between(last, timeS)) line.happened(feed, place);
  last = timeS;
  line.say(walked.at(timeS));
}, 1000 / hertz);
for (const signal of ['SIGINT', 'SIGTERM'] as const)
  process.on(signal, () => {
    line.close();
    process.exit(0);
  });
