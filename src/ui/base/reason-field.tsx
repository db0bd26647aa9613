import type { Ref } from "react";
import { FIELD_LOOK } from "@/ui/base/parts";

const MOST = 400;
const LEAST = 3;

/** Whether something was said at all. */
export const isReason = (text: string): boolean => text.trim().length >= LEAST;

interface ReasonFieldProps {
  readonly label: string;
  readonly value: string;
  readonly onReason: (reason: string) => void;
  readonly required?: boolean;
  /** As many characters as the server takes. */
  readonly most?: number;
  readonly ref?: Ref<HTMLInputElement>;
}

/** Why something is done: it stands in the record under the name of whoever says it. */
export function ReasonField({ label, value, onReason, required = false, most = MOST, ref }: ReasonFieldProps) {
  return (
    <label className="text-sm">
      {label}
      <input
        ref={ref}
        className={`${FIELD_LOOK.plain} mt-1 block w-full max-w-[36rem]`}
        required={required}
        maxLength={most}
        value={value}
        onChange={(event) => onReason(event.target.value)}
      />
    </label>
  );
}
