/**
 * Who may come in. A page of another origin, or one that calls this machine by a name of its own (DNS rebinding), is refused
 * before anything of its request is read.
 */
import type { IncomingMessage, Server } from 'node:http';
import type { Duplex } from 'node:stream';

/** Names under which a server bound to this machine may be called. */
const LOCAL = /^(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/i;

/**
 * The addresses under which this machine is called, for policies: pages that are content run under the other name, which is another
 * site, so that browsers give them a process of their own. Just one's own where it is called by another name.
 */
export function bothNames(called: string): string {
  const port = LOCAL.exec(called)?.[2];
  return port === undefined ? "'self'" : `'self' http://localhost${port} http://127.0.0.1${port}`;
}

export interface Doors {
  /** Whether a request may be taken, by what it says it calls and where it comes from. Never throws. */
  allows(req: IncomingMessage): boolean;
}

/**
 * @param host the address that the server is bound to.
 * @param origins of other pages that may use the server, as browsers write them, such as "http://localhost:5173".
 */
export function makeDoors(host: string, origins: readonly string[]): Doors {
  const localOnly = host === '127.0.0.1' || host === 'localhost' || host === '::1';
  return {
    allows: ({ headers: { host: called = '', origin } }) => {
      if (localOnly && !LOCAL.test(called)) return false;
      // Only browsers say an origin. Another port of this machine is another origin.
      return origin === undefined || origin === `http://${called}` || origin === `https://${called}` || origins.includes(origin);
    },
  };
}

/** Where connections of this machine come from. */
const LOOPBACK = /^(127\.\d+\.\d+\.\d+|::1|::ffff:127\.\d+\.\d+\.\d+)$/;
/** A page of this machine, whatever its port. */
const LOCAL_PAGE = /^https?:\/\/(localhost|127\.0\.0\.1|\[::1\])(:\d+)?$/i;

/**
 * Whether a game may ask to be let in: a program that says no origin, or a page of this machine. What it may do then is settled by its
 * token.
 */
export const isLocalGame = ({
  headers: { host = '', origin },
  socket: { remoteAddress = '' },
}: {
  headers: { host?: string | undefined; origin?: string | undefined };
  socket: { remoteAddress?: string | undefined };
}): boolean => LOOPBACK.test(remoteAddress) && LOCAL.test(host) && (origin === undefined || LOCAL_PAGE.test(origin));

/** A problem document (RFC 9457) written by hand, for what is refused before there is an application to answer. */
export function refuse(socket: Duplex, status: number, reason: string, code: string, detail: string): void {
  const body = JSON.stringify({ type: `urn:foreshore:problem:${code}`, title: code, status, detail });
  if (!socket.writable) {
    socket.destroy();
    return;
  }
  socket.end(
    `HTTP/1.1 ${status} ${reason}\r\nContent-Type: application/problem+json\r\nContent-Length: ${Buffer.byteLength(body)}\r\nConnection: close\r\n\r\n${body}`,
  );
}

const MALFORMED: Record<string, [number, string, string]> = {
  HPE_HEADER_OVERFLOW: [431, 'Request Header Fields Too Large', 'The headers of the request are larger than is taken here.'],
  ERR_HTTP_REQUEST_TIMEOUT: [408, 'Request Timeout', 'The request did not come whole in time.'],
};

/** What is no request is answered, too, and a connection that breaks ends nothing but itself. */
export function answerMalformed(http: Server): void {
  http.on('connection', (socket) => socket.on('error', () => socket.destroy()));
  http.on('clientError', (error: NodeJS.ErrnoException, socket) => {
    if (error.code === 'ECONNRESET' || !socket.writable) {
      socket.destroy();
      return;
    }
    const [status, reason, detail] = MALFORMED[error.code ?? ''] ?? [400, 'Bad Request', 'This is not a request that can be read.'];
    refuse(socket, status, reason, 'request', detail);
  });
}
