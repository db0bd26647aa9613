import { useId, type ComponentProps } from "react";
import { FIELD_LOOK } from "@/ui/base/parts";

interface FieldProps extends ComponentProps<"input"> {
  readonly label: string;
  /** The label is only heard: what is written in it is plain from where it stands. */
  readonly heard?: boolean;
  readonly error?: string | undefined;
  readonly help?: string;
  readonly look?: keyof typeof FIELD_LOOK;
}

/** One line of a form: its label, what is written, what helps, what is wrong with it. */
export function Field({ label, heard = false, error, help, look = "wide", className = "", ...input }: FieldProps) {
  const id = useId();
  const describedBy = [help === undefined ? [] : `${id}-help`, error === undefined ? [] : `${id}-error`]
    .flat()
    .join(" ");
  return (
    <div className="min-w-0 text-sm">
      <label htmlFor={id} className={heard ? "sr-only" : "block"}>
        {label}
      </label>
      <input
        {...input}
        id={id}
        className={`${FIELD_LOOK[look]} ${heard ? "" : "mt-1"} ${className}`}
        aria-invalid={error !== undefined}
        {...(describedBy === "" ? {} : { "aria-describedby": describedBy })}
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

/** What a form that asks for a page carries along unseen. */
export const Carried = ({ values }: { readonly values: Readonly<Record<string, string>> }) =>
  Object.entries(values).map(([name, value]) => <input key={name} type="hidden" name={name} value={value} />);
