import { array, boolean, object, string, type InferType } from "yup";
import { numberIn, numbersIn, sectorsIn } from "@/ui/boards/board-words";

const WORD = 0xffff;

/** A text that a reader makes sense of. */
const reads = (read: (text: string) => unknown, message: string) =>
  string()
    .defined()
    .test("reads", message, (text) => read(text) !== undefined);
const needed = (what: string) => string().trim().max(60).required(`${what} is missing`);
const list = (most = 512) => reads((text) => numbersIn(text, most), "Numbers, such as 1-4, 6");
const usbId = () => reads((text) => numberIn(text, WORD), "A number up to 0xffff, such as 0x1209");
const pattern = () => string().trim().min(1, "It is missing").max(120).required("It is missing");

const BOARD = {
  releaseId: string().required(),
  flash: boolean().default(false),
  target: needed("What its console calls it"),
  title: needed("Its name"),
  maker: needed("Its maker"),
  revision: string().trim().min(1, "It is missing").max(8).required("It is missing"),
  printed: string().trim().max(60).default(""),
  processor: needed("Its processor"),
  ports: list(16),
  bootButton: boolean().default(false),
  bootPads: boolean().default(false),
  vendorId: usbId(),
  productId: usbId(),
};

const PROCESSOR = {
  flashStart: reads(numberIn, "An address, such as 0x08000000"),
  sectors: reads(sectorsIn, "Runs of sectors, such as 4 x 16 KB, one a line"),
  settingsSectors: list(),
  applicationSector: reads((text) => numberIn(text, 10_000), "The number of a sector"),
  chipIdWords: reads((text) => numberIn(text, 8), "A number up to 8"),
  loaderIdWords: list(8),
};

export const LOADERS = {
  usb: {
    title: "By USB, as the standard for device firmware upgrade has it",
    shape: object({
      vendorId: usbId(),
      productId: usbId(),
      transferSizeBytes: reads((text) => numberIn(text, WORD), "A number of bytes"),
      canUpload: boolean().default(true),
      segmentName: pattern(),
      settingsName: pattern(),
    }),
  },
  serial: {
    title: "By a serial line: a menu of letters, then XMODEM",
    shape: object({
      baud: reads((text) => numberIn(text, 4_000_000), "Bits a second, such as 115200"),
      identityLetter: pattern(),
      readLetter: pattern(),
      writeLetter: pattern(),
      startLetter: pattern(),
      identity: pattern(),
      done: pattern(),
      refused: pattern(),
    }),
  },
  drive: {
    title: "As a drive that takes UF2",
    shape: object({
      vendorId: usbId(),
      productId: usbId(),
      familyId: reads(numberIn, "A number, such as 0x4E455434"),
      holds: string().trim().max(64).default(""),
    }),
  },
} as const;
export type LoaderKind = keyof typeof LOADERS;

const wholeShape = object({
  ...BOARD,
  ...PROCESSOR,
  kinds: array(
    string()
      .oneOf(["usb", "serial", "drive"] as const)
      .required(),
  )
    .min(1, "Say through which loader it is flashed")
    .required(),
  usb: LOADERS.usb.shape,
  serial: LOADERS.serial.shape,
  drive: LOADERS.drive.shape,
});

/** Everything that the form holds, as it is written. */
export type BoardForm = InferType<typeof wholeShape>;

const KINDS = Object.keys(LOADERS) as LoaderKind[];
const ofProcessor = Object.keys(PROCESSOR) as (keyof typeof PROCESSOR)[];

/** What of the form is asked where the processor is known, or not, and flashed through its loaders, or not. */
export function shapeFor({ flash, kinds }: Pick<BoardForm, "flash" | "kinds">, knowsProcessor: boolean) {
  if (knowsProcessor) return wholeShape.omit([...ofProcessor, "kinds", ...KINDS]);
  if (!flash) return wholeShape.omit(["kinds", ...KINDS]);
  return wholeShape.omit(KINDS.filter((kind) => !kinds.includes(kind)));
}

export const EMPTY_FORM: BoardForm = {
  ...{ releaseId: "", flash: false, target: "", title: "", maker: "", revision: "A", printed: "", processor: "" },
  ...{ ports: "1-4", bootButton: true, bootPads: false, vendorId: "0x1209", productId: "" },
  ...{ flashStart: "0x08000000", sectors: "", settingsSectors: "0", applicationSector: "1" },
  ...{ chipIdWords: "3", loaderIdWords: "0-2", kinds: [] },
  usb: {
    ...{ vendorId: "0x1209", productId: "", transferSizeBytes: "2048", canUpload: true },
    ...{
      segmentName: "segment {no}: from {start}, {length} bytes",
      settingsName: "settings: from {start}, {length} bytes",
    },
  },
  serial: {
    ...{ baud: "115200", identityLetter: "i", readLetter: "r", writeLetter: "w", startLetter: "g" },
    ...{ identity: "{processor}, id {id}, {sectors} sectors", done: "ok", refused: "no: {why...}" },
  },
  drive: { vendorId: "0x1209", productId: "", familyId: "", holds: "" },
};

function loaderOf(kind: LoaderKind, { usb, serial, drive }: BoardForm): object {
  const id = (text: string) => numberIn(text);
  switch (kind) {
    case "usb":
      return {
        ...{ kind, vendorId: id(usb.vendorId), productId: id(usb.productId), canUpload: usb.canUpload },
        transferSizeBytes: id(usb.transferSizeBytes),
        ...{ segmentName: usb.segmentName, settingsName: usb.settingsName },
      };
    case "serial": {
      const { identityLetter: identity, readLetter: read, writeLetter: write, startLetter: start } = serial;
      return {
        ...{ kind, baud: id(serial.baud), letters: { identity, read, write, start } },
        ...{ identity: serial.identity, done: serial.done, refused: serial.refused },
      };
    }
    case "drive":
      return {
        ...{ kind, vendorId: id(drive.vendorId), productId: id(drive.productId), familyId: id(drive.familyId) },
        ...(drive.holds === "" ? {} : { holds: drive.holds }),
      };
  }
}

/** What is asked of the server: the form's words as numbers, and nothing that the work at hand does not need. */
export function askedOf(form: BoardForm, knowsProcessor: boolean, keep: boolean): object {
  const { releaseId, target, title, maker, revision, printed, processor, bootButton, bootPads, flash } = form;
  return {
    ...{ releaseId, keep },
    board: {
      ...{ target, title, maker, revision, printed, processor, bootButton, bootPads },
      ports: numbersIn(form.ports),
      usb: { vendorId: numberIn(form.vendorId), productId: numberIn(form.productId) },
    },
    ...(knowsProcessor
      ? {}
      : {
          processor: {
            flashStart: numberIn(form.flashStart),
            sectors: sectorsIn(form.sectors),
            settingsSectors: numbersIn(form.settingsSectors),
            applicationSector: numberIn(form.applicationSector),
            chipIdWords: numberIn(form.chipIdWords),
            loaderIdWords: numbersIn(form.loaderIdWords),
            loaders: flash ? form.kinds.map((kind) => loaderOf(kind, form)) : [],
          },
        }),
  };
}
