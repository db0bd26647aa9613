/** What the shared worker tells a tab: whether the stream stands, that nobody is signed in any more, and what came, as it came. */
export type FromLive =
  | { readonly kind: "out" }
  | { readonly kind: "connected"; readonly connected: boolean }
  | { readonly kind: "told"; readonly data: string };

/** What a tab tells it: that it listens no longer. */
export type ToLive = "leave";
