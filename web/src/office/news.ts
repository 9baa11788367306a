/**
 * News of what changed, and which answers on the screen are asked for again for it: those that were read from it. Sources are named as the
 * server names them: a document ("visit/V1"), all documents of a type ("visit/"), all documents ("docs"), a table ("held"), or the clock ("clock"),
 * whose news comes by the minute.
 */
import { hashKey, type QueryClient, type QueryKey } from "@tanstack/react-query";
import type { News, Ref } from "../types";

/** How an answer was read: from what, and up to which place in the log. */
export interface Reading {
  read: string[];
  seen: number;
}

/** Whether what was read from some sources may be other after a change. */
export function touches(read: string[], changed: string[]): boolean {
  return changed.some((c) => {
    const [type, id] = c.split("/");
    if (id === undefined) return read.includes(c);
    return read.some((r) => r === c || r === `${type}/` || r === "docs" || (id === "" && r.startsWith(c)));
  });
}

/** What nobody was told of: it may be anything. */
const unheard: News = { changed: [], seq: 0 };

const isNews = (reading: Reading, news: News) => news === unheard || ((news.seq === 0 || news.seq > reading.seen) && touches(reading.read, news.changed));

/** How much news is remembered: an answer that took longer to come is asked for once more. */
const remembered = 200;

/** The answers there are, and the news since they were asked for. */
export class Readings {
  private readonly known = new Map<string, Reading>();
  private readonly recent: News[] = [];
  private count = 0; // how much news there has been
  /** Ends when what the last news touched has been asked again. */
  told: Promise<void> = Promise.resolve();

  /** To be called when something is asked for; what it gives is handed to answered. */
  asking = (): number => this.count;

  /** Notes how an answer was read. Tells whether it is old already: then it is to be asked for again. */
  answered(key: QueryKey, reading: Reading, asked: number): boolean {
    this.known.set(hashKey(key), { ...reading });
    const since = this.count - asked;
    return since > this.recent.length || this.recent.slice(this.recent.length - since).some((n) => isNews(reading, n));
  }

  /** Up to where in the log an answer is still right; 0 when it is not known. */
  seen = (hash: string): number => this.known.get(hash)?.seen ?? 0;

  /** Whether an answer was read from a document. */
  reads = (hash: string, subject: Ref): boolean => touches(this.known.get(hash)?.read ?? [], [`${subject.type}/${subject.id}`]);

  /** Asks again what the news touches, or what is not known to be left alone. All else is right up to here. */
  tell(client: QueryClient, news: News) {
    this.note(news);
    this.told = client.invalidateQueries({
      predicate: (q) => {
        const reading = this.known.get(q.queryHash);
        if (!reading || q.state.isInvalidated) return true;
        if (isNews(reading, news)) return true;
        if (reading.seen > 0) reading.seen = Math.max(reading.seen, news.seq);
        return false;
      },
    });
  }

  /**
   * Asks all again: there may have been news that did not come, since there was no line for it. What is asked for the first time meanwhile is asked
   * again once it is there: the client does not ask twice at once for what it has no answer to yet.
   */
  missed(client: QueryClient) {
    this.note(unheard);
    this.told = client.invalidateQueries();
  }

  private note(news: News) {
    this.count++;
    this.recent.push(news);
    if (this.recent.length > remembered) this.recent.shift();
  }
}

/** Those of the office's screens. */
export const readings = new Readings();
