/** How a release touches a setting or a row, the ones that need a look first. */
export const HOWS = [
  "silent",
  "behaviour",
  "blocked",
  "restricts",
  "limit",
  "lost",
  "converted",
  "renamed",
  "retired",
  "new",
] as const;
export type How = (typeof HOWS)[number];

export interface ReleaseChange {
  readonly id: string;
  readonly how: How;
  readonly title: string;
  readonly place: string;
  readonly area: string;
  readonly flies: boolean;
  readonly says: string;
  readonly before?: string;
  readonly after?: string;
  readonly why: readonly string[];
}
