import type { Catalogue } from "@/core/catalog";
import { candidatesOf, type Candidate } from "@/core/identify/candidate";
import type { Clue } from "@/core/identify/clue";
import { clueKind, usbId } from "@/core/identify/kinds";

/** One sign that says something else than what a board is taken for: both readings, side by side. */
export interface AgainstTaken {
  readonly sign: string;
  /** What it would be, if the board were what it is taken for. */
  readonly taken: string;
  readonly seen: string;
  /** Boards of the catalogue that show it. */
  readonly speaksFor: readonly string[];
}

/** The word by which a sign is accepted: the same as long as it says the same. */
export const signKey = ({ sign, seen }: Pick<AgainstTaken, "sign" | "seen">): string => `${sign}: ${seen}`;

/** What counts as the same reading; a board's word is its model's title or what is printed on it. */
const shownBy = (candidate: Candidate, kind: string): readonly string[] => {
  const shown = clueKind(kind)?.shows(candidate) ?? [];
  const printed = kind === "board-word" && candidate.model ? [candidate.model.printed] : [];
  return [...shown, ...printed];
};

/**
 * Signs that a board gives by itself, held against the model that it is taken for. What the model's documents do not say
 * contradicts nothing; the register is no sign of the board.
 */
export function heldAgainst(clues: readonly Clue[], modelId: string, catalogue: Catalogue): AgainstTaken[] {
  const candidates = candidatesOf(catalogue);
  const taken = candidates.find(({ id }) => id === modelId);
  if (!taken) return [];
  return clues.flatMap(({ kind, seen }): AgainstTaken[] => {
    const shown = shownBy(taken, kind);
    const title = clueKind(kind)?.title;
    if (title === undefined || kind === "register" || shown.length === 0 || shown.includes(seen)) return [];
    const others = candidates.filter((candidate) => shownBy(candidate, kind).includes(seen));
    return [
      {
        sign: title,
        taken: `${shown[0] ?? ""}, of a ${taken.title}`,
        seen,
        speaksFor: others.map((candidate) => candidate.title),
      },
    ];
  });
}

/** What a board on a console says of itself by its own word and by its cable. The register and the firmware's target stay out. */
export const ownClues = (
  boardName: string | undefined,
  usb: { readonly vendorId?: number; readonly productId?: number },
): Clue[] => [
  ...(boardName === undefined ? [] : [{ kind: "board-word", seen: boardName }]),
  ...(usb.vendorId === undefined || usb.productId === undefined
    ? []
    : [{ kind: "usb", seen: usbId({ vendorId: usb.vendorId, productId: usb.productId }) }]),
];

/** “USB identity of its console: 0x1209:0x0022, of a Harrow, is what it is taken for; the board says 0x1209:0x0023, as a Harrow 2.” */
export const againstSentence = ({ sign, taken, seen, speaksFor }: AgainstTaken): string =>
  `${sign}: taken for ${taken}; the board says ${seen}${speaksFor.length === 0 ? "" : `, as ${speaksFor.join(" or ")}`}.`;
