import { useId, type ComponentProps } from "react";
import { FIELD_LOOK } from "@/ui/base/parts";

/** One line of a form: its label, what is written, what helps, what is wrong with it. */
export function Field({
  label,
  error,
  help,
  ...input
}: { readonly label: string; readonly error: string | undefined; readonly help?: string } & ComponentProps<"input">) {
  const id = useId();
  const told = [help === undefined ? [] : `${id}-help`, error === undefined ? [] : `${id}-error`].flat().join(" ");
  return (
    <div className="text-sm">
      <label htmlFor={id}>{label}</label>
      <input
        {...input}
        id={id}
        className={`${FIELD_LOOK.wide} mt-1`}
        aria-invalid={error !== undefined}
        {...(told === "" ? {} : { "aria-describedby": told })}
      />
      {help !== undefined && (
        <span id={`${id}-help`} className="block text-faded">
          {help}
        </span>
      )}
      {error !== undefined && (
        <span id={`${id}-error`} className="block text-clay">
          {error}
        </span>
      )}
    </div>
  );
}
