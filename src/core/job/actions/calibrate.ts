import { number, object } from "yup";
import { partAction } from "@/core/job/action";
import { YES, factsOf } from "@/core/job/fact";

export const calibrate = partAction(
  "calibrate",
  ({ tag }, part) => ({
    title: "Calibrate this board",
    why: `What is measured on one board holds for that board alone: ${tag} flies on measures of its own.`,
    needs: { ...factsOf(part, { "settings proved": YES }), "check attitude: shown": YES },
    gives: factsOf(part, { calibrated: YES }),
    hands: 1,
  }),
  object({
    /** The read-out after it was calibrated, among the backups of the aircraft. */
    calibratedId: number().integer().positive(),
  }),
);
