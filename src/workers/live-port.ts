/** What the shared worker tells a tab: whether the stream stands, and what came over it, as it came. */
export type FromLive =
  { readonly kind: "connected"; readonly connected: boolean } | { readonly kind: "told"; readonly data: string };

/** What a tab tells it: that it listens no longer. */
export type ToLive = "leave";
