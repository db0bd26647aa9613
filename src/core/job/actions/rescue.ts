import { object, string } from "yup";
import { action } from "@/core/job/action";
import { YES } from "@/core/job/fact";

/** What a settings region turned out to be; `unread` where the loader gives nothing out, `not-offered` where it has no place for it. */
export const REGION_STATES = ["kept", "blank", "damaged", "unread", "not-offered"] as const;

export const rescue = action(
  "rescue",
  () => ({
    title: "Read the settings region as it is",
    why: "A raw copy, taken through the loader before anything is erased.",
    needs: { "board: shows": "loader", "board: known": YES, "board: target known": YES },
    gives: { "settings: rescued": YES },
  }),
  object({
    rescueSha: string().max(100),
    regionState: string().oneOf([...REGION_STATES]),
  }),
  ({ regionState }) => ({
    // firmware that starts on it would trip over it again
    ...(regionState === "damaged" ? { "settings region: is": "damaged" } : {}),
    ...(regionState === "kept" ? {} : { "rescue: holds": "nothing" }),
    // nothing that is written could be proved: what holds it back has to be lifted first
    ...(regionState === "unread" ? { "board: reads": "not" } : {}),
  }),
);
