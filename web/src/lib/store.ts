// Small things the browser remembers: drafts, the chosen pool, the theme. Survive a reload.
import { useCallback, useState } from "react";

export function read<T>(key: string, fallback: T): T {
  try {
    const text = localStorage.getItem(key);
    return text === null ? fallback : (JSON.parse(text) as T);
  } catch {
    return fallback;
  }
}

export function write(key: string, value: unknown) {
  try {
    if (value === undefined) localStorage.removeItem(key);
    else localStorage.setItem(key, JSON.stringify(value));
  } catch {
    // storage full or forbidden: the page still works, only a reload forgets
  }
}

/** State kept under a key; `set` writes before it renders, so that nothing typed is lost. */
export function useKept<T>(key: string, fallback: T): [T, (value: T) => void] {
  const [kept, setKept] = useState<{ key: string; value: T }>(() => ({ key, value: read(key, fallback) }));
  const value = kept.key === key ? kept.value : read(key, fallback);
  if (kept.key !== key) setKept({ key, value });
  const set = useCallback(
    (next: T) => {
      write(key, next);
      setKept({ key, value: next });
    },
    [key],
  );
  return [value, set];
}
