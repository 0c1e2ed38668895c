/**
 * A document on its way to a worker that had an earlier state of it: only what was changed is copied. What was not changed is the same
 * object there, too, so that what the worker knows of it by identity, as its shaped texts, holds on.
 */
import { COLLECTIONS, type Document } from '@foreshore/document';

type Entries = Readonly<Record<string, unknown>>;

/** What makes one document of another, or a whole one. */
export type News =
  | { whole: Document }
  | {
      /** Fields that are not collections, those that are gone without a value. */
      fields: [string, unknown][];
      entries: { collection: string; set: [string, unknown][]; gone: string[] }[];
    };

const isCollection = (name: string): boolean => (COLLECTIONS as readonly string[]).includes(name);
const isEntries = (value: unknown): value is Entries => typeof value === 'object' && value !== null;

/** @param last what was sent before; null: nothing. */
export function newsOf(last: Document | null, next: Document): News {
  if (!last) return { whole: next };
  const [was, is] = [last as unknown as Entries, next as unknown as Entries];
  const news: Exclude<News, { whole: Document }> = { fields: [], entries: [] };
  for (const name of new Set([...Object.keys(was), ...Object.keys(is)])) {
    const [before, after] = [was[name], is[name]];
    if (before === after) continue;
    if (!isCollection(name) || !isEntries(before) || !isEntries(after)) {
      news.fields.push([name, after]);
      continue;
    }
    news.entries.push({
      collection: name,
      set: Object.entries(after).filter(([id, entry]) => before[id] !== entry),
      gone: Object.keys(before).filter((id) => !Object.hasOwn(after, id)),
    });
  }
  return news;
}

/** The document that news make of what was sent before. */
export function withNews(last: Document | null, news: News): Document {
  if ('whole' in news) return news.whole;
  if (last && news.fields.length === 0 && news.entries.length === 0) return last;
  const next: Record<string, unknown> = { ...last };
  for (const [name, value] of news.fields) {
    if (value === undefined) delete next[name];
    else next[name] = value;
  }
  for (const { collection, set, gone } of news.entries) {
    const entries: Record<string, unknown> = { ...(next[collection] as Entries) };
    for (const id of gone) delete entries[id];
    for (const [id, entry] of set) entries[id] = entry;
    next[collection] = entries;
  }
  return next as unknown as Document;
}

/** A message with its document as news. */
export type Sent<T extends { document: Document }> = T extends unknown ? Omit<T, 'document'> & { news: News } : never;

/** Sends messages with a document to one worker; the first with all of it. */
export function sender<T extends { document: Document }>(post: (message: Sent<T>) => void): (message: T) => void {
  let last: Document | null = null;
  return ({ document, ...rest }) => {
    const news = newsOf(last, document);
    last = document;
    post({ ...rest, news } as Sent<T>);
  };
}

/** What a worker makes of messages, in the order in which they come. */
export function receiver<T extends { document: Document }>(): (message: Sent<T>) => T {
  let last: Document | null = null;
  return ({ news, ...rest }) => {
    last = withNews(last, news);
    return { ...rest, document: last } as unknown as T;
  };
}
