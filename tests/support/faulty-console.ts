import type { ConsolePort } from "@/core/console";

/** What a board does with a line that it should have taken. */
export type Mischief =
  /** It says no, and does nothing. */
  | { readonly kind: "refuse" }
  /** It takes another value, and says nothing of it. */
  | { readonly kind: "adjust"; readonly line: string }
  /** The line is lost on the way, once. */
  | { readonly kind: "drop" };

const REFUSAL = new TextEncoder().encode("= not so, absent: it does not want to\n");

/**
 * The console of a board that does mischief, line by line: each line goes on when the one before it was answered, so that
 * answers come in the order of the lines.
 */
export function faultyConsole(port: ConsolePort, mischiefOf: (line: string) => Mischief | undefined): ConsolePort {
  const lines: string[] = [];
  const dropped = new Set<string>();
  let [partial, waiting] = ["", false];
  const decoder = new TextDecoder();
  const next = async (): Promise<Uint8Array | undefined> => {
    const line = lines.shift();
    if (line === undefined) return undefined;
    const mischief = mischiefOf(line);
    if (mischief?.kind === "refuse") return REFUSAL;
    if (mischief?.kind === "drop" && !dropped.has(line)) {
      dropped.add(line);
      return undefined;
    }
    await port.send(new TextEncoder().encode(`${mischief?.kind === "adjust" ? mischief.line : line}\n`));
    waiting = line !== "";
    return undefined;
  };
  return {
    nowUs: () => port.nowUs(),
    send: (bytes) => {
      const parts = (partial + decoder.decode(bytes)).split("\n");
      partial = parts.pop() ?? "";
      lines.push(...parts);
      return Promise.resolve();
    },
    receive: async (untilUs) => {
      while (!waiting && lines.length > 0) {
        const own = await next();
        if (own) return own;
      }
      const bytes = await port.receive(untilUs);
      if (bytes && decoder.decode(bytes).includes("\n")) waiting = false;
      return bytes;
    },
  };
}
