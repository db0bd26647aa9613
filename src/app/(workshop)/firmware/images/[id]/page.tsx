import type { Metadata } from "next";
import { notFound } from "next/navigation";
import { told } from "@/app/told";
import {
  findTarget,
  firmwareById,
  LOADER_PART,
  partOf,
  processorOf,
  releaseTitle,
  type BoardModel,
  type Catalogue,
  type Firmware,
  type FirmwareTarget,
} from "@/core/catalog";
import { imageMap } from "@/core/image";
import { ImageSheet } from "@/ui/firmware/image-sheet";
import { everyImage, loadCatalogue, loadImage } from "@/server/repositories/catalogue";
import { aircraftOfTarget } from "@/server/repositories/boards";
import { requirePage } from "@/server/web/session";
import { rowId } from "@/server/web/row-id";

interface Props {
  readonly params: Promise<{ id: string }>;
  readonly searchParams: Promise<{ over?: string | string[] }>;
}

type Stored = Awaited<ReturnType<typeof everyImage>>[number];

const titleOf = (catalogue: Catalogue, { release_id, version }: Stored) => {
  const release = firmwareById(catalogue, release_id);
  return `${release ? releaseTitle(release) : release_id}${version > 1 ? `, version ${version}` : ""}`;
};

async function imageOf(id: number) {
  await requirePage();
  const catalogue = await loadCatalogue();
  const images = await everyImage();
  const row = images.find((each) => each.id === id);
  const release = row && firmwareById(catalogue, row.release_id);
  const target = release && findTarget(release, row.target);
  if (!target) return undefined;
  return { catalogue, images, row, release, target };
}

export async function generateMetadata({ params }: Props): Promise<Metadata> {
  const found = await imageOf(rowId((await params).id));
  return { title: found ? `${titleOf(found.catalogue, found.row)} for ${found.target.id}` : "Image" };
}

/** Boards that an image is for: a loader fits all of its processor, anything else those of its target. */
const modelsFor = (catalogue: Catalogue, release: Firmware, target: FirmwareTarget): BoardModel[] =>
  [...catalogue.models.values()].filter((model) =>
    partOf(release) === LOADER_PART
      ? model.processor === target.processor
      : findTarget(release, model.target)?.id === target.id,
  );

/** One image: where it lies in flash, what of that another one holds already, and which of the fleet it is for. */
async function ImagePage({ params, searchParams }: Props) {
  const found = await imageOf(rowId((await params).id));
  if (!found) notFound();
  const { catalogue, images, row, release, target } = found;
  const processor = processorOf(catalogue, target.processor);
  const load = async ({ release_id, target: name, sha256 }: Stored) =>
    (await loadImage(catalogue, release_id, name, sha256)).image;
  const others = images.filter((each) => each.target === row.target && each.id !== row.id);
  const { over: asked } = await searchParams;
  const wanted = rowId(Array.isArray(asked) ? asked[0] : asked);
  const over = others.find(({ id }) => id === wanted);
  const models = modelsFor(catalogue, release, target);
  const named = partOf(release) === LOADER_PART ? models.map((model) => model.target) : [target.id, ...target.aliases];
  const fleet = (await aircraftOfTarget(named)).map(({ tag, release_id: runs }) => {
    const now = catalogue.releases.get(runs ?? "");
    return { tag, runs: now ? releaseTitle(now) : runs };
  });
  const sectors = imageMap(processor, await load(row), over && (await load(over)));
  return (
    <ImageSheet
      id={row.id}
      title={titleOf(catalogue, row)}
      target={target.id}
      aliases={target.aliases}
      processor={processor.title}
      standing={release.standing}
      lengthBytes={row.length_bytes}
      sha256={row.sha256}
      by={row.imported_by}
      at={row.imported_at.getTime()}
      models={models.map(({ id, title }) => ({ id, title }))}
      fleet={fleet}
      sectors={sectors}
      others={others.map((each) => ({ id: each.id, title: titleOf(catalogue, each) }))}
      {...(over ? { over: { id: over.id, title: titleOf(catalogue, over) } } : {})}
    />
  );
}

/** Of an image whose bytes are damaged: what it is. */
async function Rest({ params }: Props) {
  const found = await imageOf(rowId((await params).id));
  return (
    <h1>
      {found
        ? `${titleOf(found.catalogue, found.row)} for ${found.target.id}: its bytes cannot be had.`
        : "Its bytes cannot be had."}
    </h1>
  );
}

export default told(ImagePage, Rest);
