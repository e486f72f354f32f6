// What a change makes stale, by noun; one mutation hook that every noun's own hooks are made of.
import { useMutation, useQueryClient, type QueryClient } from "@tanstack/react-query";

/** First parts of query keys that show something of a noun. */
const SHOWN_IN = {
  log: [
    "log",
    "today",
    "care",
    "sheet",
    "graph",
    "ahead",
    "usual",
    "preview",
    "proofs",
    "shelf",
    "costs",
    "machines",
    "away",
    "season",
  ],
  pools: [
    "pools",
    "archived",
    "today",
    "care",
    "preview",
    "graph",
    "ahead",
    "log",
    "proofs",
    "equipment",
    "shelf",
    "machines",
    "away",
    "season",
  ],
  equipment: ["equipment", "pools", "today", "care", "preview", "machines", "away", "ahead", "season"],
  shelf: ["shelf", "preview", "today", "care", "costs", "ahead"],
  jobs: ["jobs", "import"],
} as const;
export type Noun = keyof typeof SHOWN_IN | "everything";

/** Ask again for all that shows something of these nouns. */
export function refresh(client: QueryClient, nouns: Noun[]): Promise<void> {
  if (nouns.includes("everything")) return client.invalidateQueries();
  const stale = new Set<string>(nouns.flatMap((n) => (n === "everything" ? [] : SHOWN_IN[n])));
  return client.invalidateQueries({ predicate: (query) => stale.has(String(query.queryKey[0])) });
}

/** A change on the server. wait: what follows waits until what it made stale is there anew. */
export function useChange<Sent, Answer>(
  send: (sent: Sent) => Promise<Answer>,
  nouns: Noun[],
  { wait = false } = {},
) {
  const client = useQueryClient();
  return useMutation<Answer, Error, Sent>({
    mutationFn: send,
    onSettled: () => {
      const done = refresh(client, nouns);
      return wait ? done : undefined;
    },
  });
}
