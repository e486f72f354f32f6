// A component as the app shows it: its look, and a query cache of its own that does not try again.
import { ChakraProvider } from "@chakra-ui/react";
import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render } from "@testing-library/react";
import { type ReactElement } from "react";
import { MemoryRouter } from "react-router";
import { vi } from "vitest";

import { system } from "../app/theme";

export function show(element: ReactElement) {
  const client = new QueryClient({
    defaultOptions: { queries: { retry: false }, mutations: { retry: false } },
  });
  return render(
    <ChakraProvider value={system}>
      <QueryClientProvider client={client}>
        <MemoryRouter>{element}</MemoryRouter>
      </QueryClientProvider>
    </ChakraProvider>,
  );
}

export type Asked = { method: string; path: string; body: Record<string, unknown> };

/** A server that answers each request by the next of these: a status and a body. What was asked is kept. What every page
 *  reads besides (the reasons behind its links) is none of these. */
export function answering(...answers: [number, unknown][]) {
  const asked: Asked[] = [];
  const server = vi.fn(async (request: Request) => {
    if (new URL(request.url).pathname.endsWith("/meta"))
      return new Response('{"reasons":{}}', { headers: { "content-type": "application/json" } });
    const text = await request.clone().text();
    asked.push({
      method: request.method,
      path: new URL(request.url).pathname,
      body: text ? (JSON.parse(text) as Record<string, unknown>) : {},
    });
    const [status, body] = answers[Math.min(asked.length, answers.length) - 1]!;
    const type = status < 400 ? "application/json" : "application/problem+json";
    return new Response(JSON.stringify(body), { status, headers: { "content-type": type } });
  });
  vi.stubGlobal("fetch", server);
  return asked;
}
