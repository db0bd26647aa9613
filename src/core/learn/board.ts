import { parseDocument, stringify } from "yaml";
import {
  applicationSegments,
  releaseTitle,
  sectorsOf,
  type Catalogue,
  type Processor,
  type ProcessorLoader,
  type Release,
} from "@/core/catalog";
import { ok, refuse, type Result } from "@/core/problem";

/** What is asked of a board so that its settings can be restored: what its console calls it, and what is on it. */
export interface BoardParticulars {
  /** As its console says it. */
  readonly target: string;
  readonly title: string;
  readonly maker: string;
  readonly revision: string;
  /** What is printed on it; its name, where nothing else is said. */
  readonly printed?: string;
  readonly processor: string;
  readonly gyro?: string;
  /** Numbers of its serial ports. */
  readonly ports: readonly number[];
  readonly bootButton: boolean;
  readonly bootPads: boolean;
  readonly usb: { readonly vendorId: number; readonly productId: number };
}

/**
 * What is asked of a processor that the workshop does not know: how its flash is parted, for the twin that plays each restore
 * in advance; and its loaders, where boards with it are to be flashed.
 */
export interface ProcessorParticulars {
  /** Address of the first byte of flash. */
  readonly flashStart: number;
  /** Sectors in the order of their addresses. */
  readonly sectors: readonly { readonly count: number; readonly sizeBytes: number }[];
  readonly settingsSectors: readonly number[];
  readonly applicationSector: number;
  readonly loaders: readonly ProcessorLoader[];
  /** How many words its chip id has, and which of them its loader shows. */
  readonly chipIdWords: number;
  readonly loaderIdWords: readonly number[];
}

/** A document that is to be imported, as text. */
export interface MadeDocument {
  readonly kind: "processor" | "board-model" | "release";
  readonly id: string;
  readonly text: string;
}

/** An image says what it is in so many bytes at the end of its first sector, unless the processor's document says otherwise. */
const IDENTITY_BYTES = 64;
const MOST_FLASH_BYTES = 64 * 1024 * 1024;

const idFrom = (words: string): string =>
  words
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, "-")
    .replace(/^-|-$/g, "")
    .slice(0, 64);

const wrong = (path: string, message: string, detail: string, hint: string) =>
  refuse({ code: "board-particulars", message, detail, hint, where: { path } });

function processorDocument(id: string, asked: ProcessorParticulars): Result<MadeDocument> {
  const { applicationSector, settingsSectors } = asked;
  const bytes = asked.sectors.reduce((sum, { count, sizeBytes }) => sum + count * sizeBytes, 0);
  if (bytes > MOST_FLASH_BYTES || asked.flashStart + bytes > 2 ** 32)
    return wrong("sectors", "So much flash has no processor", `${bytes} bytes`, "Look at counts and sizes again");
  const sectors = sectorsOf({ flashStart: asked.flashStart, sectors: asked.sectors } as Processor);
  const first = sectors[applicationSector];
  if (!first)
    return wrong(
      "applicationSector",
      "The firmware would begin behind the end of flash",
      `There are sectors 0 to ${sectors.length - 1}`,
      "Sectors are counted from 0",
    );
  const odd = settingsSectors.find((no) => no >= sectors.length);
  if (odd !== undefined || settingsSectors.length === 0)
    return wrong(
      "settingsSectors",
      "The settings would lie outside of flash",
      `There are sectors 0 to ${sectors.length - 1}`,
      "Sectors are counted from 0",
    );
  const shown = asked.loaderIdWords.find((word) => word >= asked.chipIdWords);
  if (shown !== undefined || asked.loaderIdWords.length === 0)
    return wrong(
      "loaderIdWords",
      "The loader would show words that the chip id does not have",
      `There are words 0 to ${asked.chipIdWords - 1}`,
      "Words are counted from 0",
    );
  const body = {
    document: "processor",
    id,
    title: id,
    ...asked,
    loaderSectors: [],
    identityOffset: first.sizeBytes - IDENTITY_BYTES,
  };
  const free = applicationSegments({ ...body, programUsPerByte: 0 } as unknown as Processor).length;
  if (settingsSectors.some((no) => no >= applicationSector) && free === settingsSectors.length)
    return wrong("settingsSectors", "Nothing is left for the firmware", "All its sectors hold settings", "Look again");
  return ok({ kind: "processor", id, text: stringify(body, { lineWidth: 0 }) });
}

/** The release's document with one more target; whatever else stands in it stays, remarks too. */
function withTarget(text: string, release: Release, board: BoardParticulars): MadeDocument {
  const document = parseDocument(text);
  const { target: id, processor, gyro = "", ports } = board;
  const own = document.has("targets");
  const before = own ? [] : release.targets.map(({ aliases, ...each }) => ({ ...each, aliases }));
  const added = { id, processor, gyro: gyro === "" ? "not said" : gyro, ports, pads: {} };
  if (own) document.addIn(["targets"], document.createNode(added));
  else document.set("targets", document.createNode([...before, added]));
  return { kind: "release", id: release.id, text: document.toString({ lineWidth: 0 }) };
}

function boardDocument(id: string, board: BoardParticulars): MadeDocument {
  const { title, maker, revision, printed, processor, target, bootButton, bootPads, usb } = board;
  const body = {
    document: "board-model",
    ...{ id, title, maker, revision, processor, target },
    printed: printed === undefined || printed === "" ? title : printed,
    ...{ bootButton, bootPads },
    // without battery nothing is risked: the check asks for one where it is wanted
    receiverOnUsb: true,
    usb,
  };
  return { kind: "board-model", id, text: stringify(body, { lineWidth: 0 }) };
}

/**
 * A board by its particulars, as documents: the board, its processor where the workshop does not know
 * it, and the release with one more target. `releaseText`: the release's document as it stands. Refuses a target or
 * a board that is there already, and a flash that cannot be so.
 */
export function boardDocuments(
  board: BoardParticulars,
  processor: ProcessorParticulars | undefined,
  release: Release,
  releaseText: string,
  catalogue: Catalogue,
): Result<MadeDocument[]> {
  const id = idFrom(`${board.maker} ${board.title}`) || idFrom(board.target);
  const known = release.targets.find((each) => each.id === board.target || each.aliases.includes(board.target));
  if (known)
    return wrong(
      "target",
      `${releaseTitle(release)} has a target ${board.target} already`,
      known.id,
      "Nothing is to be done",
    );
  if (id === "")
    return wrong("title", "Neither its name nor its target has a letter or digit", board.title, "Give it a name");
  if (catalogue.models.has(id))
    return wrong("title", `There is a board “${id}” already`, board.title, "Give it another name, or a revision");
  const isKnown = catalogue.processors.has(board.processor);
  if (processor && isKnown)
    return wrong("processor", `${board.processor} is known already`, board.processor, "Leave out what is asked of it");
  if (!processor && !isKnown)
    return wrong(
      "processor",
      `The workshop does not know ${board.processor}`,
      board.processor,
      "Say how its flash is parted",
    );
  const chip = processor ? processorDocument(board.processor, processor) : undefined;
  if (chip && !chip.ok) return chip;
  return ok([...(chip ? [chip.value] : []), boardDocument(id, board), withTarget(releaseText, release, board)]);
}
