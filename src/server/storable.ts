const storableText = (text: string) => text.toWellFormed().replaceAll("\0", "␀");

/**
 * What PostgreSQL can keep in text and JSON: a NUL is written as its picture, half a character as the sign for one that
 * was not understood. Boards and line noise send both; their bytes as received are kept elsewhere, as blobs.
 */
export function storable<T>(value: T): T {
  if (typeof value === "string") return storableText(value) as T;
  if (Array.isArray(value)) return value.map(storable) as T;
  if (typeof value !== "object" || value === null || Object.getPrototypeOf(value) !== Object.prototype) return value;
  return Object.fromEntries(Object.entries(value).map(([key, each]) => [storableText(key), storable(each)])) as T;
}

/** For jsonb columns. */
export const jsonText = (value: unknown): string => JSON.stringify(storable(value));
