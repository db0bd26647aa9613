"use client";

import { useSyncExternalStore } from "react";

const NARROW = "(max-width: 640px)";

function subscribe(onChange: () => void): () => void {
  const media = window.matchMedia(NARROW);
  media.addEventListener("change", onChange);
  return () => media.removeEventListener("change", onChange);
}

/** Whether the page is as narrow as a telephone. The server does not know, and takes it for wide. */
export const useNarrow = (): boolean =>
  useSyncExternalStore(
    subscribe,
    () => window.matchMedia(NARROW).matches,
    () => false,
  );
