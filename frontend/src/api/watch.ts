/** What goes on, followed by server-sent events: the one way for every screen. */

import { connection } from "../frame/connection.svelte";

type Kind =
  | "runs"
  | "trials"
  | "calls"
  | "conversations"
  | "drifts"
  | "probes"
  | "looks"
  | "relays"
  | "exports"
  | "bringings"
  | "shrinks";

interface Watcher<T> {
  /** All that is shown, whenever it has changed. */
  change: (now: T) => void;
  over?: () => void;
  /** The connection is lost; it is tried again by itself, unless the thing is gone. */
  lost?: (gone: boolean) => void;
}

/** Follows something until it is over; the returned function ends that before. */
export function watch<T>(kind: Kind, number: string | number, watcher: Watcher<T>): () => void {
  const source = new EventSource(`/api/watch/${kind}/${number}`);
  source.addEventListener("change", (event) => {
    connection.answered();
    watcher.change(JSON.parse((event as MessageEvent<string>).data) as T);
  });
  source.addEventListener("over", () => {
    source.close();
    watcher.over?.();
  });
  source.onerror = () => {
    const gone = source.readyState === EventSource.CLOSED;
    if (!gone) connection.lost();
    watcher.lost?.(gone);
  };
  return () => source.close();
}
