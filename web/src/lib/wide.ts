// Whether the page is as wide as two columns: for what stands in either place but once.
import { useSyncExternalStore } from "react";

const query = window.matchMedia("(min-width: 64em)");
const subscribe = (changed: () => void) => {
  query.addEventListener("change", changed);
  return () => query.removeEventListener("change", changed);
};

export const useWide = () => useSyncExternalStore(subscribe, () => query.matches);
