import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { act, renderHook, waitFor } from "@testing-library/react";
import { type ReactNode } from "react";
import { describe, expect, it, vi } from "vitest";

import { refresh, useChange, type Noun } from "./change";

const KEYS = [
  ["meta"],
  ["account"],
  ["pools"],
  ["log", "p", "", ""],
  ["today", "p"],
  ["equipment", "p"],
  ["jobs"],
];

function kept() {
  const client = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  KEYS.forEach((key) => client.setQueryData(key, 1));
  const stale = () => KEYS.filter((key) => client.getQueryState(key)!.isInvalidated).map((key) => key[0]);
  const wrapper = ({ children }: { children: ReactNode }) => (
    <QueryClientProvider client={client}>{children}</QueryClientProvider>
  );
  return { client, stale, wrapper };
}

describe("a change makes stale what shows it, no more", () => {
  it.each([
    [["log"], ["log", "today"]],
    [["equipment"], ["pools", "today", "equipment"]],
    [["jobs"], ["jobs"]],
    [
      ["jobs", "log"],
      ["log", "today", "jobs"],
    ],
    [["everything"], KEYS.map((key) => key[0])],
  ] as [Noun[], string[]][])("%o", async (nouns, shown) => {
    const { client, stale } = kept();
    await refresh(client, nouns);
    expect(stale()).toEqual(shown);
  });

  it("even where it failed: a conflict means that something is old", async () => {
    const { stale, wrapper } = kept();
    const send = vi.fn().mockRejectedValue(new Error("changed meanwhile"));
    const { result } = renderHook(() => useChange(send, ["log"]), { wrapper });
    act(() => result.current.mutate("x"));
    await waitFor(() => expect(result.current.isError).toBe(true));
    expect(send.mock.calls[0]![0]).toBe("x");
    expect(stale()).toEqual(["log", "today"]);
  });
});
