/** What a page's URL says beside its path. */
export type SearchParams = Promise<Record<string, string | string[] | undefined>>;

const LONGEST = 120;

/** One value of the URL: the first where a name stands twice, cut where it is longer than any that we write. */
export function oneParam(value: unknown): string {
  const first: unknown = Array.isArray(value) ? value[0] : value;
  return typeof first === "string" ? first.slice(0, LONGEST) : "";
}
