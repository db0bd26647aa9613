import type { BoardLink } from "@/bench/link";

/**
 * A part behind a board, as its loader on a serial line: bytes go through the line that the board's console has opened. That it
 * leads there has to be asked; a line cannot be seen.
 */
export function linkThrough(board: BoardLink): BoardLink {
  return {
    ...board,
    presence: () => {
      const seen = board.presence();
      if (seen.kind !== "console") return { kind: "none" };
      const { port, appearance } = seen;
      return { kind: "loader", transport: "serial", port, appearance };
    },
    serial: {
      send: (bytes) => board.console.send(bytes),
      receive: (untilUs) => board.console.receive(untilUs),
      nowUs: () => board.console.nowUs(),
      // the firmware in between speaks to its parts at their own speed
      setBaud: () => Promise.resolve(),
    },
  };
}
