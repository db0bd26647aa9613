import type { ComponentProps } from "react";
import { FIELD_LOOK } from "@/ui/base/parts";

/** One line of a form: its label, what is written, what is wrong with it. */
export function Field({
  label,
  error,
  help,
  ...input
}: { readonly label: string; readonly error: string | undefined; readonly help?: string } & ComponentProps<"input">) {
  return (
    <label className="text-sm">
      {label}
      <input {...input} className={`${FIELD_LOOK.wide} mt-1`} aria-invalid={error !== undefined} />
      {help !== undefined && <span className="block text-faded">{help}</span>}
      {error !== undefined && <span className="text-clay">{error}</span>}
    </label>
  );
}
