import { crc32 } from "crc";
import { defaultOf, slotsOf } from "@/core/catalog";
import { limitValue } from "@/core/config";
import type { SimBoard } from "@/core/sim/board";
import { ProblemError } from "@/core/problem";

/** A sensor is off by so much of what its setting can put right, at least and at most. */
const OFF = { least: 0.01, most: 0.05 } as const;

/** How far a sensor of this board is off, as a share of its setting's range: the same each time that it is measured. */
function offOf(chipId: string, key: string): number {
  const drawn = (crc32(`${chipId} ${key}`) / 0xffff_ffff) * 2 - 1;
  return Math.sign(drawn) * (OFF.least + Math.abs(drawn) * (OFF.most - OFF.least));
}

/**
 * What a person does in the way of the firmware: the board lies level, measures itself, and keeps what belongs to it alone.
 * Refused for a board whose firmware does not run.
 */
export function calibrate(board: SimBoard): void {
  const { mode, spec } = board;
  if (mode.kind !== "console")
    throw new ProblemError({
      code: "board-not-running",
      message: "A board calibrates itself while its firmware runs",
      hint: "Plug it in, and wait until it answers",
    });
  const { app } = mode;
  for (const { id, setting } of slotsOf(app.release)) {
    const { type } = setting;
    const held = app.values.get(id);
    if (setting.belongsTo !== "board" || type.kind !== "number" || typeof held !== "number") continue;
    const zero = defaultOf(setting, app.target.id);
    const off = offOf(spec.chipId, setting.key) * (type.max - type.min);
    app.values.set(id, limitValue((typeof zero === "number" ? zero : held) + off, type) ?? held);
  }
  board.keep(app);
}
