// What the pages ask of a browser and jsdom lacks.
import { cleanup } from "@testing-library/react";
import { afterEach, vi } from "vitest";

vi.stubGlobal("matchMedia", (media: string) => ({
  matches: false,
  media,
  addEventListener: () => undefined,
  removeEventListener: () => undefined,
}));

// A page resolves addresses against itself; Node's Request wants them whole. Set before the client is made.
const Whole = globalThis.Request;
vi.stubGlobal(
  "Request",
  class extends Whole {
    constructor(input: RequestInfo | URL, init?: RequestInit) {
      super(typeof input === "string" ? new URL(input, "http://here") : input, init);
    }
  },
);

afterEach(() => {
  cleanup();
  localStorage.clear();
});

// jsdom lays nothing out: what watches a size is told none.
vi.stubGlobal(
  "ResizeObserver",
  class {
    observe() {}
    disconnect() {}
  },
);
