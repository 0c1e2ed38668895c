/** A server that is killed while changes stream in. In a file of its own, so that it runs beside the others. */
import type { Document } from '@foreshore/document';
import Database from 'better-sqlite3';
import { describe, expect, it } from 'vitest';
import { callAt, makeEmptyAt, rename, startTestServer } from './test-server.ts';

/** How often the server is killed; FORESHORE_KILLS asks for more. */
const KILLS = Number(process.env.FORESHORE_KILLS ?? 20);

describe('a killed server', () => {
  it(
    `loses nothing it acknowledged, and its database opens, ${KILLS} times`,
    async () => {
      let at = await startTestServer();
      const { id } = await makeEmptyAt(at, 'Causeway');
      let acknowledged = 0;
      let sent = 0;
      for (let kill = 0; kill < KILLS; kill++) {
        const { body } = await callAt(at, 'GET', `/api/projects/${id}`);
        let { document, revision } = body as { document: Document; revision: number };
        // Every acknowledged change is there; at most the one in flight more.
        expect(revision).toBeGreaterThanOrEqual(acknowledged);
        expect(revision).toBeLessThanOrEqual(sent);
        if (revision > 0) expect(document.name).toBe(`rev ${revision}`);
        acknowledged = revision;
        // At another moment each time: after some changes, with one on its way.
        const before = 1 + (kill % 7);
        for (let n = 0; ; n++) {
          const name = `rev ${revision + 1}`;
          sent = revision + 1;
          const answer = callAt(at, 'POST', `/api/projects/${id}/changes`, {
            base: revision,
            patch: rename(document, name),
            changeId: `c${sent}-${kill}`,
            clientId: 'k',
          });
          if (n === before) {
            const due = new Promise((resolve) => setTimeout(resolve, (kill % 5) * 2));
            await Promise.race([due, answer.catch(() => null)]);
            await at.stop('SIGKILL');
            const late = await answer.catch(() => null);
            if (late?.status === 200) acknowledged = late.body.revision;
            break;
          }
          expect((await answer).status).toBe(200);
          revision++;
          acknowledged = revision;
          document = { ...document, name };
        }
        const database = new Database(`${at.folder}/foreshore.sqlite`, { readonly: true });
        expect(database.pragma('integrity_check', { simple: true })).toBe('ok');
        database.close();
        at = await startTestServer(at.folder);
      }
      const { body } = await callAt(at, 'GET', `/api/projects/${id}`);
      expect(body.revision).toBeGreaterThanOrEqual(acknowledged);
      await at.remove();
    },
    60_000 + KILLS * 8_000,
  );
});
