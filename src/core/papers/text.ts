import type { Tell } from "@/core/papers/fault";

const decoder = new TextDecoder("utf-8", { fatal: true });

/** A file of the papers as text (UTF-8); one that is none is told. */
export function textOf(content: Uint8Array | undefined, name: string, tell: Tell): string | undefined {
  try {
    return decoder.decode(content);
  } catch {
    tell("shape", `${name} is no text`);
    return undefined;
  }
}
