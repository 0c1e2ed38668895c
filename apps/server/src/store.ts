/**
 * Projects, revisions and what is known of files on disk.
 *
 * A change is durable before it is acknowledged: one transaction with full synchronisation writes it. Every
 * SNAPSHOT_EVERY revisions the whole document is written too, so that opening replays few changes; the last few of these
 * stay, to go back to where a later revision cannot be read.
 */
import { fileURLToPath } from 'node:url';
import type { CheckRun } from '@foreshore/checks';
import {
  applyChange,
  type Change,
  type CheckAbout,
  type Document,
  freeId,
  type LevelFacts,
  type OpenProject,
  type Patch,
  type PictureFacts,
  type ProjectSummary,
  parseDocument,
  type RevisionAbout,
  type Revisions,
} from '@foreshore/document';
import {
  brokenFiles,
  databaseIn,
  filesIn,
  type Lock,
  pathOf,
  readKept,
  removeDrafts,
  removePreparedDrafts,
  takeFolder,
} from '@foreshore/storage';
import Database from 'better-sqlite3';
import { and, asc, desc, eq, getTableColumns, gt, isNull, lt, lte } from 'drizzle-orm';
import { type BetterSQLite3Database, drizzle } from 'drizzle-orm/better-sqlite3';
import { migrate } from 'drizzle-orm/better-sqlite3/migrator';
import { notFound, Problem } from './problem.ts';
import type { KeptFile } from './readers.ts';
import * as tables from './tables.ts';

const { project, revision, revisionName, asset, checkpoint, gameDoor, checkRun } = tables;
const MIGRATIONS = fileURLToPath(new URL('../migrations', import.meta.url));
const SNAPSHOT_EVERY = 50;
/** So many whole documents of earlier revisions stay. */
const CHECKPOINTS = 4;

/** So many revisions are listed at once, and so many may have names. */
const REVISIONS_AT_ONCE = 50;
const MOST_NAMED = 500;
/** What a change touched is told by so many places at most. */
const MOST_TOUCHED = 4;

/** The places that a change touched, as pointers of up to three steps. */
function touchedBy(patch: Patch): { touched: string[]; more: number } {
  const all = [...new Set(patch.flatMap(({ op, path }) => (op === 'test' ? [] : [path.split('/').slice(0, 4).join('/')])))];
  return { touched: all.slice(0, MOST_TOUCHED), more: Math.max(0, all.length - MOST_TOUCHED) };
}

/** So many checks of a project are kept. */
const MOST_CHECKS = 12;
export interface EndedCheck {
  state: Exclude<CheckAbout['state'], 'running'>;
  why?: string;
  counts?: Record<string, number>;
  run?: CheckRun;
  digests?: Record<string, string>;
}

export class Store {
  private readonly sqlite: Database.Database;
  private readonly db: BetterSQLite3Database<typeof tables>;
  readonly files: string;
  private readonly lock: Lock;
  /** Documents as of their latest revision, by project. */
  private readonly open = new Map<string, { revision: number; document: Document }>();

  /**
   * @param folder is made where it does not exist.
   * @throws FolderTaken where another server keeps it.
   */
  constructor(folder: string) {
    this.files = filesIn(folder);
    this.lock = takeFolder(folder);
    try {
      this.sqlite = new Database(databaseIn(folder));
      this.sqlite.pragma('journal_mode = WAL');
      this.sqlite.pragma('synchronous = FULL');
      this.sqlite.pragma('foreign_keys = ON');
      this.db = drizzle(this.sqlite, { schema: tables });
      migrate(this.db, { migrationsFolder: MIGRATIONS });
      // What a kill cut short says so.
      this.db.update(checkRun).set({ state: 'cut', endedAt: Date.now() }).where(eq(checkRun.state, 'running')).run();
    } catch (error) {
      this.lock.release();
      throw error;
    }
  }

  /** Where the server can be reached: told to whoever wants the same folder. */
  tellAddress(address: string): void {
    this.lock.tell(address);
  }

  close(): void {
    this.sqlite.close();
    this.lock.release();
  }

  /** Removes what a kill left half written, and names the files that are gone or damaged. */
  async lookAfterFiles(): Promise<{ drafts: number; broken: { hash: string; gone: boolean; fileName: string }[] }> {
    const drafts = await removeDrafts(this.files);
    await removePreparedDrafts(this.files);
    const known = this.db.select({ hash: asset.hash, fileName: asset.fileName }).from(asset).all();
    const names = new Map(known.map(({ hash, fileName }) => [hash, fileName]));
    const broken = await brokenFiles(this.files, [...names.keys()]);
    return { drafts, broken: broken.map((one) => ({ ...one, fileName: names.get(one.hash) ?? one.hash })) };
  }

  /** No project was ever made here. */
  isNew(): boolean {
    return this.db.select({ id: project.id }).from(project).limit(1).all().length === 0;
  }

  list(): ProjectSummary[] {
    const rows = this.db
      .select({ id: project.id, name: project.name, revision: project.revision, updatedAt: project.updatedAt, picture: project.picture })
      .from(project)
      .where(isNull(project.removedAt))
      .orderBy(desc(project.updatedAt))
      .all();
    return rows.map(({ id, name, revision: number, updatedAt, picture }) => {
      const about = { id, name, revision: number, updatedAt, anchors: 0, elements: 0, level: null, hasPicture: picture !== null };
      try {
        const { document } = this.read(id);
        return {
          ...about,
          name: document.name,
          anchors: Object.keys(document.anchors).length,
          elements: Object.keys(document.elements).length,
          level: document.level?.file ?? null,
        };
      } catch (error) {
        // One that cannot be read keeps no other from being opened.
        return { ...about, unreadable: { why: (error as Error).message, readable: this.lastReadable(id)?.revision ?? null } };
      }
    });
  }

  /** A check begins. */
  beginCheck(run: { projectId: string; revision: number; parts: number; kept: number }): number {
    const { id } = this.db
      .insert(checkRun)
      .values({ ...run, state: 'running', startedAt: Date.now() })
      .returning({ id: checkRun.id })
      .get();
    return id;
  }
  /** It has ended; of a whole one all is kept. The oldest of a project go. */
  endCheck(id: number, { state, why, counts, run, digests }: EndedCheck): void {
    const json = (value: object | undefined) => (value === undefined ? null : JSON.stringify(value));
    this.db
      .update(checkRun)
      .set({ state, why: why ?? null, endedAt: Date.now(), counts: json(counts), run: json(run), digests: json(digests) })
      .where(eq(checkRun.id, id))
      .run();
    const ended = this.db.select({ projectId: checkRun.projectId }).from(checkRun).where(eq(checkRun.id, id)).get();
    for (const { id: old } of this.checks(ended?.projectId ?? '').slice(MOST_CHECKS))
      this.db.delete(checkRun).where(eq(checkRun.id, old)).run();
  }
  /** What is known of the checks of a project, the newest first. */
  checks(projectId: string): CheckAbout[] {
    const { run: _, digests: __, projectId: ___, ...about } = getTableColumns(checkRun);
    const rows = this.db.select(about).from(checkRun).where(eq(checkRun.projectId, projectId)).orderBy(desc(checkRun.id)).all();
    return rows.map(({ counts, ...row }) => ({ ...row, counts: counts === null ? null : JSON.parse(counts) }));
  }
  /** All that a whole check measured. */
  check(projectId: string, id: number): { run: CheckRun; digests: Record<string, string> } | null {
    const row = this.db
      .select({ run: checkRun.run, digests: checkRun.digests })
      .from(checkRun)
      .where(and(eq(checkRun.projectId, projectId), eq(checkRun.id, id)))
      .get();
    return row?.run ? { run: JSON.parse(row.run), digests: JSON.parse(row.digests ?? '{}') } : null;
  }

  /** The token that lets games in, as its SHA-256; null: none is let in. */
  tokenHash(id: string): string | null {
    return this.db.select({ hash: gameDoor.tokenHash }).from(gameDoor).where(eq(gameDoor.projectId, id)).get()?.hash ?? null;
  }
  setTokenHash(id: string, tokenHash: string | null): void {
    this.db.delete(gameDoor).where(eq(gameDoor.projectId, id)).run();
    if (tokenHash !== null) this.db.insert(gameDoor).values({ projectId: id, tokenHash, createdAt: Date.now() }).run();
  }

  /** @throws Problem 404; 422 where its document cannot be read. */
  read(id: string): OpenProject {
    const known = this.open.get(id);
    if (known) return { id, ...known };
    const row = this.db.select().from(project).where(eq(project.id, id)).get();
    if (!row) throw notFound('such project');
    let state: { revision: number; document: Document };
    try {
      let document = parseDocument(JSON.parse(row.snapshot));
      for (const change of this.changesSince(id, row.snapshotRevision)) document = applyChange(document, change.patch);
      state = { revision: row.revision, document };
    } catch (error) {
      throw new Problem(422, 'unreadable', `The project "${row.name}" cannot be read: ${(error as Error).message}`);
    }
    this.open.set(id, state);
    return { id, ...state };
  }

  /** Whether there is such a project, removed or not. */
  has(id: string): boolean {
    return this.db.select({ id: project.id }).from(project).where(eq(project.id, id)).get() !== undefined;
  }
  isRemoved(id: string): boolean {
    return (this.db.select({ removedAt: project.removedAt }).from(project).where(eq(project.id, id)).get()?.removedAt ?? null) !== null;
  }

  /** Everything that is kept of a project's document, as it lies there; for one that cannot be read. */
  raw(id: string): object {
    const row = this.db.select().from(project).where(eq(project.id, id)).get();
    if (!row) throw notFound('such project');
    const { name, revision: number, snapshotRevision, snapshot } = row;
    const later = this.db
      .select()
      .from(revision)
      .where(and(eq(revision.projectId, id), gt(revision.number, snapshotRevision)))
      .all();
    const checkpoints = this.db.select().from(checkpoint).where(eq(checkpoint.projectId, id)).all();
    return { id, name, revision: number, snapshotRevision, snapshot, changes: later, checkpoints };
  }

  /** The latest revision of a project that can be read, with its document; null where none can. */
  private lastReadable(id: string): { revision: number; document: Document } | null {
    const row = this.db.select().from(project).where(eq(project.id, id)).get();
    const kept = this.db.select().from(checkpoint).where(eq(checkpoint.projectId, id)).orderBy(desc(checkpoint.number)).all();
    const starts = [...(row ? [{ number: row.snapshotRevision, document: row.snapshot }] : []), ...kept];
    for (const { number, document: text } of starts) {
      let last: { revision: number; document: Document };
      try {
        last = { revision: number, document: parseDocument(JSON.parse(text)) };
      } catch {
        continue;
      }
      try {
        for (const change of this.changesSince(id, number))
          last = { revision: change.number, document: applyChange(last.document, change.patch) };
      } catch {
        // As far as it goes.
      }
      return last;
    }
    return null;
  }

  /** Brings a project that cannot be read back to its last revision that can, as a new revision. @throws Problem 409 where there is none. */
  goBack(id: string): OpenProject {
    const row = this.db.select().from(project).where(eq(project.id, id)).get();
    if (!row) throw notFound('such project');
    const last = this.lastReadable(id);
    if (!last) throw new Problem(409, 'unreadable', 'No earlier revision of this project can be read either.');
    const number = row.revision + 1;
    this.db.transaction((tx) => {
      tx.insert(checkpoint)
        .values({ projectId: id, number, document: JSON.stringify(last.document), createdAt: Date.now() })
        .run();
      tx.update(project)
        .set({
          revision: number,
          name: last.document.name,
          snapshot: JSON.stringify(last.document),
          snapshotRevision: number,
          updatedAt: Date.now(),
        })
        .where(eq(project.id, id))
        .run();
    });
    this.open.set(id, { revision: number, document: last.document });
    return { id, revision: number, document: last.document };
  }

  /** @throws DocumentError where it is no document: what is taken can always be read back. */
  create(given: Document): OpenProject {
    const document = parseDocument(given);
    const taken = Object.fromEntries(
      this.db
        .select({ id: project.id })
        .from(project)
        .all()
        .map(({ id }) => [id, true]),
    );
    const id = freeId(taken, document.name);
    const now = Date.now();
    const snapshot = JSON.stringify(document);
    this.db.transaction((tx) => {
      tx.insert(project)
        .values({ id, name: document.name, revision: 0, snapshotRevision: 0, snapshot, createdAt: now, updatedAt: now })
        .run();
      tx.insert(checkpoint).values({ projectId: id, number: 0, document: snapshot, createdAt: now }).run();
    });
    this.open.set(id, { revision: 0, document });
    return { id, revision: 0, document };
  }

  /**
   * Takes a change made on revision `base`.
   * @throws Problem 409 with the newer changes where `base` is stale; what `applyChange` throws.
   */
  change(id: string, base: number, patch: Patch, changeId: string, clientId: string): Change {
    const current = this.read(id);
    if (this.isRemoved(id)) throw new Problem(410, 'removed', 'This project was removed. Bring it back to go on with it.');
    const again = this.db
      .select()
      .from(revision)
      .where(and(eq(revision.projectId, id), eq(revision.changeId, changeId)))
      .get();
    if (again) return { number: again.number, changeId, clientId: again.clientId, patch: JSON.parse(again.patch) as Patch };
    if (base > current.revision)
      throw new Problem(409, 'behind', `The change was made on revision ${base}; the server has ${current.revision} only.`, {
        revision: current.revision,
      });
    if (base !== current.revision)
      throw new Problem(409, 'stale', `The change was made on revision ${base}; the project is at ${current.revision}.`, {
        revision: current.revision,
        changes: this.changesSince(id, base),
      });
    const document = applyChange(current.document, patch);
    const number = current.revision + 1;
    const now = Date.now();
    this.db.transaction((tx) => {
      tx.insert(revision)
        .values({ projectId: id, number, changeId, clientId, patch: JSON.stringify(patch), createdAt: now })
        .run();
      const isDue = number % SNAPSHOT_EVERY === 0;
      const snapshot = isDue ? { snapshot: JSON.stringify(document), snapshotRevision: number } : {};
      if (isDue) {
        tx.insert(checkpoint)
          .values({ projectId: id, number, document: JSON.stringify(document), createdAt: now })
          .run();
        tx.delete(checkpoint)
          .where(and(eq(checkpoint.projectId, id), lt(checkpoint.number, number - CHECKPOINTS * SNAPSHOT_EVERY), gt(checkpoint.number, 0)))
          .run();
      }
      tx.update(project)
        .set({ revision: number, name: document.name, updatedAt: now, ...snapshot })
        .where(eq(project.id, id))
        .run();
    });
    this.open.set(id, { revision: number, document });
    return { number, changeId, clientId, patch, at: now };
  }

  /** Revisions before a number, the newest first, and all that have names. */
  revisions(id: string, before = Number.MAX_SAFE_INTEGER, most = REVISIONS_AT_ONCE): Revisions {
    const { revision: present } = this.read(id);
    const last = Math.min(present, before - 1);
    const revisions: RevisionAbout[] = [];
    for (let number = last; number >= 0 && revisions.length < most; number--) revisions.push(this.revisionAbout(id, number));
    const named = this.db
      .select({ number: revisionName.number })
      .from(revisionName)
      .where(eq(revisionName.projectId, id))
      .orderBy(desc(revisionName.number))
      .all()
      .map((row) => this.revisionAbout(id, row.number));
    return { revision: present, revisions, named };
  }

  /** One revision, without its document. */
  revisionAbout(id: string, number: number): RevisionAbout {
    const of = <T extends typeof revision | typeof revisionName>(table: T) => and(eq(table.projectId, id), eq(table.number, number));
    const row = this.db.select().from(revision).where(of(revision)).get();
    const named = this.db.select().from(revisionName).where(of(revisionName)).get();
    const at = row?.createdAt ?? null;
    return { number, name: named?.name ?? null, at, ...touchedBy(row ? (JSON.parse(row.patch) as Patch) : []) };
  }

  /** Calls a revision something; null: it has no name any more. */
  nameRevision(id: string, number: number, name: string | null): void {
    this.checkRevision(id, number);
    const here = and(eq(revisionName.projectId, id), eq(revisionName.number, number));
    if (name === null) {
      this.db.delete(revisionName).where(here).run();
      return;
    }
    const others = this.db
      .select()
      .from(revisionName)
      .where(eq(revisionName.projectId, id))
      .all()
      .filter((row) => row.number !== number);
    if (others.length >= MOST_NAMED)
      throw new Problem(409, 'names', `A project has at most ${MOST_NAMED} named revisions: take a name away first.`);
    this.db
      .insert(revisionName)
      .values({ projectId: id, number, name, createdAt: Date.now() })
      .onConflictDoUpdate({ target: [revisionName.projectId, revisionName.number], set: { name } })
      .run();
  }

  private checkRevision(id: string, number: number): void {
    const { revision: present } = this.read(id);
    if (number > present) throw new Problem(404, 'revision', `There is no revision ${number}: the project is at ${present}.`);
  }

  /** The document as it was at a revision: the whole one that was kept last before it, and the changes since. */
  documentAt(id: string, number: number): Document {
    this.checkRevision(id, number);
    const { revision: present, document } = this.read(id);
    if (number === present) return document;
    const start = this.db
      .select()
      .from(checkpoint)
      .where(and(eq(checkpoint.projectId, id), lte(checkpoint.number, number)))
      .orderBy(desc(checkpoint.number))
      .get();
    if (!start) throw new Problem(404, 'revision', `Revision ${number} is not kept any more.`);
    let at = parseDocument(JSON.parse(start.document));
    for (const change of this.changesSince(id, start.number)) if (change.number <= number) at = applyChange(at, change.patch);
    return at;
  }

  changesSince(id: string, base: number): Change[] {
    return this.db
      .select()
      .from(revision)
      .where(and(eq(revision.projectId, id), gt(revision.number, base)))
      .orderBy(asc(revision.number))
      .all()
      .map((row) => ({
        number: row.number,
        changeId: row.changeId,
        clientId: row.clientId,
        patch: JSON.parse(row.patch) as Patch,
        at: row.createdAt,
      }));
  }

  /** The change that made a revision; null where there is none to name, as for the first one. */
  changeIdAt(id: string, number: number): string | null {
    const row = this.db
      .select({ changeId: revision.changeId })
      .from(revision)
      .where(and(eq(revision.projectId, id), eq(revision.number, number)))
      .get();
    return row?.changeId ?? null;
  }

  setRemoved(id: string, removed: boolean): void {
    const done = this.db
      .update(project)
      .set({ removedAt: removed ? Date.now() : null })
      .where(eq(project.id, id))
      .run();
    if (done.changes === 0) throw notFound('such project');
  }

  setPicture(id: string, png: Buffer): void {
    this.db.update(project).set({ picture: png }).where(eq(project.id, id)).run();
  }

  picture(id: string): Buffer | null {
    return this.db.select({ picture: project.picture }).from(project).where(eq(project.id, id)).get()?.picture ?? null;
  }

  /** Notes files that lie on the disk, whole; what was known of one already stays. */
  addFiles(files: readonly KeptFile[]): void {
    const createdAt = Date.now();
    this.db.transaction((tx) => {
      for (const { hash, kind, fileName, size, facts } of files)
        tx.insert(asset)
          .values({ hash, kind, fileName, size, facts: JSON.stringify(facts), createdAt })
          .onConflictDoNothing()
          .run();
    });
  }

  /** What is known of a file, or null where it was never sent. */
  private known(kind: KeptFile['kind'], hash: string): { facts: string; fileName: string } | null {
    const row = this.db.select().from(asset).where(eq(asset.hash, hash)).get();
    return row?.kind === kind ? row : null;
  }

  hasLevel(hash: string): boolean {
    return this.known('level', hash) !== null;
  }

  levelFacts(hash: string): LevelFacts | null {
    const row = this.known('level', hash);
    return row && { hash, fileName: row.fileName, ...(JSON.parse(row.facts) as Omit<LevelFacts, 'hash' | 'fileName'>) };
  }

  /** The bytes of a file; null where it was never sent, or is gone from the disk. */
  async fileBytes(kind: KeptFile['kind'], hash: string): Promise<Uint8Array | null> {
    return this.known(kind, hash) ? readKept(this.files, hash) : null;
  }

  pictureType(hash: string): PictureFacts['type'] | null {
    const row = this.known('picture', hash);
    return row && (JSON.parse(row.facts) as PictureFacts).type;
  }

  levelPath(hash: string): string | null {
    return this.hasLevel(hash) ? pathOf(this.files, hash) : null;
  }
}
