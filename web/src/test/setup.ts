// What the pages ask of a browser and jsdom lacks.
import { cleanup } from "@testing-library/react";
import { afterEach, vi } from "vitest";

vi.stubGlobal("matchMedia", (media: string) => ({
  matches: false,
  media,
  addEventListener: () => undefined,
  removeEventListener: () => undefined,
}));

afterEach(() => {
  cleanup();
  localStorage.clear();
});
