import { number, object } from "yup";
import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

export const calibrate = action(
  "calibrate",
  ({ tag }) => ({
    title: "Calibrate this board",
    why: `What is measured on one board holds for that board alone: ${tag} flies on measures of its own.`,
    needs: { "settings: proved": YES, "attitude: shown": YES },
    gives: { "board: calibrated": YES },
    hands: 1,
  }),
  object({
    /** The read-out after it was calibrated, among the backups of the aircraft. */
    calibratedId: number().integer().positive(),
  }),
);
