/** Running games that are connected, and what the one that is followed says. */
import { type FeedValue, partsOfKey } from '@foreshore/document';
import { type GameFrame, type GameInfo, type GameNow, readGame, type Telling } from '@foreshore/handoff/game';
import { useEffect } from 'react';
import { create } from 'zustand';
import { useProject } from './project.ts';
import { noted, type Sent } from './sent.ts';

interface GameStore {
  /** Whether games are let in; null: not known. */
  on: boolean | null;
  games: readonly GameInfo[];
  /** The game that the bench shows, by its id. */
  following: string | null;
  /** All that it has said, as it said it and in the project's own terms. */
  now: GameNow | null;
  frame: GameFrame | null;
  /** Curves of what it sent. They are drawn: four times a second is enough. */
  sent: Sent;
}
const none: GameStore = { on: null, games: [], following: null, now: null, frame: null, sent: {} };
export const useGame = create<GameStore>(() => none);

/** All that is noted; what is drawn follows it. */
let noting: Sent = {};
const DRAWN_MS = 250;
let isDrawing = false;

/** What the game that is followed says, or null. */
export const gameFrame = (): GameFrame | null => useGame.getState().frame;

let line: { project: string; socket: WebSocket; users: number } | null = null;
const RETRY_MS = 1000;

/** Shows what a game's player sees, or lets go of it. */
export function follow(game: string | null): void {
  useGame.setState({ following: game, now: null, frame: null, sent: {} });
  noting = {};
  say({ follow: game });
}

/** Tells the game that is followed; false where none is. */
export function tellGame(telling: Exclude<Telling, { method: 'changed' }>): boolean {
  if (!useGame.getState().frame) return false;
  say({ tell: telling });
  return true;
}
/** The interface sets a value: the game takes it over. False where no game is followed. */
export const tellValue = (key: string, value: FeedValue): boolean => {
  const { id: feed, object } = partsOfKey(key);
  return tellGame({ method: 'set', params: { feed, ...(object !== null && { object }), value: value as never } });
};

function say(what: object): void {
  if (line?.socket.readyState === WebSocket.OPEN) line.socket.send(JSON.stringify(what));
}

function hear({ on, games, game, now }: { on?: boolean; games?: GameInfo[]; game?: string; now?: GameNow }): void {
  const { following } = useGame.getState();
  if (now && game === following) {
    const { document } = useProject.getState();
    if (document) {
      const frame = readGame(document, now);
      noting = noted(noting, frame);
      useGame.setState({ now, frame });
      if (!isDrawing)
        setTimeout(() => {
          isDrawing = false;
          useGame.setState({ sent: noting });
        }, DRAWN_MS);
      isDrawing = true;
    }
  }
  if (!games) return;
  useGame.setState({ on: on ?? null, games });
  // One that was forgotten, or shut out, is followed no more.
  if (following !== null && !games.some(({ id }) => id === following)) follow(null);
}

function open(project: string): void {
  const url = new URL(`/api/games?project=${encodeURIComponent(project)}`, window.location.href);
  url.protocol = url.protocol === 'https:' ? 'wss:' : 'ws:';
  const socket = new WebSocket(url);
  line = { project, socket, users: line?.project === project ? line.users : 0 };
  socket.addEventListener('open', () => {
    const { following } = useGame.getState();
    if (following !== null) say({ follow: following });
  });
  socket.addEventListener('message', ({ data }) => hear(JSON.parse(String(data))));
  socket.addEventListener('close', () => {
    if (line?.socket !== socket) return;
    setTimeout(() => line?.socket === socket && open(project), RETRY_MS);
  });
}

/** Listens to the games of a project while a view is there. */
export function useGames(project: string): void {
  useEffect(() => {
    if (line?.project !== project) {
      const { socket } = line ?? {};
      line = null;
      socket?.close();
      useGame.setState(none);
      open(project);
    }
    if (line) line.users++;
    return () => {
      if (!line || line.project !== project) return;
      line.users--;
      // Another view takes it over at once, or nobody does.
      setTimeout(() => {
        if (line?.project !== project || line.users > 0) return;
        const { socket } = line;
        line = null;
        socket.close();
        useGame.setState(none);
      }, RETRY_MS);
    };
  }, [project]);
}
