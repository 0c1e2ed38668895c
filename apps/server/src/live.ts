/** Pushes new revisions to whoever has the project open. */
import type { Server } from 'node:http';
import type { Duplex } from 'node:stream';
import type { Change } from '@foreshore/document';
import { type WebSocket, WebSocketServer } from 'ws';
import { type Doors, refuse } from './doors.ts';

/** Of a listener that does not listen so much is kept; then it is let go, and asks for what it missed when it comes again. */
const MOST_WAITING_BYTES = 8 * 1024 * 1024;
const MOST_ROOMS_BYTES = 64 * 1024;

/** The project that a connection asks for, or null where the address is not one of the live line. */
function projectOf(url: string | undefined): string | null {
  const [path, query] = (url ?? '').split('?', 2);
  return path === '/api/live' ? new URLSearchParams(query).get('project') : null;
}

export class Live {
  private readonly rooms = new Map<string, Set<WebSocket>>();
  private readonly server = new WebSocketServer({ noServer: true, maxPayload: MOST_ROOMS_BYTES });

  attach(http: Server, doors: Doors, exists: (project: string) => boolean): void {
    // Nothing that a client sends ends the process: each socket has a handler before anything is read of it.
    this.server.on('wsClientError', (_error, socket) => socket.destroy());
    http.on('upgrade', (req, socket: Duplex, head) => {
      socket.on('error', () => socket.destroy());
      if (!doors.allows(req)) return refuse(socket, 403, 'Forbidden', 'origin', 'The live line is for pages of this server only.');
      const id = projectOf(req.url);
      if (!id || !exists(id)) return refuse(socket, 404, 'Not Found', 'not-found', 'There is no such live line.');
      this.server.handleUpgrade(req, socket, head, (client) => {
        const room = this.rooms.get(id) ?? new Set();
        this.rooms.set(id, room.add(client));
        client.on('close', () => {
          room.delete(client);
          if (room.size === 0 && this.rooms.get(id) === room) this.rooms.delete(id);
        });
        client.on('error', () => client.terminate());
      });
    });
  }

  publish(projectId: string, change: Change): void {
    this.tell(projectId, change);
  }

  /** That a project was removed, or brought back. */
  publishRemoved(projectId: string, removed: boolean): void {
    this.tell(projectId, { removed });
  }

  private tell(projectId: string, what: object): void {
    const message = JSON.stringify(what);
    for (const client of this.rooms.get(projectId) ?? []) {
      if (client.bufferedAmount > MOST_WAITING_BYTES) client.terminate();
      else client.send(message, () => {});
    }
  }

  close(): void {
    for (const room of this.rooms.values()) for (const client of room) client.terminate();
    this.server.close();
  }
}
