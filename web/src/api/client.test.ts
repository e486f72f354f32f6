import { describe, expect, it, vi } from "vitest";

import { api, connection, Problem, unwrap } from "./client";

const answers = (body: unknown, status = 200) =>
  vi.fn((request: Request) =>
    Promise.resolve(
      new Response(JSON.stringify(body), {
        status,
        headers: { "Content-Type": "application/json", "X-Url": request.url },
      }),
    ),
  );

describe("the client", () => {
  it("says who is at it, whatever letters the name has", async () => {
    localStorage.setItem("kumpan.who", JSON.stringify(" Mära 🏊 "));
    const fetched = answers([]);
    vi.stubGlobal("fetch", fetched);
    await unwrap(api.GET("/api/v1/pools", { baseUrl: "http://here" }));
    expect(decodeURIComponent(fetched.mock.calls[0]![0].headers.get("Kumpan-Actor")!)).toBe("Mära 🏊");
  });

  it("turns a problem into its message and its fields", async () => {
    const fields = [{ field: "readings.ph", code: "out_of_range", message: "pH reads 5 to 10." }];
    vi.stubGlobal("fetch", answers({ code: "invalid_input", detail: "Not possible.", fields }, 422));
    const error = await unwrap(api.GET("/api/v1/pools", { baseUrl: "http://here" })).catch((e: Problem) => e);
    expect(error).toBeInstanceOf(Problem);
    expect((error as Problem).at("readings.ph")).toBe("pH reads 5 to 10.");
    expect((error as Problem).at("readings.fc")).toBeUndefined();
  });

  it("announces a server that is away, and one that is back", async () => {
    const heard: boolean[] = [];
    const leave = connection.subscribe((online) => heard.push(online));
    vi.stubGlobal("fetch", vi.fn().mockRejectedValue(new TypeError("no route")));
    const away = await unwrap(api.GET("/api/v1/pools", { baseUrl: "http://here" })).catch((e: Problem) => e);
    expect(away).toMatchObject({ code: "server_away" });
    vi.stubGlobal("fetch", answers([]));
    await unwrap(api.GET("/api/v1/pools", { baseUrl: "http://here" }));
    expect(heard).toEqual([false, true]);
    leave();
  });
});
