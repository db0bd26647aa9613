import { array, object, string } from "yup";
import { SCOPE_KINDS, type Scope } from "@/core/carryover";

/** The part of a configuration that comes along, as requests say it. */
export const scopeShape = object({
  kind: string().oneOf(SCOPE_KINDS).required(),
  starter: string().max(64),
  leave: array(string().max(200).required()).max(2000),
});

/** Only “chosen” names what stays behind. */
export const scopeFrom = ({ kind, starter, leave }: ReturnType<typeof scopeShape.validateSync>): Scope => ({
  kind,
  ...(starter === undefined ? {} : { starter }),
  ...(kind === "chosen" ? { leave: leave ?? [] } : {}),
});
