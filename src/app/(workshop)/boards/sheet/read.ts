"use server";

import { lacksOf, sheetDocuments } from "@/core/identify";
import { readSheet } from "@/server/repositories/pad-sheets";
import { sheetShape } from "@/server/web/sheet-shape";
import { requireRole } from "@/server/web/session";
import type { ReadSheet } from "@/ui/boards/sheet-reader";

/** Reads a sheet for a release; keeps nothing. */
export async function readSheetAction(asked: { text: string; releaseId: string }): Promise<ReadSheet> {
  await requireRole("observer");
  const { sheet, release } = await readSheet(await sheetShape.validate(asked));
  const { target, about, defaults, refused } = sheet;
  return {
    title: about.board ?? target.id,
    pads: Object.entries(target.pads).map(([pad, wired]) => {
      const port = /^port (\d+)/.exec(wired)?.[1];
      return { pad, wired, use: defaults[port === undefined ? pad : `port ${port}`] ?? "" };
    }),
    ports: [...target.ports],
    refused: [...refused],
    lacks: lacksOf(sheet),
    documents: sheetDocuments(sheet, release),
    file: target.id.toLowerCase() || "board",
  };
}
