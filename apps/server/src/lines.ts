/** The WebSocket lines of the server: who may have which is settled before anything is read of a connection. */
import type { IncomingMessage, Server } from 'node:http';
import type { Duplex } from 'node:stream';
import { type WebSocket, WebSocketServer } from 'ws';
import { refuse } from './doors.ts';

export interface Line {
  path: string;
  /** No message on it is longer. */
  mostBytes: number;
  allows(req: IncomingMessage): boolean;
  /** What is said to whom it is not for. */
  refusal: string;
  /** Whether there is such a line for a project. */
  exists(project: string): boolean;
  accept(client: WebSocket, project: string): void;
}

/** @returns what closes them all. */
export function attachLines(http: Server, lines: readonly Line[]): () => void {
  const servers = lines.map((line) => {
    const server = new WebSocketServer({ noServer: true, maxPayload: line.mostBytes });
    // Nothing that a client sends ends the process: each socket has a handler before anything is read of it.
    server.on('wsClientError', (_error, socket) => socket.destroy());
    return { line, server };
  });
  http.on('upgrade', (req, socket: Duplex, head) => {
    socket.on('error', () => socket.destroy());
    const [path, query] = (req.url ?? '').split('?', 2);
    const found = servers.find(({ line }) => line.path === path);
    const { line, server } = found ?? (servers[0] as (typeof servers)[number]);
    if (!line.allows(req)) return refuse(socket, 403, 'Forbidden', 'origin', line.refusal);
    const project = new URLSearchParams(query).get('project');
    if (!found || !project || !line.exists(project)) return refuse(socket, 404, 'Not Found', 'not-found', 'There is no such live line.');
    server.handleUpgrade(req, socket, head, (client) => {
      client.on('error', () => client.terminate());
      line.accept(client, project);
    });
  });
  return () => {
    for (const { server } of servers) server.close();
  };
}
