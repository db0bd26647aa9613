"use client";

import { useCallback, useSyncExternalStore } from "react";

const listeners = new Set<() => void>();
const listen = (tell: () => void) => {
  listeners.add(tell);
  window.addEventListener("storage", tell);
  return () => {
    listeners.delete(tell);
    window.removeEventListener("storage", tell);
  };
};

/** A browser may keep nothing: then it is kept for as long as the page stands. */
const memory = new Map<string, string>();
function read(name: string): string | null {
  try {
    return window.localStorage.getItem(name) ?? memory.get(name) ?? null;
  } catch {
    return memory.get(name) ?? null;
  }
}

/** What was said on a page, kept in this browser: it outlasts a reload, and leaving the page. */
export function useKept<T extends object>(name: string, initial: T): [T, (value: T) => void] {
  const text = useSyncExternalStore(
    listen,
    () => read(name),
    () => null,
  );
  const keep = useCallback(
    (value: T) => {
      const next = JSON.stringify(value);
      memory.set(name, next);
      try {
        if (Object.keys(value).length === 0) window.localStorage.removeItem(name);
        else window.localStorage.setItem(name, next);
      } catch {
        // what the browser does not keep stays in memory
      }
      for (const tell of listeners) tell();
    },
    [name],
  );
  let value = initial;
  try {
    if (text !== null) value = JSON.parse(text) as T;
  } catch {
    // somebody else wrote there
  }
  return [value, keep];
}
