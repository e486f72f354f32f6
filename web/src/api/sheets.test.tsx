import { QueryClient } from "@tanstack/react-query";
import { beforeEach, describe, expect, it, vi } from "vitest";

import { outbox, type Unsent } from "../lib/outbox";
import { answering } from "../test/render";
import { flush } from "./sheets";

const word = (id: string): Unsent => ({
  sheetId: "s",
  id,
  at: "2026-07-14T22:40:00Z",
  key: "off",
  verb: "answer",
  value: "done",
  performed_by: "",
});
const sheet = { id: "s", steps: [] };
const refusal = { code: "not_now", detail: "This step is not open yet.", fields: [] };
const away = () => vi.stubGlobal("fetch", () => Promise.reject(new TypeError("no answer")));

describe("words said while the server is away", () => {
  beforeEach(() => {
    outbox.get().forEach((u) => outbox.drop(u.id));
    vi.useFakeTimers(); // the client asks again for the server every second
    return () => vi.useRealTimers();
  });

  it("wait on the device, survive a reload and go out in their order, each once", async () => {
    const told = vi.fn();
    away();
    outbox.add(word("a"));
    outbox.add(word("b"));
    await flush(new QueryClient(), told);
    expect(outbox.get().map((u) => u.id)).toEqual(["a", "b"]);
    expect(JSON.parse(localStorage["kumpan.unsent"])).toHaveLength(2);
    const asked = answering([201, sheet]);
    const client = new QueryClient();
    await Promise.all([flush(client, told), flush(client, told)]); // two at once send it once
    expect(asked.map((a) => a.body.id)).toEqual(["a", "b"]);
    expect(asked[0]).toMatchObject({ method: "POST", path: "/api/v1/sheets/s/marks" });
    expect(outbox.get()).toEqual([]);
    expect(localStorage["kumpan.unsent"]).toBeUndefined();
    expect(client.getQueryData(["sheet", "s"])).toEqual(sheet);
    expect(told).not.toHaveBeenCalled();
  });

  it("are told when refused, and do not hold up the next", async () => {
    const told = vi.fn();
    answering([409, refusal], [201, sheet]);
    outbox.add(word("a"));
    outbox.add(word("b"));
    await flush(new QueryClient(), told);
    expect(told).toHaveBeenCalledWith(expect.objectContaining({ message: refusal.detail }));
    expect(outbox.get()).toEqual([]);
  });

  it("stay when the server falls over while it answers", async () => {
    answering([500, { code: "internal", detail: "Something went wrong." }]);
    outbox.add(word("a"));
    await flush(new QueryClient(), vi.fn());
    expect(outbox.get()).toHaveLength(1);
  });
});
