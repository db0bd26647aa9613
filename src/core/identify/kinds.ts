import type { Processor } from "@/core/catalog";
import { sectorsOf } from "@/core/catalog";
import type { Candidate } from "@/core/identify/candidate";
import type { ClueKind } from "@/core/identify/clue";

const ofModel =
  (read: (model: NonNullable<Candidate["model"]>) => string | undefined) =>
  ({ model }: Candidate): string[] => {
    const shown = model && read(model);
    return shown === undefined ? [] : [shown];
  };

export const usbId = ({ vendorId, productId }: { readonly vendorId: number; readonly productId: number }): string =>
  [vendorId, productId].map((n) => `0x${n.toString(16).padStart(4, "0")}`).join(":");

/** Bytes of flash, as a loader or a datasheet tells them. */
export const flashBytes = (processor: Processor): number =>
  sectorsOf(processor).reduce((sum, { sizeBytes }) => sum + sizeBytes, 0);

/**
 * All kinds of evidence, in the order in which it is shown. A kind is one row here; nothing else knows them. Figures of
 * error are what a workshop meets: firmware of the wrong target says the wrong name, print is misread, registers age.
 */
export const CLUE_KINDS: readonly ClueKind[] = [
  { kind: "target-word", title: "Target, by its firmware", shows: ({ names }) => names, error: 0.06 },
  { kind: "board-word", title: "Board, by its firmware", shows: ofModel(({ title }) => title), error: 0.06 },
  { kind: "usb", title: "USB identity of its console", shows: ofModel(({ usb }) => usbId(usb)), error: 0.05 },
  { kind: "processor", title: "Processor, by its loader", shows: ({ processor }) => [processor], error: 0 },
  { kind: "register", title: "Model, by the register", shows: ({ id }) => [id], error: 0.03 },
  {
    kind: "printed",
    title: "Printed name",
    shows: ofModel(({ printed }) => printed),
    error: 0.04,
    asking: {
      question: "Which name is printed on it?",
      effortS: 6,
      cantTell: 0.08,
      place: "printed",
      typed: true,
    },
  },
  {
    kind: "revision",
    title: "Printed revision",
    shows: ofModel(({ revision }) => revision),
    error: 0.05,
    asking: { question: "Which letter of revision stands on it?", effortS: 8, cantTell: 0.25, place: "revision" },
  },
  {
    kind: "maker",
    title: "Maker",
    shows: ofModel(({ maker }) => maker),
    error: 0.03,
    asking: { question: "Whose mark does it bear?", effortS: 6, cantTell: 0.15, place: "printed" },
  },
  {
    kind: "small-print",
    title: "Small print at its edge",
    shows: ofModel(({ smallPrint }) => smallPrint),
    error: 0.04,
    asking: {
      question: "What does the small print at its edge say?",
      effortS: 20,
      cantTell: 0.2,
      place: "smallPrint",
      typed: true,
    },
  },
  {
    kind: "button",
    title: "Boot button",
    shows: ofModel(({ bootButton }) => (bootButton ? "yes" : "no")),
    error: 0.03,
    asking: { question: "Is there a small button on it?", effortS: 5, cantTell: 0.03, place: "button" },
  },
  {
    kind: "chip",
    title: "Marking of its processor",
    shows: ({ processor }) => [processor],
    error: 0.02,
    asking: {
      question: "What stands on its largest chip, the processor?",
      effortS: 20,
      cantTell: 0.12,
      place: "processor",
    },
  },
  {
    kind: "gyro",
    title: "Marking of its gyro",
    shows: ({ gyros }) => gyros,
    error: 0.05,
    asking: {
      question: "What stands on its smallest square chip, the gyro?",
      effortS: 40,
      cantTell: 0.3,
      place: "gyro",
    },
  },
  {
    kind: "ports",
    title: "Ports led out",
    shows: ({ ports }) => (ports === undefined ? [] : [String(ports)]),
    error: 0.12,
    asking: { question: "How many serial ports are labelled along its edges?", effortS: 30, cantTell: 0.1 },
  },
];

export const clueKind = (kind: string): ClueKind | undefined => CLUE_KINDS.find((each) => each.kind === kind);
