/** The one place that talks to the server's API. */
import type { CheckPart, CheckRun, Moment, RouteEffect, Trial } from '@foreshore/checks';
import type {
  Change,
  CheckAbout,
  CompareCauses,
  CompareScope,
  Document,
  Fault,
  LevelFacts,
  LevelRef,
  OpenProject,
  Patch,
  PictureFacts,
  ProjectSummary,
  Revisions,
} from '@foreshore/document';
import { preparedAddress, projectAddress } from '@foreshore/document/addresses';

import type { Proof } from '@foreshore/handoff/proof';
import type { Sheet } from '@foreshore/handoff/sheet';
import { fetched } from '../level/asked.ts';

/** A refusal by the server, as problem details say it. */
export class Refusal extends Error {
  readonly status: number;
  readonly body: { title?: string; detail?: string; faults?: Fault[]; revision?: number; changes?: Change[] };
  constructor(status: number, body: Refusal['body']) {
    super(body.detail ?? `The server answered ${status}.`);
    this.status = status;
    this.body = body;
  }
}

/** The server could not be reached. */
export class Unreachable extends Error {}

async function call<T>(path: string, init?: RequestInit): Promise<T> {
  let response: Response;
  try {
    response = await fetched(path, init);
  } catch {
    throw new Unreachable('The server cannot be reached.');
  }
  if (response.status === 204) return undefined as T;
  const text = await response.text();
  let body: unknown = {};
  try {
    body = text ? JSON.parse(text) : {};
  } catch {
    // A proxy's page in place of an answer.
    if (response.ok) throw new Unreachable('The server gave an answer that cannot be read.');
  }
  if (!response.ok) {
    if (response.status === 502 || response.status === 503 || response.status === 504)
      throw new Unreachable('The server cannot be reached.');
    throw new Refusal(response.status, body as Refusal['body']);
  }
  return body as T;
}

/** Two revisions, the earlier one first. */
export interface Between {
  from: number;
  to: number;
}

const send = (method: string, value?: unknown): RequestInit => ({
  method,
  headers: { 'content-type': 'application/json' },
  ...(value === undefined ? {} : { body: JSON.stringify(value) }),
});
const file = (method: string, bytes: Uint8Array | Blob, type = 'application/octet-stream'): RequestInit => ({
  method,
  headers: { 'content-type': type },
  body: bytes as BodyInit,
});

/** A name for this tab, so that it knows its own changes when they come back. */
export const clientId = crypto.randomUUID();

export interface Watching {
  signal?: AbortSignal;
  onStage?: (stage: LevelStage) => void;
}
export type LevelStage = 'check' | 'read' | 'prepare';
/** How often it is asked what is being done. */
const LOOK_MS = 500;

/** The call was let go by whoever made it. */
export class LetGo extends Error {}

async function watchedCall<T>(path: string, init: RequestInit, { signal, onStage }: Watching): Promise<T> {
  const watch = crypto.randomUUID();
  const timer = setInterval(() => {
    // One that is not being read, or is done, has nothing to tell.
    void call<{ stage: LevelStage }>(`/api/readings/${watch}`).then(
      ({ stage }) => onStage?.(stage),
      () => {},
    );
  }, LOOK_MS);
  try {
    return await call<T>(`${path}&watch=${watch}`, { ...init, ...(signal && { signal }) });
  } catch (error) {
    if (signal?.aborted) throw new LetGo('It was let go.');
    throw error;
  } finally {
    clearInterval(timer);
  }
}

async function levelBytes(address: string): Promise<ArrayBuffer> {
  const response = await fetched(address).catch(() => {
    throw new Unreachable('The server cannot be reached.');
  });
  if (!response.ok) throw new Refusal(response.status, { detail: 'The level of this project is not on the server.' });
  return response.arrayBuffer();
}

export const api = {
  list: () => call<{ projects: ProjectSummary[] }>('/api/projects').then((r) => r.projects),
  open: (id: string) => call<OpenProject>(projectAddress(id)),
  createEmpty: (name: string) => call<OpenProject>('/api/projects', send('POST', { from: 'empty', name })),
  createDemo: () => call<OpenProject>('/api/projects', send('POST', { from: 'demo' })),
  createFromDocument: (document: Document) => call<OpenProject>('/api/projects', send('POST', { from: 'document', document })),
  goBack: (id: string) => call<OpenProject>(`/api/projects/${id}/back`, { method: 'POST' }),
  /** The spec sheet and the proof frames, of what is saved. */
  sheet: (id: string) => call<Sheet>(`/api/projects/${id}/sheet`),
  proof: (id: string) => call<Proof>(`/api/projects/${id}/proof`),
  /** Revisions: those there are; the document as it was at one; what one is called; one as a project of its own. */
  revisions: (id: string, before?: number) =>
    call<Revisions>(`/api/projects/${id}/revisions${before === undefined ? '' : `?before=${before}`}`),
  revision: (id: string, number: number) => call<Document>(`/api/projects/${id}/revisions/${number}`),
  nameRevision: (id: string, number: number, name: string | null) =>
    call<void>(`/api/projects/${id}/revisions/${number}/name`, send('PUT', { name })),
  copyRevision: (id: string, number: number) => call<OpenProject>(`/api/projects/${id}/revisions/${number}/copy`, send('POST')),
  /** Checks: those there are; begin one; cancel the one that runs; what one measured. */
  comparison: (id: string, { from, to }: Between, signal: AbortSignal) =>
    call<CompareScope>(`/api/projects/${id}/comparison?from=${from}&to=${to}`, { signal }),
  comparePart: (id: string, between: Between, part: CheckPart, signal: AbortSignal) =>
    call<{ effects: RouteEffect[] }>(`/api/projects/${id}/comparison`, { ...send('POST', { ...between, part }), signal }),
  compareCauses: (id: string, between: Between, part: CheckPart, moments: readonly Moment[], signal: AbortSignal) =>
    call<CompareCauses>(`/api/projects/${id}/comparison/causes`, { ...send('POST', { ...between, part, moments }), signal }),

  /** A part of a check without a change and with it. */
  checkTrial: (id: string, base: number, patch: Patch, part: CheckPart, signal: AbortSignal) =>
    call<Trial>(`/api/projects/${id}/checks/trial`, { ...send('POST', { base, patch, part }), signal }),
  checks: (id: string) => call<{ checks: CheckAbout[] }>(`/api/projects/${id}/checks`),
  startCheck: (id: string) => call<CheckAbout>(`/api/projects/${id}/checks`, { method: 'POST' }),
  cancelCheck: (id: string) => call<void>(`/api/projects/${id}/checks`, { method: 'DELETE' }),
  check: (id: string, check: number) => call<CheckRun>(`/api/projects/${id}/checks/${check}`),
  /** Games may connect, with the token that this gives; or none may. */
  letGamesIn: (id: string) => call<{ token: string }>(`/api/projects/${id}/games`, { method: 'POST' }),
  shutGamesOut: (id: string) => call<void>(`/api/projects/${id}/games`, { method: 'DELETE' }),
  missing: (id: string) => call<{ missing: { kind: string; id: string | null; name: string }[] }>(`/api/projects/${id}/missing`),
  createFromLevel: (name: string, level: { hash: string; file: string; metresPerUnit: number; upAxis: 'y' | 'z' }) =>
    call<OpenProject>('/api/projects', send('POST', { from: 'level', name, level })),
  importFile: (bytes: Blob) => call<OpenProject>('/api/projects/import', file('POST', bytes)),
  rename: (id: string, name: string) => call<{ revision: number }>(`/api/projects/${id}`, send('PATCH', { name, clientId })),
  duplicate: (id: string) => call<OpenProject>(`/api/projects/${id}/duplicate`, send('POST')),
  remove: (id: string) => call<void>(`/api/projects/${id}`, { method: 'DELETE' }),
  restore: (id: string) => call<void>(`/api/projects/${id}/restore`, { method: 'POST' }),
  change: (id: string, base: number, patch: Patch, changeId: string) =>
    call<{ revision: number }>(`/api/projects/${id}/changes`, send('POST', { base, patch, changeId, clientId })),
  changesSince: (id: string, since: number) =>
    call<{ revision: number; removed: boolean; at: string | null; changes: Change[] }>(`/api/projects/${id}/changes?since=${since}`),
  /** @param watching a large one takes a while: what is being done with it is told, and it can be let go. */
  sendLevel: (name: string, bytes: Uint8Array, watching: Watching = {}) =>
    watchedCall<LevelFacts>(`/api/levels?name=${encodeURIComponent(name)}`, file('POST', bytes), watching),
  sendPicture: (name: string, bytes: Uint8Array) =>
    call<PictureFacts & { hash: string }>(`/api/pictures?name=${encodeURIComponent(name)}`, file('POST', bytes)),
  sendPage: (name: string, bytes: Uint8Array) =>
    call<PictureFacts & { hash: string }>(`/api/pages?name=${encodeURIComponent(name)}`, file('POST', bytes)),
  sendFont: (name: string, bytes: Blob) =>
    call<{ hash: string; family: string; weight: number }>(`/api/fonts?name=${encodeURIComponent(name)}`, file('POST', bytes)),
  setPicture: (id: string, picture: Blob) => call<void>(`/api/projects/${id}/picture`, file('PUT', picture, 'image/jpeg')),
  level: async (hash: string): Promise<Uint8Array> => new Uint8Array(await levelBytes(`/api/levels/${hash}`)),
  /** As the server keeps it for the bench. */
  preparedLevel: (hash: string, as: Pick<LevelRef, 'metresPerUnit' | 'upAxis'>) => levelBytes(preparedAddress(hash, as)),
};
