/** Pushes new revisions to whoever has the project open. */
import type { Change, CheckProgress } from '@foreshore/document';
import type { WebSocket } from 'ws';

/** Of a listener that does not listen so much is kept; then it is let go, and asks for what it missed when it comes again. */
const MOST_WAITING_BYTES = 8 * 1024 * 1024;

export class Live {
  private readonly rooms = new Map<string, Set<WebSocket>>();
  private readonly told: ((project: string, revision: number) => void)[] = [];

  accept(client: WebSocket, project: string): void {
    const room = this.rooms.get(project) ?? new Set();
    this.rooms.set(project, room.add(client));
    client.on('close', () => {
      room.delete(client);
      if (room.size === 0 && this.rooms.get(project) === room) this.rooms.delete(project);
    });
  }

  /** Calls back with every revision of any project. */
  onChange(tell: (project: string, revision: number) => void): void {
    this.told.push(tell);
  }

  publish(projectId: string, change: Change): void {
    this.tell(projectId, change);
    for (const tell of this.told) tell(projectId, change.number);
  }

  /** That a project was removed, or brought back. */
  publishRemoved(projectId: string, removed: boolean): void {
    this.tell(projectId, { removed });
  }

  /** How a check gets on. */
  publishCheck(projectId: string, check: CheckProgress): void {
    this.tell(projectId, { check });
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
  }
}
