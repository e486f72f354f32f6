// What was said of work under way while the server was away: it waits here under its own id, survives a reload, and is
// sent once, in its order.
import { useSyncExternalStore } from "react";

import { read, write } from "./store";

export type Unsent = {
  sheetId: string;
  id: string;
  at: string;
  key: string;
  verb: string;
  value: string;
  performed_by: string;
};

const KEY = "kumpan.unsent";
let waiting: Unsent[] = read<Unsent[]>(KEY, []);
const listeners = new Set<() => void>();

function keep(next: Unsent[]) {
  waiting = next;
  write(KEY, next.length ? next : undefined);
  listeners.forEach((l) => l());
}

export const outbox = {
  get: () => waiting,
  add: (one: Unsent) => keep([...waiting, one]),
  drop: (id: string) => keep(waiting.filter((u) => u.id !== id)),
  subscribe: (listener: () => void) => {
    listeners.add(listener);
    return () => void listeners.delete(listener);
  },
};

export const useUnsent = (sheetId: string) =>
  useSyncExternalStore(outbox.subscribe, outbox.get).filter((u) => u.sheetId === sheetId);
