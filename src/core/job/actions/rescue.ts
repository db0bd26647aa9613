import { object, string } from "yup";
import { ofPart, partAction } from "@/core/job/action";
import { YES, factsOf } from "@/core/job/fact";

/** What a settings region turned out to be; `defaults`: blank under a firmware that runs on
 * its defaults then; `unread` where the loader gives nothing out, `not-offered` where it has no place for it. */
export const REGION_STATES = ["kept", "defaults", "blank", "damaged", "unread", "not-offered"] as const;

export const rescue = partAction(
  "rescue",
  (wish, part) => ({
    title: `Read the settings region${ofPart(wish, part)} as it is`,
    why: "A raw copy, taken through the loader before anything is erased.",
    needs: factsOf(part, { shows: "loader", known: YES, "target known": YES }),
    gives: factsOf(part, { "settings rescued": YES }),
  }),
  object({
    rescueSha: string().max(100),
    regionState: string().oneOf([...REGION_STATES]),
  }),
  {
    finds: ({ regionState }, part) => ({
      // firmware that starts on it would trip over it again
      ...(regionState === "damaged" ? factsOf(part, { "settings region": "damaged" }) : {}),
      ...(regionState === "kept" || regionState === "defaults" ? {} : factsOf(part, { "rescue holds": "nothing" })),
      // nothing that is written could be proved: what holds it back has to be lifted first
      ...(regionState === "unread" ? factsOf(part, { reads: "not" }) : {}),
    }),
  },
);
