import { array, object, string } from "yup";
import { SUPPLIES } from "@/core/catalog";
import { trimmed } from "@/contracts/shapes";

/** What is fitted to an aircraft beside its board, of one kind. */
export const fittingShape = object({
  part: trimmed().max(60, "At most 60 characters").required("Say what kind of part"),
  title: trimmed().max(60, "At most 60 characters").required("Say what one of them is called"),
  places: array(trimmed().max(40, "At most 40 characters").required())
    .max(32, "At most 32 places")
    .test("once", "Each place once", (places) => new Set(places).size === (places ?? []).length)
    .required(),
  target: trimmed().max(64),
  /** Of each of the places, in their order. */
  supply: array(string().oneOf(SUPPLIES).required()).min(1).max(32, "At most 32 places").required(),
}).test(
  "each-fed",
  "Say of each place what feeds it, or one for all",
  // what is not there, or no list, its own field says
  ({ supply, places }: { supply?: unknown; places?: unknown }) =>
    !Array.isArray(supply) || !Array.isArray(places) || supply.length === 1 || supply.length === places.length,
);
