import { array, boolean, object, string, type AnySchema, type InferType } from "yup";
import { inGroups, shapeFrom } from "@/contracts/loader-shape";
import { LOADER_SETTINGS, type LoaderField, type LoaderSettings } from "@/core/catalog/loaders";
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

/** What is written of a loader, as text, or as a tick. */
function writtenShape(field: LoaderField): AnySchema {
  switch (field.is) {
    case "number": {
      const { most, wants = "A number" } = field;
      return reads((text) => numberIn(text, most), wants);
    }
    case "text": {
      const shape = string().trim().max(field.most);
      return field.optional ? shape.default("") : shape.min(1, "It is missing").required("It is missing");
    }
    case "flag":
      return boolean().default(field.starts ?? false);
  }
}

/** What a form asks of a loader: the rest is said by documents alone. */
export const askedFields = ({ fields }: LoaderSettings) => fields.filter(({ label }) => label !== undefined);

const loaderShapes = (kinds: readonly string[]) =>
  object(
    Object.fromEntries(
      LOADER_SETTINGS.filter(({ kind }) => kinds.includes(kind)).map((each) => [
        each.kind,
        shapeFrom(askedFields(each), writtenShape),
      ]),
    ),
  );

const wholeShape = object({
  ...BOARD,
  ...PROCESSOR,
  kinds: array(string().required()).min(1, "Say through which loader it is flashed").required(),
});

/** Everything that the form holds, as it is written. */
export type BoardForm = InferType<typeof wholeShape> & {
  /** Of each kind of loader what is written, by the names of its fields. */
  readonly loaders: Readonly<Record<string, Written>>;
};
type Written = Readonly<Record<string, unknown>>;

const ofProcessor = Object.keys(PROCESSOR) as (keyof typeof PROCESSOR)[];

/** What of the form is asked where the processor is known, or not, and flashed through its loaders, or not. */
export function shapeFor({ flash, kinds }: Pick<BoardForm, "flash" | "kinds">, knowsProcessor: boolean) {
  if (knowsProcessor) return wholeShape.omit([...ofProcessor, "kinds"]);
  if (!flash) return wholeShape.omit(["kinds"]);
  return wholeShape.shape({ loaders: loaderShapes(kinds) });
}

export const EMPTY_FORM: BoardForm = {
  ...{ releaseId: "", flash: false, target: "", title: "", maker: "", revision: "A", printed: "", processor: "" },
  ...{ ports: "1-4", bootButton: true, bootPads: false, vendorId: "0x1209", productId: "" },
  ...{ flashStart: "0x08000000", sectors: "", settingsSectors: "0", applicationSector: "1" },
  ...{ chipIdWords: "3", loaderIdWords: "0-2", kinds: [] },
  loaders: Object.fromEntries(
    LOADER_SETTINGS.map((each) => [
      each.kind,
      inGroups(askedFields(each), (field) => field.starts ?? (field.is === "flag" ? false : "")),
    ]),
  ),
};

const writtenAt = (written: Written, name: string): unknown =>
  name.split(".").reduce<unknown>((at, part) => (at as Written | undefined)?.[part], written);

/** A loader as documents say it, out of what is written; what is optional and empty is left out. */
function loaderFrom(settings: LoaderSettings, written: Written): object {
  const value = (field: LoaderField) => {
    const text = writtenAt(written, field.name);
    if (field.is === "flag") return text === true;
    if (text === "") return undefined;
    return field.is === "number" ? numberIn(String(text), field.most) : text;
  };
  return { kind: settings.kind, ...inGroups(askedFields(settings), value) };
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
            loaders: flash
              ? LOADER_SETTINGS.filter(({ kind }) => form.kinds.includes(kind)).map((each) =>
                  loaderFrom(each, form.loaders[each.kind] ?? {}),
                )
              : [],
          },
        }),
  };
}
