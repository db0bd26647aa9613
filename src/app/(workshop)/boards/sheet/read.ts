"use server";

import { object, string } from "yup";
import { releaseById } from "@/core/catalog";
import { lacksOf, readPadSheet, sheetDocuments } from "@/core/identify";
import { valueOf } from "@/core/problem";
import { loadCatalogue } from "@/server/repositories/catalogue";
import { requireRole } from "@/server/web/session";
import type { ReadSheet } from "@/ui/boards/sheet-reader";

const shape = object({ text: string().max(100_000).default(""), releaseId: string().max(64).required() });

/** Reads a sheet for a release; keeps nothing. */
export async function readSheetAction(asked: { text: string; releaseId: string }): Promise<ReadSheet> {
  await requireRole("observer");
  const { text, releaseId } = await shape.validate(asked);
  const catalogue = await loadCatalogue();
  const release = valueOf(releaseById(catalogue, releaseId));
  const sheet = readPadSheet(text, release, catalogue);
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
