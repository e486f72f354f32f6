// The typed client. Errors become Problem, with the fields at fault; a lost server is announced.
import createClient from "openapi-fetch";

import { whoHere } from "../lib/who";
import type { components, paths } from "./schema";

export type Schemas = components["schemas"];
export type FieldProblem = { field: string; code: string; message: string };

export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    message: string,
    readonly fields: FieldProblem[] = [],
  ) {
    super(message);
  }
  /** The message at a field, if that field is at fault. */
  at(field: string): string | undefined {
    return this.fields.find((f) => f.field === field)?.message;
  }
}

type Listener = (online: boolean) => void;
const listeners = new Set<Listener>();
let online = true;

export const connection = {
  get: () => online,
  subscribe: (listener: Listener) => {
    listeners.add(listener);
    return () => void listeners.delete(listener);
  },
};

function setOnline(value: boolean) {
  if (value === online) return;
  online = value;
  listeners.forEach((l) => l(value));
  if (!value) void waitForServer();
}

async function waitForServer() {
  while (!online) {
    await new Promise((resolve) => setTimeout(resolve, 1000));
    try {
      if ((await fetch("/api/health")).ok) setOnline(true);
    } catch {
      // still away: asked again in a second
    }
  }
}

async function watchedFetch(request: Request): Promise<Response> {
  try {
    const response = await fetch(request);
    setOnline(response.status !== 503);
    return response;
  } catch (error) {
    if ((error as Error).name === "AbortError") throw error;
    setOnline(false);
    throw new Problem(0, "server_away", "Kumpan is not answering. What you typed is kept.");
  }
}

export const api = createClient<paths>({ baseUrl: "/", fetch: watchedFetch });
// Who is at it, as this device remembers; headers carry no letter beyond Latin, so it is encoded.
api.use({
  onRequest: ({ request }) => request.headers.set("Kumpan-Actor", encodeURIComponent(whoHere())),
});

type Answer<T> = { data?: T; error?: unknown; response: Response };

/** The data of an answer, or a thrown Problem. */
export async function unwrap<T>(answer: Promise<Answer<T>>): Promise<T> {
  const { data, error, response } = await answer;
  if (data !== undefined) return data;
  const p = (error ?? {}) as Partial<Schemas["Problem"]>;
  throw new Problem(
    response.status,
    p.code ?? "unknown",
    p.detail ?? "Something went wrong. Try again.",
    p.fields ?? [],
  );
}
