import type { ComponentProps, ReactNode } from "react";
import { FIELD_LOOK } from "@/ui/base/parts";

/** Several lines of text that are pasted or written; with `label` in words above it, or an `aria-label`. */
export function TextBox({
  label,
  error,
  className = "",
  ...rest
}: { readonly label?: ReactNode; readonly error?: string | undefined } & ComponentProps<"textarea">) {
  const box = (
    <textarea
      {...rest}
      {...(error === undefined ? {} : { "aria-invalid": true })}
      className={`${FIELD_LOOK.wide} ${label === undefined ? "" : "mt-1"} ${className}`}
    />
  );
  if (label === undefined) return box;
  return (
    <label className="min-w-0 text-sm">
      {label}
      {box}
      {error !== undefined && <span className="block text-clay">{error}</span>}
    </label>
  );
}
