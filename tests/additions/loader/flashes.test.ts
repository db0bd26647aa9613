import { buildCatalogue, processorOf } from "@/core/catalog";
import { LOADER_SETTINGS } from "@/core/catalog/loaders";
import { readImageFile } from "@/core/image";
import { askLoader, LOADER_TITLES, openLoader, partsOf, runFlash } from "@/core/loader";
import { valueOf } from "@/core/problem";
import { linkTo, SimBoard, virtualClock } from "@/core/sim";
import { demoDocuments } from "../../demo/documents";
import { CHIP, imageFile } from "../support/workshop";

it("a board whose processor has this loader is asked, flashed, and starts", async () => {
  const documents = demoDocuments().map(({ document }) =>
    document.document === "processor"
      ? { ...document, loaders: [{ kind: "records" as const, baud: 38_400, greets: "records for" }] }
      : document,
  );
  const catalogue = valueOf(buildCatalogue(documents));
  const model = catalogue.models.get("pellow-rill");
  if (!model) throw new Error("there is no such board");
  const board = new SimBoard({ model, chipId: CHIP, firstPort: 1 }, catalogue);
  board.manufacture(new Uint8Array(0));
  const link = linkTo(board, virtualClock());
  board.plug(0, { pads: true });
  await link.clock.waitUntil(1_000_000);
  const seen = link.presence();
  if (seen.kind !== "loader") throw new Error(`it shows ${seen.kind}`);
  expect(LOADER_TITLES[seen.transport]).toBe("serial loader");
  const processor = processorOf(catalogue, model.processor);
  expect(await askLoader(link, seen, [...catalogue.processors.values()])).toMatchObject({ processor: processor.id });
  const loader = openLoader(link, seen, processor);
  const image = valueOf(readImageFile(imageFile("bobbin-40", "PRILL"), processor));
  const state = valueOf(await runFlash(loader, valueOf(partsOf(image, loader.spaces))));
  expect(new Set(state.cells)).toEqual(new Set(["checked"]));
  await loader.leave();
  await link.clock.waitUntil(link.clock.nowUs() + 3_000_000);
  expect([link.presence().kind, board.halfImageStarts]).toEqual(["console", 0]);
  expect(LOADER_SETTINGS.map(({ kind }) => kind)).toContain("records");
}, 60_000);
