"use client";

import { Check, ChevronDown } from "lucide-react";
import { Select as Radix } from "radix-ui";
import { useId, useState } from "react";
import { FIELD_LOOK } from "@/ui/base/parts";

export interface SelectOption {
  readonly value: string;
  readonly text: string;
  /** Heading that it stands under, with the others of that heading. */
  readonly group?: string;
}

interface SelectProps {
  readonly label: string;
  /** Where the label stands; hidden: it is only heard. */
  readonly says?: "above" | "beside" | "hidden";
  /** The chosen one; one that is not among the options chooses none. */
  readonly value: string;
  readonly options: readonly SelectOption[];
  /** Text of the empty choice, where there may be none. */
  readonly none?: string;
  readonly onValue: (value: string) => void;
  readonly disabled?: boolean;
  /** What was chosen is on its way to the server. */
  readonly busy?: boolean;
  readonly look?: keyof typeof LOOK;
  readonly className?: string;
}

const TRIGGER = "inline-flex max-w-full min-w-0 items-center justify-between gap-2 text-left disabled:opacity-50";
const LOOK = {
  plain: `${TRIGGER} ${FIELD_LOOK.plain}`,
  wide: `${TRIGGER} min-h-8 w-full rounded-base border border-edge bg-paper px-2.5 py-1.5`,
  bare: `${TRIGGER} min-h-6 font-semibold`,
} as const;
const PLACE = {
  above: "grid min-w-0 content-start justify-items-start gap-1",
  beside: "flex min-w-0 flex-wrap items-baseline gap-x-2",
  hidden: "contents",
} as const;

/** As many are made before the list is opened, so that a letter pressed on the closed list finds its option. */
const READY = 40;
/** The primitive keeps the empty value for “none chosen”; an empty choice of ours is a choice. */
const inside = (value: string) => `=${value}`;

/** A choice from a list. */
export function Select({
  label,
  says = "above",
  value,
  options,
  none,
  onValue,
  disabled = false,
  busy = false,
  look = "plain",
  className = "",
}: SelectProps) {
  const id = useId();
  const [open, setOpen] = useState(false);
  const all = none === undefined ? options : [{ value: "", text: none }, ...options];
  const chosen = all.find((option) => option.value === value);
  const groups = [...new Set(all.map(({ group }) => group))];
  return (
    <div className={`text-sm ${PLACE[says]}`}>
      {says !== "hidden" && <span id={`${id}-label`}>{label}</span>}
      <Radix.Root
        value={chosen ? inside(chosen.value) : ""}
        disabled={disabled}
        open={open}
        onOpenChange={setOpen}
        onValueChange={(next) => onValue(next.slice(1))}
      >
        <Radix.Trigger
          {...(says === "hidden" ? { "aria-label": label } : { "aria-labelledby": `${id}-label` })}
          aria-busy={busy}
          className={`${LOOK[look]} ${className}`}
        >
          <span className={`truncate ${chosen ? "" : "text-faded"}`}>
            <Radix.Value placeholder="Choose…">{chosen?.text ?? "Choose…"}</Radix.Value>
          </span>
          <ChevronDown className="size-4 shrink-0 text-faded" aria-hidden="true" />
        </Radix.Trigger>
        <Radix.Portal>
          <Radix.Content
            position="popper"
            sideOffset={4}
            collisionPadding={12}
            className="z-40 max-h-[min(24rem,var(--radix-select-content-available-height))] max-w-[min(36rem,92vw)] min-w-(--radix-select-trigger-width) overflow-hidden border border-ink bg-sheet text-ink"
          >
            <Radix.Viewport className="p-1">
              {(open || all.length <= READY) &&
                groups.map((group) => (
                  <Radix.Group key={group ?? ""}>
                    {group !== undefined && (
                      <Radix.Label className="px-2 py-1 text-[13px] text-faded">{group}</Radix.Label>
                    )}
                    {all
                      .filter((option) => option.group === group)
                      .map((option) => (
                        <Option key={option.value} {...option} />
                      ))}
                  </Radix.Group>
                ))}
            </Radix.Viewport>
          </Radix.Content>
        </Radix.Portal>
      </Radix.Root>
    </div>
  );
}

const Option = ({ value, text }: SelectOption) => (
  <Radix.Item
    value={inside(value)}
    className="grid cursor-pointer grid-cols-[1.25rem_1fr] items-center rounded-base py-1.5 pr-3 pl-1.5 text-sm outline-none data-highlighted:bg-water-wash"
  >
    <span className="col-start-1">
      <Radix.ItemIndicator>
        <Check className="size-4" aria-hidden="true" />
      </Radix.ItemIndicator>
    </span>
    <span className="col-start-2">
      <Radix.ItemText>{text}</Radix.ItemText>
    </span>
  </Radix.Item>
);
