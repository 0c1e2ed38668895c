/** Pushes new revisions to whoever has the project open. */
import type { IncomingMessage, Server } from 'node:http';
import type { Change } from '@foreshore/document';
import { type WebSocket, WebSocketServer } from 'ws';

export class Live {
  private readonly rooms = new Map<string, Set<WebSocket>>();
  private readonly server = new WebSocketServer({ noServer: true, maxPayload: 64 * 1024 });

  attach(http: Server, allowed: (req: IncomingMessage) => boolean): void {
    http.on('upgrade', (req, socket, head) => {
      const url = new URL(req.url ?? '/', 'http://localhost');
      const id = url.searchParams.get('project');
      if (url.pathname !== '/api/live' || !id || !allowed(req)) {
        socket.end('HTTP/1.1 403 Forbidden\r\nConnection: close\r\n\r\n');
        return;
      }
      this.server.handleUpgrade(req, socket, head, (client) => {
        const room = this.rooms.get(id) ?? new Set();
        this.rooms.set(id, room.add(client));
        client.on('close', () => room.delete(client));
        client.on('error', () => client.terminate());
      });
    });
  }

  publish(projectId: string, change: Change): void {
    const message = JSON.stringify(change);
    for (const client of this.rooms.get(projectId) ?? []) client.send(message);
  }

  close(): void {
    for (const room of this.rooms.values()) for (const client of room) client.terminate();
    this.server.close();
  }
}
