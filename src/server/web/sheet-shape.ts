import { object, string } from "yup";

/** A maker's pad sheet, and the release that it is read for. */
export const sheetShape = object({
  text: string().max(100_000).default(""),
  releaseId: string().max(64).required(),
});
